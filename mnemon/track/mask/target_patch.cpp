// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/target_patch.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr int kMostBlock = 64;
// One over what usually tells things apart, of 255 levels.
constexpr float kLight = 1 / 30.0f;
constexpr float kOpponent = 1 / 22.0f;

MNEMON_CLONES void opponents(const Byte* __restrict rgb, int count, float* __restrict light,
                             float* __restrict red, float* __restrict yellow) noexcept {
  for (int i = 0; i < count; ++i) {
    const auto r = static_cast<float>(rgb[3 * i]);
    const auto g = static_cast<float>(rgb[3 * i + 1]);
    const auto b = static_cast<float>(rgb[3 * i + 2]);
    light[i] = kLight * (0.299f * r + 0.587f * g + 0.114f * b);
    red[i] = kOpponent * (r - g);
    yellow[i] = kOpponent * (0.5f * (r + g) - b);
  }
}

MNEMON_CLONES void mix_row(const float* __restrict light, const float* __restrict red,
                           const float* __restrict yellow, const float* __restrict likelihood, int count,
                           float* __restrict mixed) noexcept {
  for (int i = 0; i < count; ++i) {
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
  const ImageView<const Byte> cells = pixels_.sample(frame.rgb, left, top, rows, cols, block);
  if (!light.is_none()) pixels_.take_back(light);
  opponents(cells.data, rows * cols, planes_[0].view().data, planes_[1].view().data, planes_[2].view().data);
  widen();
  weigh(colours);
}

void TargetPatch::weigh(const ColourModel& colours) noexcept {
  const ImageView<const Byte> all = pixels_.cells();
  weigh_colours(all.data, all.rows * all.cols, colours.table(), kLikelihoodUnit,
                planes_[kLikelihood].view().data);
}

void TargetPatch::mix() noexcept {
  const std::ptrdiff_t stride = std::ptrdiff_t{kPatchChannels} * pixels_.cells().cols;
  float* const to = mixed_.view().data + first_row_ * stride + std::ptrdiff_t{kPatchChannels} * first_col_;
  for (int r = 0; r < rows_; ++r)
    mix_row(plane(0).row(r), plane(1).row(r), plane(2).row(r), plane(3).row(r), cols_, to + r * stride);
}

void TargetPatch::widen() noexcept {
  first_row_ = first_col_ = 0;
  rows_ = pixels_.cells().rows;
  cols_ = pixels_.cells().cols;
}

TargetPatch::Extent TargetPatch::in_picture() const noexcept {
  const auto last = [this](int size, int start, int cells) {
    return std::min(cells - 1.0, std::ceil(1.0 * (size - start) / block()) - 1);
  };
  return {std::max(0.0, std::floor(-1.0 * left() / block())),
          std::max(0.0, std::floor(-1.0 * top() / block())), last(frame_.width, left(), cols_),
          last(frame_.height, top(), rows_)};
}

void TargetPatch::narrow(const Box& box) noexcept {
  widen();
  const auto part = [](double from_px, double length_px, int start_px, int block_px, int cells, int& first,
                       int& count) {
    constexpr int kLeast = 8;
    const double from = (from_px - start_px) / block_px;
    first = std::clamp(static_cast<int>(std::floor(from)), 0, std::max(0, cells - kLeast));
    const int end = static_cast<int>(std::ceil(std::clamp(from + length_px / block_px, 0.0, 1.0 * cells)));
    count = std::min(cells - first, std::max(kLeast, end - first));
  };
  int first_row = 0;
  int first_col = 0;
  int rows = 0;
  int cols = 0;
  part(box.y, box.h, top(), block(), rows_, first_row, rows);
  part(box.x, box.w, left(), block(), cols_, first_col, cols);
  first_row_ = first_row;
  first_col_ = first_col;
  rows_ = rows;
  cols_ = cols;
}

}  // namespace mnemon
