// SPDX-License-Identifier: MIT
#include <mnemon/image/morphology.hpp>

#include <algorithm>

namespace mnemon {
namespace {

using Word = BitMask::Word;
constexpr int kBits = BitMask::kWordBits;

// The line moved by `by` columns to the right (to the left below 0), zeros moving in, joined into `to`.
void join_moved(std::span<const Word> line, int by, std::span<Word> to) noexcept {
  const int count = static_cast<int>(line.size());
  const int words = (by < 0 ? -by : by) / kBits;
  const int bits = (by < 0 ? -by : by) % kBits;
  for (int w = 0; w < count; ++w) {
    const int near = by < 0 ? w + words : w - words;
    const int far = by < 0 ? near + 1 : near - 1;
    const Word here = near >= 0 && near < count ? line[near] : 0;
    const Word next = bits != 0 && far >= 0 && far < count ? line[far] : 0;
    const Word moved = by < 0 ? here >> bits : here << bits;
    const Word carried = bits == 0 ? 0 : by < 0 ? next << (kBits - bits) : next >> (kBits - bits);
    to[w] |= moved | carried;
  }
}

// Sets what lies within `radius` columns of a set bit: reaches of 1, 2, 4 ... and the rest.
void dilate_rows(BitMask& mask, BitMask& work, int radius) noexcept {
  for (int reached = 0; reached < radius;) {
    const int more = std::min(std::max(1, reached), radius - reached);
    for (int r = 0; r < mask.rows(); ++r) {
      const std::span<Word> line = mask.row(r);
      const std::span<Word> moved = work.row(r);
      std::ranges::copy(line, moved.begin());
      join_moved(moved, more, line);
      join_moved(moved, -more, line);
    }
    reached += more;
  }
}

void dilate_cols(BitMask& mask, BitMask& work, int radius) noexcept {
  const int rows = mask.rows();
  for (int reached = 0; reached < radius;) {
    const int more = std::min(std::max(1, reached), radius - reached);
    for (int r = 0; r < rows; ++r) std::ranges::copy(mask.row(r), work.row(r).begin());
    for (int r = 0; r < rows; ++r)
      for (const int from : {r - more, r + more}) {
        if (from < 0 || from >= rows) continue;
        const std::span<const Word> there = work.row(from);
        const std::span<Word> line = mask.row(r);
        for (int w = 0; w < mask.words(); ++w) line[w] |= there[w];
      }
    reached += more;
  }
}

}  // namespace

void Morphology::dilate(BitMask& mask, int radius) noexcept {
  if (mask.rows() == 0 || mask.words() == 0) return;
  work_.start(mask.rows(), mask.cols());
  dilate_rows(mask, work_, radius);
  mask.flip();
  mask.flip();  // clears what moved past the rows' ends
  dilate_cols(mask, work_, radius);
}

void Morphology::erode(BitMask& mask, int radius) noexcept {
  mask.flip();
  dilate(mask, radius);
  mask.flip();
}

void Morphology::open(BitMask& mask, int radius) noexcept {
  erode(mask, radius);
  dilate(mask, radius);
}

void Morphology::close(BitMask& mask, int radius) noexcept {
  dilate(mask, radius);
  erode(mask, radius);
}

}  // namespace mnemon
