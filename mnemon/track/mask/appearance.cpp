// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/appearance.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/image/arithmetic.hpp>
#include <mnemon/image/bilinear.hpp>

namespace mnemon {
namespace {

constexpr float kLeastVisible = 0.5f;

}  // namespace

Appearance::Appearance(double w, double h) {
  const double longer = std::max(w, h);
  cell_px_ = std::max(1.0, longer / kAcross);
  const int cols = std::max(6, static_cast<int>(std::ceil(kMargin * w / cell_px_)));
  const int rows = std::max(6, static_cast<int>(std::ceil(kMargin * h / cell_px_)));
  shape_ = Image<float>(rows, cols);
  for (Image<float>& channel : channels_) channel = Image<float>(rows, cols);
}

double Appearance::area() const noexcept { return sum_of(shape_.elements()); }

void Appearance::learn(const TargetPatch& patch, ImageView<const Byte> mask, const TargetPose& pose,
                       double appearance_rate, double shape_rate, ImageView<const float> visible) noexcept {
  for (int r = 0; r < rows(); ++r)
    for (int c = 0; c < cols(); ++c) {
      if (!visible.empty() && visible(r, c) < kLeastVisible) continue;
      const Point at = patch.cell_at(pose.place_of(place_of(r, c)));
      const int row = static_cast<int>(at.y + 0.5);
      const int col = static_cast<int>(at.x + 0.5);
      const bool seen = at.y > -0.5 && at.x > -0.5 && row < patch.rows() && col < patch.cols();
      if (seen && appearance_rate < 1 && !patch.is_inside(row, col)) continue;
      const float is_target = seen ? static_cast<float>(mask(row, col)) : 0.0f;
      shape_(r, c) += static_cast<float>(shape_rate) * (is_target - shape_(r, c));
      if (!seen) continue;
      for (int k = 0; k < kPatchChannels; ++k) {
        if (k != kLikelihood && is_target == 0 && appearance_rate < 1) continue;
        const float now = sampled(patch.plane(k), at.x + 0.5, at.y + 0.5);
        channels_[k](r, c) += static_cast<float>(appearance_rate) * (now - channels_[k](r, c));
      }
    }
}

void Appearance::copy_from(const Appearance& other) noexcept {
  std::ranges::copy(other.shape_.elements(), shape_.elements().begin());
  for (int k = 0; k < kPatchChannels; ++k)
    std::ranges::copy(other.channels_[k].elements(), channels_[k].elements().begin());
}

}  // namespace mnemon
