// SPDX-License-Identifier: MIT
#include <mnemon/image/bit_mask.hpp>

#include <algorithm>
#include <array>
#include <bit>
#include <cstring>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

int words_of(int cols) noexcept { return (cols + BitMask::kWordBits - 1) / BitMask::kWordBits; }

// One byte a value, which packs into bits eight at a time.
MNEMON_CLONES void compare(const float* values, int count, float level, Byte* __restrict above) noexcept {
  for (int i = 0; i < count; ++i) above[i] = static_cast<Byte>(values[i] > level);
}

// Eight bytes of 0 or 1 as eight bits, the first lowest: the product adds each into a place of its own in the top byte.
BitMask::Word packed(const Byte* bytes) noexcept {
  BitMask::Word eight = 0;
  std::memcpy(&eight, bytes, sizeof(eight));
  return eight * 0x0102040810204080ULL >> 56;
}

void pack_row(const Byte* bytes, int count, std::span<BitMask::Word> words) noexcept {
  int i = 0;
  for (; i + 8 <= count; i += 8) words[i / BitMask::kWordBits] |= packed(bytes + i) << i % BitMask::kWordBits;
  for (; i < count; ++i) words[i / BitMask::kWordBits] |= BitMask::Word{bytes[i]} << i % BitMask::kWordBits;
}

}  // namespace

BitMask::BitMask(int most_rows, int most_cols)
    : rows_(most_rows),
      cols_(most_cols),
      words_(words_of(most_cols)),
      bits_(static_cast<std::size_t>(rows_) * words_) {}

void BitMask::start(int rows, int cols) noexcept {
  rows_ = rows;
  cols_ = cols;
  words_ = words_of(cols);
  MNEMON_ASSERT(static_cast<std::size_t>(rows_) * words_ <= bits_.size());
  std::fill_n(bits_.begin(), static_cast<std::size_t>(rows_) * words_, Word{0});
}

void BitMask::set_run(int r, int first, int end) noexcept {
  const std::span<Word> line = row(r);
  for (int c = first; c < end;) {
    const int bit = c % kWordBits;
    const int length = std::min(end - c, kWordBits - bit);
    const Word ones = length == kWordBits ? ~Word{0} : (Word{1} << length) - 1;
    line[c / kWordBits] |= ones << bit;
    c += length;
  }
}

int BitMask::count() const noexcept {
  int sum = 0;
  for (int r = 0; r < rows_; ++r)
    for (const Word word : row(r)) sum += std::popcount(word);
  return sum;
}

BitMask::Word BitMask::last_word() const noexcept {
  const int used = cols_ % kWordBits;
  return used == 0 ? ~Word{0} : (Word{1} << used) - 1;
}

void BitMask::flip() noexcept {
  for (int r = 0; r < rows_; ++r) {
    for (Word& word : row(r)) word = ~word;
    if (words_ > 0) row(r).back() &= last_word();
  }
}

void BitMask::write_into(ImageView<Byte> bytes) const noexcept {
  for (int r = 0; r < rows_; ++r) {
    Byte* const line = bytes.row(r);
    std::fill_n(line, cols_, Byte{0});
    for_each_run(r, [line](int first, int end) { std::fill(line + first, line + end, Byte{1}); });
  }
}

void BitMask::read_from(ImageView<const Byte> bytes) noexcept {
  start(bytes.rows, bytes.cols);
  for (int r = 0; r < rows_; ++r) pack_row(bytes.row(r), cols_, row(r));
}

void set_above(ImageView<const float> values, float level, BitMask& mask) noexcept {
  mask.start(values.rows, values.cols);
  std::array<Byte, BitMask::kWordBits> above{};
  for (int r = 0; r < values.rows; ++r)
    for (int w = 0; w < mask.words(); ++w) {
      const int first = w * BitMask::kWordBits;
      const int count = std::min(BitMask::kWordBits, values.cols - first);
      above.fill(0);
      compare(values.row(r) + first, count, level, above.data());
      BitMask::Word word = 0;
      for (int i = 0; i < BitMask::kWordBits; i += 8) word |= packed(&above[i]) << i;
      mask.row(r)[w] = word;
    }
}

}  // namespace mnemon
