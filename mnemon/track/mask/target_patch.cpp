// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/target_patch.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr int kMostBlock = 64;  // px along a cell

MNEMON_CLONES void opponents(const Byte* __restrict rgb, std::ptrdiff_t count, float* __restrict light,
                             float* __restrict red, float* __restrict yellow) noexcept {
  for (std::ptrdiff_t i = 0; i < count; ++i) {
    const Opponents here = opponents_of(rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]);
    light[i] = here.light;
    red[i] = here.red;
    yellow[i] = here.yellow;
  }
}

MNEMON_CLONES void side_by_side(const float* __restrict light, const float* __restrict red,
                                const float* __restrict yellow, const float* __restrict likelihood,
                                std::ptrdiff_t count, float* __restrict mixed) noexcept {
  for (std::ptrdiff_t i = 0; i < count; ++i) {
    mixed[4 * i] = light[i];
    mixed[4 * i + 1] = red[i];
    mixed[4 * i + 2] = yellow[i];
    mixed[4 * i + 3] = likelihood[i];
  }
}

}  // namespace

TargetPatch::TargetPatch()
    : pixels_(kMostSide, kMostSide, kMostBlock), mixed_(kMostSide, kMostSide, kPatchChannels) {
  for (Image<float>& plane : planes_) plane = Image<float>(kMostSide, kMostSide);
}

void TargetPatch::look(const Frame& frame, Point middle, double w, double h, int block,
                       const ColourModel& colours, const LightChange& light) noexcept {
  frame_ = frame.size();
  block = std::clamp(block, 1, kMostBlock);
  const int cols = std::clamp(static_cast<int>(std::ceil(w / block)), 8, kMostSide);
  const int rows = std::clamp(static_cast<int>(std::ceil(h / block)), 8, kMostSide);
  const int left = static_cast<int>(std::floor(middle.x - 0.5 * cols * block));
  const int top = static_cast<int>(std::floor(middle.y - 0.5 * rows * block));
  pixels_.sample(frame.rgb, left, top, rows, cols, block);
  if (!light.is_none()) pixels_.take_back(light);
  widen();
  weigh(colours);
}

void TargetPatch::weigh(const ColourModel& colours) noexcept {
  const ImageView<const Byte> all = pixels_.cells();
  weigh_colours(all.data, all.rows * all.cols, colours.table(), kLikelihoodUnit,
                planes_[kLikelihood].view().data);
  mixed_part_ = {};
}

void TargetPatch::mix() noexcept {
  if (mixed_part_.holds(shown_)) return;
  // Whole rows of the window, as one long run is quicker than many short ones.
  const std::ptrdiff_t stride = pixels_.cells().cols;
  const std::ptrdiff_t at = shown_.first_row * stride;
  const std::ptrdiff_t count = shown_.rows * stride;
  const auto channel = [&](int k) { return planes_[k].view().data + at; };
  opponents(pixels_.cells().data + 3 * at, count, channel(0), channel(1), channel(2));
  side_by_side(channel(0), channel(1), channel(2), channel(kLikelihood), count,
               mixed_.view().data + kPatchChannels * at);
  mixed_part_ = {shown_.first_row, 0, shown_.rows, pixels_.cells().cols};
}

void TargetPatch::widen() noexcept { shown_ = {0, 0, pixels_.cells().rows, pixels_.cells().cols}; }

TargetPatch::Extent TargetPatch::in_picture() const noexcept {
  const auto last = [this](int size, int start, int cells) {
    return std::min(cells - 1.0, std::ceil(1.0 * (size - start) / block()) - 1);
  };
  return {std::max(0.0, std::floor(-1.0 * left() / block())),
          std::max(0.0, std::floor(-1.0 * top() / block())), last(frame_.width, left(), cols()),
          last(frame_.height, top(), rows())};
}

void TargetPatch::narrow(const Box& box) noexcept {
  widen();
  const auto part = [](double from_px, double length_px, int start_px, int block_px, int cells, int& first,
                       int& count) {
    constexpr int kLeast = 8;  // cells, so that there are slopes to fit to
    const double from = (from_px - start_px) / block_px;
    first = std::clamp(static_cast<int>(std::floor(from)), 0, std::max(0, cells - kLeast));
    const int end = static_cast<int>(std::ceil(std::clamp(from + length_px / block_px, 0.0, 1.0 * cells)));
    count = std::min(cells - first, std::max(kLeast, end - first));
  };
  Part to;
  part(box.y, box.h, top(), block(), rows(), to.first_row, to.rows);
  part(box.x, box.w, left(), block(), cols(), to.first_col, to.cols);
  shown_ = to;
}

}  // namespace mnemon
