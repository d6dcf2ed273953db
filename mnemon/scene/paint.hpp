// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/polygon.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/scene/coverage.hpp>

namespace mnemon {

/// A colour of a scene, in grey levels from 0 to 255; more for what shines.
struct Tint {
  float red = 0;    ///< 0 to 255.
  float green = 0;  ///< 0 to 255.
  float blue = 0;   ///< 0 to 255.
};

/// `share` of the way from a to b.
[[nodiscard]] constexpr Tint mixed(Tint a, Tint b, float share) noexcept {
  return {a.red + share * (b.red - a.red), a.green + share * (b.green - a.green),
          a.blue + share * (b.blue - a.blue)};
}

/// The tint under so much light.
[[nodiscard]] constexpr Tint shaded(Tint tint, double light) noexcept {
  const auto f = static_cast<float>(light);
  return {f * tint.red, f * tint.green, f * tint.blue};
}

/// The place `share` of the way from a to b.
[[nodiscard]] constexpr Point between(Point a, Point b, double share) noexcept {
  return {a.x + share * (b.x - a.x), a.y + share * (b.y - a.y)};
}

/// Lays a tint over a pixel of an RGB picture.
inline void lay(float* pixel, float share, Tint tint) noexcept {
  pixel[0] += share * (tint.red - pixel[0]);
  pixel[1] += share * (tint.green - pixel[1]);
  pixel[2] += share * (tint.blue - pixel[2]);
}

/// The whole pixels of a picture that an outline reaches into; empty where none.
struct Reach {
  int top = 0;   ///< The first row.
  int left = 0;  ///< The first column.
  int rows = 0;  ///< How many.
  int cols = 0;  ///< How many.
  /// Whether it holds no pixel.
  [[nodiscard]] bool is_empty() const noexcept { return rows <= 0 || cols <= 0; }
};
[[nodiscard]] Reach reach_of(const Polygon& outline, int rows, int cols) noexcept;

/// Which share of each pixel of its reach an outline covers, in the tile's memory.
[[nodiscard]] ImageView<const float> covered(const Polygon& outline, const Reach& reach, CoverageTile& tile);

/// Covers what `outline` covers of an RGB picture. `tint_at(x, y)` gives the colour of a place in the picture.
/// \param tile  As large as the picture.
template <class TintAt>
void fill(const Polygon& outline, ImageView<float> rgb, CoverageTile& tile, float opacity, TintAt tint_at) {
  const Reach reach = reach_of(outline, rgb.rows, rgb.cols);
  if (reach.is_empty()) return;
  const ImageView<const float> cover = covered(outline, reach, tile);
  for (int r = 0; r < cover.rows; ++r)
    for (int c = 0; c < cover.cols; ++c) {
      const float share = opacity * cover(r, c);
      if (share > 0)
        lay(rgb.row(reach.top + r) + 3 * (reach.left + c), share,
            tint_at(reach.left + c + 0.5, reach.top + r + 0.5));
    }
}

/// The same in one colour.
void fill_even(const Polygon& outline, ImageView<float> rgb, CoverageTile& tile, float opacity, Tint tint);

/// Transparent paper to paint shapes on, one over the other, which is then laid over a picture.
struct Paper {
  Paper() = default;
  /// For pictures of that size, with nothing painted.
  Paper(int rows, int cols) : rgb(rows, cols, 3), cover(rows, cols), tile(rows, cols) {}

  /// Paints the inside of an outline in one colour.
  void paint(const Polygon& outline, Tint tint);

  Image<float> rgb;         ///< Colours, 0 to 255: rows x columns x 3.
  Image<float> cover;       ///< Which share of each pixel is painted, in [0, 1].
  CoverageTile tile{0, 0};  ///< Room for what one outline covers.
};

/// Lays a row of RGB pixels over another by the share that each covers.
void cover_row(const float* over, const float* cover, float* rgb, int cols) noexcept;

/// sum[i] += factor * row[i].
void add_row(const float* row, float factor, float* sum, int count) noexcept;

/// A band of even width along the straight way from a to b.
[[nodiscard]] Polygon band(Point a, Point b, double width);

}  // namespace mnemon
