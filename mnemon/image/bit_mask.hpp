// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <span>
#include <vector>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// A picture of bits, 64 of a row to a word, the leftmost lowest; bits past a row's end are 0. Its memory is taken for
/// the largest shape when it is made; `start` gives it a smaller one for a while.
class BitMask {
 public:
  using Word = std::uint64_t;
  static constexpr int kWordBits = 64;

  BitMask() = default;
  /// \param most_rows, most_cols  The largest shape, and the one that it has at first, all bits 0.
  BitMask(int most_rows, int most_cols);

  /// Takes on a shape, at most the largest, all bits 0.
  void start(int rows, int cols) noexcept;

  [[nodiscard]] int rows() const noexcept { return rows_; }
  [[nodiscard]] int cols() const noexcept { return cols_; }
  [[nodiscard]] int words() const noexcept { return words_; }  ///< Of a row.
  [[nodiscard]] std::span<Word> row(int r) noexcept {
    return std::span(bits_).subspan(static_cast<std::size_t>(r) * words_, words_);
  }
  [[nodiscard]] std::span<const Word> row(int r) const noexcept {
    return std::span(bits_).subspan(static_cast<std::size_t>(r) * words_, words_);
  }
  [[nodiscard]] bool at(int r, int c) const noexcept {
    return (row(r)[c / kWordBits] >> (c % kWordBits) & 1) != 0;
  }
  void set(int r, int c) noexcept { row(r)[c / kWordBits] |= Word{1} << (c % kWordBits); }
  /// Sets the bits of row `r` from column `first` up to and without `end`.
  void set_run(int r, int first, int end) noexcept;

  /// How many bits are set.
  [[nodiscard]] int count() const noexcept;

  /// Sets what is clear and clears what is set.
  void flip() noexcept;

  /// The mask as bytes, 1 where a bit is set; of its shape.
  void write_into(ImageView<Byte> bytes) const noexcept;

 private:
  [[nodiscard]] Word last_word() const noexcept;

  int rows_ = 0;
  int cols_ = 0;
  int words_ = 0;
  std::vector<Word> bits_;
};

/// Sets the bits where a value is above a level. \param mask  Takes on the shape of `values`.
void set_above(ImageView<const float> values, float level, BitMask& mask) noexcept;

}  // namespace mnemon
