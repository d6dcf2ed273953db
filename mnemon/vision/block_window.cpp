// SPDX-License-Identifier: MIT
#include <mnemon/vision/block_window.hpp>

#include <algorithm>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

// 16 bits hold the sum of 257 bytes, more than any block is high.
MNEMON_CLONES void add_line(const Byte* __restrict line, int count, std::uint16_t* __restrict sums) noexcept {
  for (int i = 0; i < count; ++i) sums[i] = static_cast<std::uint16_t>(sums[i] + line[i]);
}

void mean_of_blocks(const std::uint16_t* sums, int cols, int block, Byte* cells) noexcept {
  const auto pixels = static_cast<unsigned>(block * block);
  const unsigned scale = (1U << 24) / pixels + 1;  // a product is cheaper than a division, and as exact here
  for (int c = 0; c < cols; ++c) {
    unsigned red = pixels / 2;
    unsigned green = red;
    unsigned blue = red;
    for (int i = 0; i < block; ++i, sums += 3) {
      red += sums[0];
      green += sums[1];
      blue += sums[2];
    }
    cells[3 * c] = static_cast<Byte>(std::uint64_t{red} * scale >> 24);
    cells[3 * c + 1] = static_cast<Byte>(std::uint64_t{green} * scale >> 24);
    cells[3 * c + 2] = static_cast<Byte>(std::uint64_t{blue} * scale >> 24);
  }
}

}  // namespace

BlockWindow::BlockWindow(int most_rows, int most_cols, int most_block)
    : line_(static_cast<std::size_t>(3) * most_cols * most_block),
      sums_(line_.size()),
      room_(most_rows, most_cols, 3) {}

ImageView<const Byte> BlockWindow::sample(ImageView<const Byte> rgb, int left, int top, int rows, int cols,
                                          int block) noexcept {
  left_ = left;
  top_ = top;
  block_ = block;
  rows_ = rows;
  cols_ = cols;
  const ImageView<Byte> cells{room_.view().data, rows, cols, 3, static_cast<std::ptrdiff_t>(cols) * 3};
  MNEMON_ASSERT(cells.size() <= room_.view().size());
  const int width = cols * block;
  const int before = std::clamp(-left, 0, width);
  const int after = std::clamp(left + width - rgb.cols, 0, width - before);
  const int inside = width - before - after;
  if (block == 1 && inside == width && top >= 0 && top + rows <= rgb.rows) {  // a plain copy
    for (int r = 0; r < rows; ++r)
      std::copy_n(rgb.row(top + r) + 3 * static_cast<std::ptrdiff_t>(left), 3 * cols, cells.row(r));
    return cells;
  }
  for (int r = 0; r < rows; ++r) {
    std::fill_n(sums_.begin(), 3 * width, std::uint16_t{0});
    for (int i = 0; i < block; ++i) {
      const Byte* const row = rgb.row(std::clamp(top + r * block + i, 0, rgb.rows - 1));
      const Byte* line = row + 3 * static_cast<std::ptrdiff_t>(left);
      if (inside < width) {  // the picture's edge is in the way
        for (int c = 0; c < before; ++c) std::copy_n(row, 3, &line_[3 * c]);
        if (inside > 0) std::copy_n(row + 3 * std::max(0, left), 3 * inside, &line_[3 * before]);
        for (int c = width - after; c < width; ++c) std::copy_n(row + 3 * (rgb.cols - 1), 3, &line_[3 * c]);
        line = line_.data();
      }
      add_line(line, 3 * width, sums_.data());
    }
    mean_of_blocks(sums_.data(), cols, block, cells.row(r));
  }
  return cells;
}

}  // namespace mnemon
