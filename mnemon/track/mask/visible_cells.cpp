// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/visible_cells.hpp>

#include <algorithm>
#include <array>
#include <cstddef>

#include <mnemon/base/clones.hpp>
#include <mnemon/track/mask/agreement.hpp>

namespace mnemon {
namespace {

constexpr float kHidden = 0.3f;       // of the likeness of a clear cell, at which one is hidden
constexpr float kSeen = 0.6f;         // and at which it is not
constexpr double kClearShare = 0.25;  // of cells, that are as alike as any that can be seen
constexpr double kLeastClear = 0.05;  // likeness
constexpr float kSurelyShape = 0.5f;  // of a cell that is more likely the target's than not
constexpr float kHalfHidden = 0.5f;   // visible share below which a cell counts as hidden

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

struct Values {
  std::array<const float*, kLikelihood> seen, known;
};

MNEMON_CLONES void compare_cells(const Values& values, const float* __restrict shape,
                                 const float* __restrict taken, float light, std::size_t count,
                                 float* __restrict compared, float* __restrict alike) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float d0 = values.seen[0][i] - values.known[0][i] - light;
    const float d1 = values.seen[1][i] - values.known[1][i];
    const float d2 = values.seen[2][i] - values.known[2][i];
    compared[i] = shape[i] < kLeastShape ? 0.0f : taken[i];
    alike[i] = compared[i] / (1 + (d0 * d0 + d1 * d1 + d2 * d2) * (1 / kTolerated));
  }
}

MNEMON_CLONES void add_three(const float* before, const float* here, const float* after, std::size_t count,
                             float* __restrict sums) noexcept {
  for (std::size_t i = 0; i < count; ++i) sums[i] = before[i] + here[i] + after[i];
}

MNEMON_CLONES void add_two(const float* one, const float* other, std::size_t count,
                           float* __restrict sums) noexcept {
  for (std::size_t i = 0; i < count; ++i) sums[i] = one[i] + other[i];
}

// Of each cell and the eight about it. What pads the rows of `in` is 0, and so parts the end of one from the next.
void sum_about(const CellPlane& in, CellPlane& work, CellPlane& out) noexcept {
  const std::size_t size = in.all().size();
  const std::size_t row = size / in.rows();
  const float* const from = in.all().data();
  float* const lines = work.all().data();
  lines[0] = from[0] + from[1];
  add_three(from, from + 1, from + 2, size - 2, lines + 1);
  lines[size - 1] = 0;
  float* const to = out.all().data();
  add_two(lines, lines + row, row, to);
  add_three(lines, lines + row, lines + 2 * row, size - 2 * row, to + row);
  add_two(lines + size - 2 * row, lines + size - row, row, to + size - row);
}

MNEMON_CLONES void rescale(const float* __restrict compared, float scale, float from, float to,
                           std::size_t count, float* __restrict values) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float share = std::clamp((scale * values[i] - from) / (to - from), 0.0f, 1.0f);
    values[i] = compared[i] > 0 ? share : 1.0f;
  }
}

}  // namespace

VisibleCells::VisibleCells(int rows, int cols)
    : visible_(rows, cols),
      compared_(rows, cols),
      alike_(rows, cols),
      count_about_(rows, cols),
      sum_about_(rows, cols),
      work_(rows, cols) {
  std::ranges::fill(visible_.all(), 1.0f);
}

void VisibleCells::tell(const CellSamples& seen, const Appearance& appearance, double usual) noexcept {
  Values values;
  for (int k = 0; k < kLikelihood; ++k) {
    values.seen[k] = seen.channel(k).all().data();
    values.known[k] = appearance.channel(k).data;
  }
  const std::size_t size = visible_.all().size();
  compare_cells(values, appearance.shape().data, seen.taken().all().data(),
                static_cast<float>(lighter_by(seen, appearance)), size, compared_.all().data(),
                alike_.all().data());
  sum_about(compared_, work_, count_about_);
  sum_about(alike_, work_, sum_about_);
  LikenessCounts counts;
  for (std::size_t i = 0; i < size; ++i) {
    if (compared_.all()[i] == 0) continue;
    visible_.all()[i] = sum_about_.all()[i] / count_about_.all()[i];
    counts.add(visible_.all()[i]);
  }
  // Where all is unlike, by noise or blur, none of it is hidden.
  const double clear = std::clamp(counts.of_best(kClearShare), kLeastClear, std::max(kLeastClear, usual));
  rescale(compared_.all().data(), static_cast<float>(1 / clear), kHidden, kSeen, size, visible_.all().data());
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
