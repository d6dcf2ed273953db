// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/appearance.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>
#include <mnemon/image/bilinear.hpp>
#include <mnemon/track/mask/cell_map.hpp>
#include <mnemon/track/mask/cell_samples.hpp>

namespace mnemon {
namespace {

constexpr float kSeenFrom = 0.5f;  // visible share of a cell that learns

// A number for each cell of a row, with its padding.
using RowOfCells = std::array<float, padded(static_cast<int>(Appearance::kMargin* Appearance::kAcross) + 1)>;

MNEMON_CLONES void learn_row(const float* __restrict seen, const float* __restrict rates, int count,
                             float* __restrict known) noexcept {
  for (int i = 0; i < count; ++i) known[i] += rates[i] * (seen[i] - known[i]);
}

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

void Appearance::learn(const CellSamples& seen, const TargetPatch& patch, ImageView<const Byte> mask,
                       const TargetPose& pose, double appearance_rate, double shape_rate,
                       const CellPlane* visible) noexcept {
  const CellMap map = map_of(patch, *this, pose);
  const bool anew = appearance_rate >= 1;
  const auto of_channels = static_cast<float>(appearance_rate);
  for (int r = 0; r < rows(); ++r) {
    RowOfCells target{};
    RowOfCells of_shape{};
    RowOfCells of_look{};
    RowOfCells of_likelihood{};
    for (int c = 0; c < cols(); ++c) {
      if (visible != nullptr && (*visible)(r, c) < kSeenFrom) continue;
      const double x = map.x(r, c) + 0.5;
      const double y = map.y(r, c) + 0.5;
      const int row = static_cast<int>(y);
      const int col = static_cast<int>(x);
      const bool in_patch = x > 0 && y > 0 && row < patch.rows() && col < patch.cols();
      if (in_patch && !anew && !patch.is_inside(row, col)) continue;
      of_shape[c] = static_cast<float>(shape_rate);
      if (!in_patch) continue;
      target[c] = static_cast<float>(mask(row, col));
      if (seen.taken()(r, c) != 0) {
        of_likelihood[c] = of_channels;
        of_look[c] = target[c] != 0 || anew ? of_channels : 0;
      } else {
        learn_edge(patch, x, y, r, c, target[c] != 0 || anew ? 0 : kLikelihood, of_channels);
      }
    }
    const int count = padded(cols());
    learn_row(target.data(), of_shape.data(), count, shape_.view().row(r));
    for (int k = 0; k < kPatchChannels; ++k)
      learn_row(seen.channel(k).view().row(r), k == kLikelihood ? of_likelihood.data() : of_look.data(),
                count, channels_[k].view().row(r));
  }
}

// A cell between the edge of the picture and the middles of the last cells that show it: that edge's values.
void Appearance::learn_edge(const TargetPatch& patch, double x, double y, int r, int c, int first_channel,
                            float rate) noexcept {
  const Spot spot = spot_of(x, y, patch.rows(), patch.cols());
  for (int k = first_channel; k < kPatchChannels; ++k) {
    const ImageView<const float> plane = patch.plane(k);
    const float now = blend(plane.row(spot.top), plane.row(spot.bottom), spot, 1, 0);
    channels_[k](r, c) += rate * (now - channels_[k](r, c));
  }
}

void Appearance::copy_from(const Appearance& other) noexcept {
  shape_.copy_from(other.shape_);
  for (int k = 0; k < kPatchChannels; ++k) channels_[k].copy_from(other.channels_[k]);
}

}  // namespace mnemon
