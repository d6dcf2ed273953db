// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/visible_cells.hpp>

#include <algorithm>

#include <mnemon/track/mask/agreement.hpp>
#include <mnemon/track/mask/patch_cells.hpp>

namespace mnemon {
namespace {

constexpr int kBeside = 1;            // cells each way that tell with one whether it is hidden
constexpr float kHidden = 0.3f;       // of such a likeness, at which one is
constexpr float kSeen = 0.6f;         // and at which it is not
constexpr double kClearShare = 0.25;  // of cells, that are as alike as any that can be seen
constexpr double kLeastClear = 0.05;  // likeness
constexpr float kSurelyShape = 0.5f;  // of a cell that is more likely the target's than not
constexpr float kHalfHidden = 0.5f;

// The likeness that so many of the cells counted at least have.
class LikenessCounts {
 public:
  void add(float alike) noexcept {
    ++counts_[std::min(kBins - 1, static_cast<int>(kBins * alike))];
    ++all_;
  }
  [[nodiscard]] double of_best(double share) const noexcept {
    int bin = kBins - 1;
    for (int above = counts_[bin]; bin > 0 && above < share * all_; above += counts_[bin]) --bin;
    return (bin + 0.5) / kBins;
  }

 private:
  static constexpr int kBins = 32;
  std::array<int, kBins> counts_{};
  int all_ = 0;
};

}  // namespace

VisibleCells::VisibleCells(int rows, int cols) : visible_(rows, cols), alike_(rows, cols) {
  std::ranges::fill(visible_.elements(), 1.0f);
}

void VisibleCells::tell(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                        double usual) noexcept {
  const PatchPlanes planes = planes_of(patch);
  const CellMap map = map_of(patch, appearance, pose);
  const auto light = static_cast<float>(lighter_by(patch, appearance, pose));
  PatchValues taken;
  for (int r = 0; r < alike_.rows(); ++r)
    for (int c = 0; c < alike_.cols(); ++c) {
      alike_(r, c) = -1;
      if (appearance.shape()(r, c) < kLeastShape || !take(planes, map.x(r, c), map.y(r, c), taken)) continue;
      const float d0 = taken.value[0] - appearance.channel(0)(r, c) - light;
      const float d1 = taken.value[1] - appearance.channel(1)(r, c);
      const float d2 = taken.value[2] - appearance.channel(2)(r, c);
      alike_(r, c) = 1 / (1 + (d0 * d0 + d1 * d1 + d2 * d2) * static_cast<float>(1 / kTolerated));
    }
  LikenessCounts counts;
  for (int r = 0; r < alike_.rows(); ++r)
    for (int c = 0; c < alike_.cols(); ++c)
      if (alike_(r, c) >= 0) {
        visible_(r, c) = alike_about(r, c);
        counts.add(visible_(r, c));
      }
  // Where all is unlike, by noise or blur, none of it is hidden.
  const double clear = std::clamp(counts.of_best(kClearShare), kLeastClear, std::max(kLeastClear, usual));
  const auto scale = static_cast<float>(1 / clear);
  for (int r = 0; r < alike_.rows(); ++r)
    for (int c = 0; c < alike_.cols(); ++c)
      visible_(r, c) = alike_(r, c) < 0
                           ? 1.0f
                           : std::clamp((scale * visible_(r, c) - kHidden) / (kSeen - kHidden), 0.0f, 1.0f);
}

// The mean over a cell of the target and those beside it.
float VisibleCells::alike_about(int row, int col) const noexcept {
  float sum = 0;
  float count = 0;
  for (int r = std::max(0, row - kBeside); r <= std::min(alike_.rows() - 1, row + kBeside); ++r)
    for (int c = std::max(0, col - kBeside); c <= std::min(alike_.cols() - 1, col + kBeside); ++c)
      if (alike_(r, c) >= 0) {
        sum += alike_(r, c);
        ++count;
      }
  return sum / count;
}

double VisibleCells::share(const Appearance& appearance) const noexcept {
  const ImageView<const float> shape = appearance.shape();
  double seen = 0;
  double all = 0;
  for (int r = 0; r < shape.rows; ++r)
    for (int c = 0; c < shape.cols; ++c) {
      if (shape(r, c) < kSurelyShape) continue;
      seen += shape(r, c) * visible_(r, c);
      all += shape(r, c);
    }
  return all > 0 ? seen / all : 1;
}

Box VisibleCells::with_hidden(const Box& found, const Appearance& appearance,
                              const TargetPose& pose) const noexcept {
  const ImageView<const float> shape = appearance.shape();
  Point from{found.x, found.y};
  Point to{found.x + found.w, found.y + found.h};
  for (int r = 0; r < shape.rows; ++r)
    for (int c = 0; c < shape.cols; ++c) {
      if (shape(r, c) < kSurelyShape || visible_(r, c) > kHalfHidden) continue;
      const Point place = pose.place_of(appearance.place_of(r, c));
      from = {std::min(from.x, place.x), std::min(from.y, place.y)};
      to = {std::max(to.x, place.x), std::max(to.y, place.y)};
    }
  return {from.x, from.y, to.x - from.x, to.y - from.y};
}

}  // namespace mnemon
