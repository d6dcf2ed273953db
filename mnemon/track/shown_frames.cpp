// SPDX-License-Identifier: MIT
#include <mnemon/track/shown_frames.hpp>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

constexpr int kLeastWidth = 8;    // px
constexpr int kMostWidth = 8192;  // px

// A mask at another size: each pixel is that which its middle lies in.
void resample_mask(ImageView<const Byte> mask, ImageView<Byte> out) noexcept {
  for (int r = 0; r < out.rows; ++r)
    for (int c = 0; c < out.cols; ++c)
      out(r, c) = mask(static_cast<int>((2 * r + 1LL) * mask.rows / (2 * out.rows)),
                       static_cast<int>((2 * c + 1LL) * mask.cols / (2 * out.cols)));
}

}  // namespace

ShownFrames::ShownFrames(const Showing& showing) : width_(showing.width), kept_out_(showing.keep_out) {
  if (width_ != 0 && (width_ < kLeastWidth || width_ > kMostWidth))
    throw CallError(fmt::format("frames cannot be scaled to a width of {} px; {} to {} px can be", width_,
                                kLeastWidth, kMostWidth));
}

void ShownFrames::scale_for(const Frame& frame) {
  size_ = frame.size();
  is_scaled_ = width_ != 0 && width_ != size_.width;
  const std::int64_t rows = is_scaled_ ? std::int64_t{size_.height} * width_ / size_.width : size_.height;
  if (is_scaled_ && rows > kMostWidth) {
    size_ = {};
    throw CallError(fmt::format(
        "frames of {} x {} px scaled to a width of {} px would have {} rows; at most {} are possible",
        frame.rgb.cols, frame.rgb.rows, width_, rows, kMostWidth));
  }
  picture_ = Image<Byte>();
  across_ = down_ = 1;
  if (!is_scaled_ && kept_out_.empty()) return;
  const double share = is_scaled_ ? 1.0 * width_ / size_.width : 1;
  const int shown_rows = std::max(1, static_cast<int>(std::lround(share * size_.height)));
  const int shown_cols = is_scaled_ ? width_ : size_.width;
  picture_ = Image<Byte>(shown_rows, shown_cols, 3);
  resizer_ = is_scaled_ ? Resizer(size_.height, size_.width, shown_rows, shown_cols, 3) : Resizer();
  across_ = 1.0 * shown_cols / size_.width;
  down_ = 1.0 * shown_rows / size_.height;
}

Frame ShownFrames::shown(const Frame& frame) {
  if (frame.rgb.empty() || frame.rgb.channels != 3) return frame;  // which the tracker refuses
  if (frame.size() != size_) scale_for(frame);
  if (picture_.empty()) return frame;
  if (is_scaled_)
    resizer_.resize_into(frame.rgb, picture_.view());
  else
    for (int r = 0; r < frame.rgb.rows; ++r)
      std::copy_n(frame.rgb.row(r), frame.rgb.row_length(), picture_.view().row(r));
  if (!kept_out_.empty()) kept_out_.paint(picture_.view(), across_, down_);
  return {std::as_const(picture_).view(), frame.index, frame.time_s};
}

Region ShownFrames::to_shown(const Region& region) {
  if (!kept_out_.empty()) {
    const Point middle = centre(enclosing_box(region, size_));
    if (kept_out_.covers(middle))
      throw CallError(fmt::format("the middle of the target, {:g},{:g}, lies in an area to keep out",
                                  middle.x, middle.y));
  }
  if (!is_scaled_) return region;
  return std::visit([this](const auto& form) { return Region(shown_form(form)); }, region);
}

OrientedBox ShownFrames::to_original(const OrientedBox& box) const noexcept {
  return is_scaled_ ? stretched(box, 1 / across_, 1 / down_) : box;
}

ImageView<const Byte> ShownFrames::to_original(ImageView<const Byte> mask) {
  if (!is_scaled_ || mask.empty()) return mask;
  if (answer_.rows() != size_.height || answer_.cols() != size_.width)
    answer_ = Image<Byte>(size_.height, size_.width);
  resample_mask(mask, answer_.view());
  return std::as_const(answer_).view();
}

Box ShownFrames::shown_form(const Box& box) const noexcept { return stretched({box, 0}, across_, down_).box; }

OrientedBox ShownFrames::shown_form(const OrientedBox& box) const noexcept {
  return stretched(box, across_, down_);
}

Polygon ShownFrames::shown_form(Polygon corners) const {
  for (Point& corner : corners) corner = shown_form(corner);
  return corners;
}

PointMarks ShownFrames::shown_form(const PointMarks& marks) const {
  PointMarks shown{shown_form(marks.include), shown_form(marks.exclude)};
  if (marks.box) shown.box = shown_form(*marks.box);
  return shown;
}

ImageView<const Byte> ShownFrames::shown_form(ImageView<const Byte> mask) {
  mask_ = Image<Byte>(picture_.rows(), picture_.cols());
  resample_mask(mask, mask_.view());
  return std::as_const(mask_).view();
}

}  // namespace mnemon
