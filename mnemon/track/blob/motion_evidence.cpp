// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/motion_evidence.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

namespace mnemon {
namespace {

constexpr int kCoarse = 160;   // cells along the coarse picture that a lost target is looked for in
constexpr double kKept = 1.3;  // of the target's box: where the background does not learn

// The mean over a block of pixels, those beyond the picture's edge 0.
float mean_of(ImageView<const Preparation::Value> values, int left, int top, int block) noexcept {
  unsigned sum = 0;
  for (int y = std::max(0, top); y < std::min(values.rows, top + block); ++y)
    for (int x = std::max(0, left); x < std::min(values.cols, left + block); ++x) sum += values(y, x);
  return static_cast<float>(sum) / static_cast<float>(block * block * Preparation::kFull);
}

}  // namespace

void MotionEvidence::start(const Frame& frame, const Box& box, const PreparationRules& rules) {
  if (has_watched_ && preparation_.size() == frame.size())
    preparation_.start_from_watched(frame.rgb, box);
  else
    preparation_.start(frame.rgb, box, rules);
  has_watched_ = false;
  target_ = box;
  is_seed_ = true;
  weights_ = Image<float>(kMostEvidenceSide, kMostEvidenceSide);
  coarse_ = Image<float>(kCoarse, kCoarse);
  sums_ = BoxSums(kCoarse, kCoarse);
}

void MotionEvidence::watch(const Frame& frame, const PreparationRules& rules) {
  if (has_watched_ && preparation_.size() == frame.size())
    preparation_.prepare(frame.rgb, {});
  else
    preparation_.start(frame.rgb, {}, rules);
  has_watched_ = true;
}

void MotionEvidence::take(const Frame& frame) {
  if (!is_seed_) preparation_.prepare(frame.rgb, scaled(target_, kKept));
  is_seed_ = false;
}

BlobEvidence MotionEvidence::look(const Box& window, int block) {
  const int cols = std::clamp(static_cast<int>(std::ceil(window.w / block)), 4, kMostEvidenceSide);
  const int rows = std::clamp(static_cast<int>(std::ceil(window.h / block)), 4, kMostEvidenceSide);
  const Point middle = centre(window);
  const int left = static_cast<int>(std::floor(middle.x - 0.5 * cols * block));
  const int top = static_cast<int>(std::floor(middle.y - 0.5 * rows * block));
  const ImageView<float> weights{weights_.view().data, rows, cols, 1, cols};
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      weights(r, c) = mean_of(preparation_.result(), left + c * block, top + r * block, block);
  return {weights, 0.5f, left, top, block};
}

void MotionEvidence::learn(const BitMask& /*target*/, const Box& box) { target_ = box; }

std::optional<Point> MotionEvidence::search(const Box& box, bool /*first*/) {
  const ImageView<const Preparation::Value> picture = preparation_.result();
  const int block = static_cast<int>(std::ceil(1.0 * std::max(picture.cols, picture.rows) / kCoarse));
  const int cols = picture.cols / block;
  const int rows = picture.rows / block;
  const int w = std::clamp(static_cast<int>(std::lround(box.w / block)), 1, cols);
  const int h = std::clamp(static_cast<int>(std::lround(box.h / block)), 1, rows);
  const ImageView<float> coarse{coarse_.view().data, rows, cols, 1, cols};
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) coarse(r, c) = mean_of(picture, c * block, r * block, block);
  sums_.add_up(coarse);
  const BoxSums::Place best =
      sums_.best_place(w, h, sums_.all_places(w, h), {}, [](int, int, double contrast) { return contrast; });
  if (best.goodness <= 0) return std::nullopt;
  return Point{(best.left + 0.5 * w) * block, (best.top + 0.5 * h) * block};
}

}  // namespace mnemon
