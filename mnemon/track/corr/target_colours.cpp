// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/target_colours.hpp>

#include <mnemon/base/clones.hpp>
#include <mnemon/vision/gradient_histogram.hpp>

namespace mnemon {
namespace {

constexpr int kCell = GradientHistogram::kCell;
constexpr double kAroundFrom = 1.2;  // surroundings begin here, in sizes of the target

// The mean likelihood of the samples of each cell of a row; `stride` is that of the rows of samples.
MNEMON_TABLE_CLONES void cell_likelihoods(const ColourIndex* __restrict colours, std::ptrdiff_t stride,
                                          const float* __restrict table, int cells,
                                          float* __restrict out) noexcept {
  for (int c = 0; c < cells; ++c) {
    float sum = 0;
    for (int r = 0; r < kCell; ++r)
      for (int k = 0; k < kCell; ++k) sum += table[colours[r * stride + c * kCell + k]];
    out[c] = sum * (1.0f / (kCell * kCell));
  }
}

}  // namespace

void learn_colours(ImageView<const ColourIndex> colours, Point share, double rate,
                   ColourModel& model) noexcept {
  for (int r = 0; r < colours.rows; r += 2)
    for (int c = r / 2 % 2; c < colours.cols; c += 2) {
      const PlaceInTarget place = place_in_target(r, c, colours.rows, colours.cols, share);
      const double squared = place.squared();
      if (squared < 1)
        model.count_target(colours(r, c), static_cast<float>(1 - squared));
      else if (place.outermost() > kAroundFrom)
        model.count_surroundings(colours(r, c));
    }
  model.learn(rate);
}

void cell_likelihood_into(ImageView<const ColourIndex> colours, const ColourModel& model,
                          ImageView<float> cells) noexcept {
  for (int r = 0; r < cells.rows; ++r)
    cell_likelihoods(colours.row(kCell * r), colours.stride, model.table(), cells.cols, cells.row(r));
}

}  // namespace mnemon
