// SPDX-License-Identifier: MIT
#include <mnemon/run/scaled_view.hpp>

#include <cstdint>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/image/resample.hpp>

namespace mnemon {
namespace {

constexpr int kLeastWidth = 8;  // px
constexpr int kMostWidth = 8192;

}  // namespace

ScaledView::ScaledView(std::optional<int> width) : width_(width) {
  if (width && (*width < kLeastWidth || *width > kMostWidth))
    throw CallError(fmt::format("frames cannot be scaled to a width of {} px; {} to {} px can be", *width,
                                kLeastWidth, kMostWidth));
}

Frame ScaledView::shown(const Frame& frame) {
  if (!width_ || *width_ == frame.rgb.cols) return frame;
  const std::int64_t rows = std::int64_t{frame.rgb.rows} * *width_ / frame.rgb.cols;
  if (rows > kMostWidth)
    throw CallError(fmt::format(
        "frames of {} x {} px scaled to a width of {} px would have {} rows; at most {} are possible",
        frame.rgb.cols, frame.rgb.rows, *width_, rows, kMostWidth));
  small_ = resized_to_width(frame.rgb, *width_);
  across_ = static_cast<double>(small_.cols()) / frame.rgb.cols;
  down_ = static_cast<double>(small_.rows()) / frame.rgb.rows;
  return {small_.view(), frame.index, frame.time_s};
}

Region ScaledView::to_shown(const Region& region) {
  if (small_.empty()) return region;
  return std::visit([this](const auto& form) { return Region(shown_form(form)); }, region);
}

OrientedBox ScaledView::to_original(const OrientedBox& box) const noexcept {
  return small_.empty() ? box : stretched(box, 1 / across_, 1 / down_);
}

Box ScaledView::shown_form(const Box& box) const noexcept { return stretched({box, 0}, across_, down_).box; }

OrientedBox ScaledView::shown_form(const OrientedBox& box) const noexcept {
  return stretched(box, across_, down_);
}

Polygon ScaledView::shown_form(Polygon corners) const {
  for (Point& corner : corners) corner = shown_form(corner);
  return corners;
}

PointMarks ScaledView::shown_form(const PointMarks& marks) const {
  PointMarks shown{shown_form(marks.include), shown_form(marks.exclude)};
  if (marks.box) shown.box = shown_form(*marks.box);
  return shown;
}

// Each pixel is that of the mask which its middle lies in.
ImageView<const Byte> ScaledView::shown_form(ImageView<const Byte> mask) {
  mask_ = Image<Byte>(small_.rows(), small_.cols());
  for (int r = 0; r < mask_.rows(); ++r)
    for (int c = 0; c < mask_.cols(); ++c)
      mask_(r, c) =
          mask((2 * r + 1) * mask.rows / (2 * mask_.rows()), (2 * c + 1) * mask.cols / (2 * mask_.cols()));
  return std::as_const(mask_).view();
}

}  // namespace mnemon
