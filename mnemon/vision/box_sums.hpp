// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <array>
#include <cmath>
#include <span>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// Sums over boxes of a picture, each in the same few steps: a running sum of all above and left of a place.
/// Allocates nothing once made. Source: Crow 1984, summed-area tables.
class BoxSums {
 public:
  BoxSums() = default;
  /// \param most_rows, most_cols  Of any picture.
  BoxSums(int most_rows, int most_cols) : sums_(most_rows + 1, most_cols + 1) {}

  /// Takes a picture of one channel.
  void add_up(ImageView<const float> values) noexcept;

  /// The mean over columns [left, right) and rows [top, bottom), which are within the picture and not empty.
  [[nodiscard]] double mean_in(int left, int top, int right, int bottom) const noexcept {
    const double sum = static_cast<double>(sums_(bottom, right)) - sums_(top, right) - sums_(bottom, left) +
                       sums_(top, left);
    return sum / ((right - left) * (bottom - top));
  }

  /// That mean less the one over a frame around the box, half as wide as the box on each side, where it is in the
  /// picture.
  [[nodiscard]] double contrast(int left, int top, int cols, int rows) const noexcept;

  /// A box by its first column and row.
  struct Place {
    int left = 0, top = 0;  ///< Cells.
    double goodness = 0;    ///< As it was asked for; higher is better.
  };

  /// First columns and rows of boxes: up to and without the ends.
  struct Places {
    int left = 0, top = 0, end_left = 0, end_top = 0;  ///< Cells.
  };
  /// All places of a box of that size.
  [[nodiscard]] Places all_places(int cols, int rows) const noexcept {
    return {0, 0, cols_ - cols + 1, rows_ - rows + 1};
  }

  /// The best place of a box of that size: of those `among` the one of the largest goodness(left, top, contrast), if that
  /// is above what is known; else what is known. The more is known, the fewer places have to be looked at closely. The
  /// picture's values are 0 or more. Goodness is at most the contrast, and no lower where the contrast is higher.
  template <class Goodness>
  [[nodiscard]] Place best_place(int cols, int rows, const Places& among, const Place& known,
                                 Goodness goodness) const {
    Place best = known;
    // What is better than the best of a few places all over them is little. That place itself is found again below.
    double sure = known.goodness;
    for (int top = among.top; top < among.end_top; top += std::max(kSpread, rows / 2))
      for (int left = among.left; left < among.end_left; left += std::max(kSpread, cols / 2))
        sure = std::max(sure, goodness(left, top, contrast(left, top, cols, rows)));
    if (sure > known.goodness) best.goodness = std::nextafter(sure, known.goodness);
    std::array<float, kAtOnce> most;
    for (int top = among.top; top < among.end_top; ++top)
      for (int first = among.left; first < among.end_left; first += kAtOnce) {
        const int count = std::min(kAtOnce, among.end_left - first);
        bound_contrasts(first, top, cols, rows, std::span(most).first(count));
        for (int i = 0; i < count; ++i) {
          const int left = first + i;
          if (most[i] <= best.goodness || goodness(left, top, most[i]) <= best.goodness) continue;
          const double here = contrast(left, top, cols, rows);
          const double good = here > best.goodness ? goodness(left, top, here) : here;
          if (good > best.goodness) best = {left, top, good};
        }
      }
    return best;
  }

 private:
  static constexpr int kAtOnce = 64;  // places side by side
  static constexpr int kSpread = 4;   // least cells from one of the first few places to the next

  // What no contrast at places side by side is above, of which the first one is given. It is found many times as quickly as
  // they are, and hardly above them.
  void bound_contrasts(int first, int top, int cols, int rows, std::span<float> most) const noexcept;

  template <int kRows>
  void add_rows(ImageView<const float> values, int first) noexcept;

  Image<float> sums_;
  int rows_ = 0;
  int cols_ = 0;
};

}  // namespace mnemon
