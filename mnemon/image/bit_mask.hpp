// SPDX-License-Identifier: MIT
#pragma once
#include <bit>
#include <cstdint>
#include <span>
#include <vector>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// A picture of bits, 64 of a row to a word, the leftmost lowest; bits past a row's end are 0. Its memory is taken for
/// the largest shape when it is made; `start` gives it a smaller one for a while.
class BitMask {
 public:
  using Word = std::uint64_t;           ///< Of a row's bits.
  static constexpr int kWordBits = 64;  ///< Bits in a word.

  BitMask() = default;
  /// \param most_rows, most_cols  The largest shape, and the one that it has at first, all bits 0.
  BitMask(int most_rows, int most_cols);

  /// Takes on a shape, at most the largest, all bits 0.
  void start(int rows, int cols) noexcept;

  /// Rows of the mask.
  [[nodiscard]] int rows() const noexcept { return rows_; }
  /// Columns of the mask; the bits of a row beyond them are 0.
  [[nodiscard]] int cols() const noexcept { return cols_; }
  [[nodiscard]] int words() const noexcept { return words_; }  ///< Of a row.
  /// The words of a row, lowest bit first.
  [[nodiscard]] std::span<Word> row(int r) noexcept {
    return std::span(bits_).subspan(static_cast<std::size_t>(r) * words_, words_);
  }
  /// The words of a row, lowest bit first.
  [[nodiscard]] std::span<const Word> row(int r) const noexcept {
    return std::span(bits_).subspan(static_cast<std::size_t>(r) * words_, words_);
  }
  /// Whether a bit is set.
  [[nodiscard]] bool at(int r, int c) const noexcept {
    return (row(r)[c / kWordBits] >> (c % kWordBits) & 1) != 0;
  }
  /// Sets a bit.
  void set(int r, int c) noexcept { row(r)[c / kWordBits] |= Word{1} << (c % kWordBits); }
  /// Sets the bits of row `r` from column `first` up to and without `end`.
  void set_run(int r, int first, int end) noexcept;

  /// How many bits are set.
  [[nodiscard]] int count() const noexcept;

  /// Sets what is clear and clears what is set.
  void flip() noexcept;

  /// use(first, end) for each run of set bits of row `r`, from the left: columns up to and without the end.
  template <class Use>
  void for_each_run(int r, Use use) const;

  /// The mask as bytes, 1 where a bit is set; of its shape.
  void write_into(ImageView<Byte> bytes) const noexcept;
  /// Takes on the shape of bytes, each 0 or 1, and their values.
  void read_from(ImageView<const Byte> bytes) noexcept;

 private:
  [[nodiscard]] Word last_word() const noexcept;

  int rows_ = 0;
  int cols_ = 0;
  int words_ = 0;
  std::vector<Word> bits_;
};

template <class Use>
void BitMask::for_each_run(int r, Use use) const {
  const std::span<const Word> line = row(r);
  int start = -1;
  for (int w = 0; w < words_; ++w) {
    const int base = w * kWordBits;
    Word rest = start < 0 ? line[w] : ~line[w];  // its lowest bit is where the state changes
    while (rest != 0) {
      const int bit = std::countr_zero(rest);
      if (start < 0) {
        start = base + bit;
      } else {
        use(start, base + bit);
        start = -1;
      }
      const Word above = ~Word{0} << bit;  // of the bits yet to be looked at; this one is settled
      rest = (start < 0 ? line[w] : ~line[w]) & above;
    }
  }
  if (start >= 0) use(start, cols_);
}

/// Sets the bits where a value is above a level. \param mask  Takes on the shape of `values`.
void set_above(ImageView<const float> values, float level, BitMask& mask) noexcept;

}  // namespace mnemon
