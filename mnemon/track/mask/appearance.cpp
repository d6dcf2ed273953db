// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/appearance.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/image/arithmetic.hpp>
#include <mnemon/image/bilinear.hpp>
#include <mnemon/track/mask/cell_map.hpp>

namespace mnemon {
namespace {

constexpr float kLeastVisible = 0.5f;

}  // namespace

Appearance::Appearance(double w, double h) {
  const double longer = std::max(w, h);
  cell_px_ = std::max(1.0, longer / kAcross);
  const int cols = std::max(6, static_cast<int>(std::ceil(kMargin * w / cell_px_)));
  const int rows = std::max(6, static_cast<int>(std::ceil(kMargin * h / cell_px_)));
  shape_ = CellPlane(rows, cols);
  for (CellPlane& channel : channels_) channel = CellPlane(rows, cols);
}

double Appearance::area() const noexcept { return sum_of(shape_.all()); }

void Appearance::learn(const TargetPatch& patch, ImageView<const Byte> mask, const TargetPose& pose,
                       double appearance_rate, double shape_rate, const CellPlane* visible) noexcept {
  const CellMap map = map_of(patch, *this, pose);
  const auto of_shape = static_cast<float>(shape_rate);
  const auto of_channels = static_cast<float>(appearance_rate);
  for (int r = 0; r < rows(); ++r)
    for (int c = 0; c < cols(); ++c) {
      if (visible != nullptr && (*visible)(r, c) < kLeastVisible) continue;
      const double x = map.x(r, c) + 0.5;
      const double y = map.y(r, c) + 0.5;
      const int row = static_cast<int>(y);
      const int col = static_cast<int>(x);
      const bool seen = x > 0 && y > 0 && row < patch.rows() && col < patch.cols();
      if (seen && appearance_rate < 1 && !patch.is_inside(row, col)) continue;
      const float is_target = seen ? static_cast<float>(mask(row, col)) : 0.0f;
      shape_(r, c) += of_shape * (is_target - shape_(r, c));
      if (!seen) continue;
      const Spot spot = spot_of(x, y, patch.rows(), patch.cols());
      const int first = is_target == 0 && appearance_rate < 1 ? kLikelihood : 0;
      for (int k = first; k < kPatchChannels; ++k) {
        const ImageView<const float> plane = patch.plane(k);
        const float now = blend(plane.row(spot.top), plane.row(spot.bottom), spot, 1, 0);
        channels_[k](r, c) += of_channels * (now - channels_[k](r, c));
      }
    }
}

void Appearance::copy_from(const Appearance& other) noexcept {
  shape_.copy_from(other.shape_);
  for (int k = 0; k < kPatchChannels; ++k) channels_[k].copy_from(other.channels_[k]);
}

}  // namespace mnemon
