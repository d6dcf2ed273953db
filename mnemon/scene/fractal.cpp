// SPDX-License-Identifier: MIT
#include <mnemon/scene/fractal.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

double lattice(std::uint64_t key, int x, int y) noexcept {
  const auto cell =
      (static_cast<std::uint64_t>(static_cast<std::uint32_t>(y)) << 32) | static_cast<std::uint32_t>(x);
  return Random(key ^ mix_bits(cell)).uniform();
}

// Where a column lies among the cells of its row.
struct Column {
  int left, right;  // cells
  float share;      // of the right one
};

// One layer: `across` cells a row, which wrap; cells of height `cell_h`.
void add_octave(ImageView<float> out, int across, double cell_h, double strength, std::uint64_t key) {
  std::vector<Column> columns(out.cols);
  for (int c = 0; c < out.cols; ++c) {
    const double x = static_cast<double>(c) * across / out.cols;
    const int left = static_cast<int>(x);
    columns[c] = {left, (left + 1) % across, static_cast<float>(smooth_step(x - left))};
  }
  std::vector<float> upper(across);
  std::vector<float> lower(across);
  std::vector<float> here(across);
  const auto fill = [&](std::vector<float>& cells, int row) {
    for (int i = 0; i < across; ++i) cells[i] = static_cast<float>(lattice(key, i, row));
  };
  fill(lower, 0);
  int filled = 0;
  for (int r = 0; r < out.rows; ++r) {
    const double y = r / cell_h;
    const int cell = static_cast<int>(y);
    for (; filled <= cell; ++filled) {  // a cell is at least a row high, so that none is filled in vain
      std::swap(upper, lower);
      fill(lower, filled + 1);
    }
    const auto down = static_cast<float>(smooth_step(y - cell));
    for (int i = 0; i < across; ++i) here[i] = upper[i] + down * (lower[i] - upper[i]);
    float* const to = out.row(r);
    for (int c = 0; c < out.cols; ++c) {
      const Column& column = columns[c];
      const float a = here[column.left];
      to[c] += static_cast<float>(strength) * (a + column.share * (here[column.right] - a));
    }
  }
}

}  // namespace

Image<float> fractal_texture(int rows, int cols, const FractalForm& form, std::uint64_t key) {
  Image<float> texture(rows, cols);
  double strength = 1;
  double total = 0;
  for (int octave = 0; octave < form.octaves; ++octave) total += std::ldexp(1.0, -octave);
  for (int octave = 0; octave < form.octaves; ++octave) {
    const double shrink = std::ldexp(1.0, -octave);
    const int across = std::clamp(static_cast<int>(std::lround(cols / (form.cell_w_px * shrink))), 1, cols);
    add_octave(texture.view(), across, std::max(1.0, form.cell_h_px * shrink), strength / total,
               mix_bits(key + octave));
    strength /= 2;
  }
  return texture;
}

double smooth_noise(double at, std::uint64_t key) noexcept {
  const double whole = std::floor(at);
  const int cell = static_cast<int>(whole);
  const double a = lattice(key, cell, 0);
  const double b = lattice(key, cell + 1, 0);
  return 2 * (a + smooth_step(at - whole) * (b - a)) - 1;
}

}  // namespace mnemon
