// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <memory>
#include <new>
#include <span>
#include <type_traits>

#include <mnemon/base/assertion.hpp>
/// \file
/// Pictures and views of them: rows from the top, columns from the left, channels innermost.
namespace mnemon {

/// A view of a picture that something else owns. Constness is in the element: `ImageView<const float>` reads.
/// Rows lie `stride` elements apart, which may be more than a row needs.
template <class T>
struct ImageView {
  T* data = nullptr;          ///< The first element; null for none.
  int rows = 0;               ///< How many there are.
  int cols = 0;               ///< How many there are.
  int channels = 1;           ///< Values a pixel, side by side.
  std::ptrdiff_t stride = 0;  ///< Elements from one row to the next.

  /// The first element of a row.
  [[nodiscard]] T* row(int r) const noexcept {
    MNEMON_ASSERT(r >= 0 && r < rows);
    return data + r * stride;
  }
  /// One element.
  [[nodiscard]] T& operator()(int r, int c, int channel = 0) const noexcept {
    MNEMON_ASSERT(c >= 0 && c < cols && channel >= 0 && channel < channels);
    return row(r)[static_cast<std::ptrdiff_t>(c) * channels + channel];
  }
  [[nodiscard]] int row_length() const noexcept { return cols * channels; }  ///< Elements in a row.
  /// How many elements there are.
  [[nodiscard]] std::size_t size() const noexcept { return static_cast<std::size_t>(rows) * cols * channels; }
  /// Whether there are none.
  [[nodiscard]] bool empty() const noexcept { return size() == 0; }
  /// True where no element lies between the end of a row and the start of the next.
  [[nodiscard]] bool is_contiguous() const noexcept { return stride == row_length(); }
  /// All elements in order; only for contiguous views.
  [[nodiscard]] std::span<T> elements() const noexcept {
    MNEMON_ASSERT(is_contiguous());
    return {data, size()};
  }
  /// Whether rows, columns and channels are those of another.
  [[nodiscard]] bool has_shape_of(const ImageView<const std::remove_const_t<T>>& other) const noexcept {
    return rows == other.rows && cols == other.cols && channels == other.channels;
  }
  /// The same picture, not to be written to.
  operator ImageView<const T>() const noexcept requires(!std::is_const_v<T>) {
    return {data, rows, cols, channels, stride};
  }
};

/// A picture that owns its memory: contiguous, its start aligned to 64 bytes, zero at first. It moves; a copy
/// is a named call.
template <class T>
class Image {
  static_assert(std::is_trivially_copyable_v<T>);

 public:
  Image() = default;
  /// \param rows, cols, channels  The shape; an empty picture where one is 0.
  Image(int rows, int cols, int channels = 1) : rows_(rows), cols_(cols), channels_(channels) {
    const std::size_t bytes = view().size() * sizeof(T);
    data_.reset(static_cast<T*>(::operator new(bytes, kAlignment)));
    std::memset(static_cast<void*>(data_.get()), 0, bytes);
  }
  /// A copy has to be asked for: as an argument or by `=` it would be made unseen.
  explicit Image(const Image& other) {
    if (!other.data_) return;
    *this = Image(other.rows_, other.cols_, other.channels_);
    std::memcpy(static_cast<void*>(data_.get()), other.data_.get(), view().size() * sizeof(T));
  }
  Image(Image&&) noexcept = default;
  Image& operator=(const Image&) = delete;
  Image& operator=(Image&&) noexcept = default;
  ~Image() = default;

  /// How many there are.
  [[nodiscard]] int rows() const noexcept { return rows_; }
  /// How many there are.
  [[nodiscard]] int cols() const noexcept { return cols_; }
  /// Values a pixel, side by side.
  [[nodiscard]] int channels() const noexcept { return channels_; }
  /// Whether there are no elements.
  [[nodiscard]] bool empty() const noexcept { return view().empty(); }
  /// The whole picture; holds as long as this does.
  [[nodiscard]] ImageView<T> view() noexcept { return {data_.get(), rows_, cols_, channels_, row_length()}; }
  /// The whole picture; holds as long as this does.
  [[nodiscard]] ImageView<const T> view() const noexcept {
    return {data_.get(), rows_, cols_, channels_, row_length()};
  }
  /// All elements in order.
  [[nodiscard]] std::span<T> elements() noexcept { return view().elements(); }
  /// All elements in order.
  [[nodiscard]] std::span<const T> elements() const noexcept { return view().elements(); }
  /// One element.
  [[nodiscard]] T& operator()(int r, int c, int channel = 0) noexcept { return view()(r, c, channel); }
  /// One element.
  [[nodiscard]] const T& operator()(int r, int c, int channel = 0) const noexcept {
    return view()(r, c, channel);
  }

 private:
  static constexpr std::align_val_t kAlignment{64};
  struct Freer {
    void operator()(T* data) const noexcept { ::operator delete(static_cast<void*>(data), kAlignment); }
  };
  [[nodiscard]] std::ptrdiff_t row_length() const noexcept {
    return static_cast<std::ptrdiff_t>(cols_) * channels_;
  }

  int rows_ = 0;
  int cols_ = 0;
  int channels_ = 1;
  std::unique_ptr<T, Freer> data_;
};

/// A copy of what the view shows, with a memory of its own.
template <class T>
[[nodiscard]] Image<std::remove_const_t<T>> copy_of(ImageView<T> view) {
  Image<std::remove_const_t<T>> copy(view.rows, view.cols, view.channels);
  for (int r = 0; r < view.rows; ++r)
    std::memcpy(static_cast<void*>(copy.view().row(r)), view.row(r), sizeof(T) * view.row_length());
  return copy;
}

using Byte = std::uint8_t;  ///< A value of a picture, 0 to 255.

}  // namespace mnemon
