// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cstddef>
#include <span>

#include <mnemon/geometry/box.hpp>

namespace mnemon {

/// Many upright boxes, each of their numbers in a plane of its own, as processors read them fastest. All planes are of
/// one length; the memory is that of whoever gave it.
struct BoxPlanes {
  std::span<const double> x;  ///< Left edges, px.
  std::span<const double> y;  ///< Upper edges, px.
  std::span<const double> w;  ///< Widths, px.
  std::span<const double> h;  ///< Heights, px; all four have as many.

  /// How many boxes there are.
  [[nodiscard]] std::size_t size() const noexcept { return x.size(); }
};

/// The overlaps of boxes pair by pair, to the last bit those of `overlap`. `out` is as long as the planes of both.
void overlaps_into(const BoxPlanes& a, const BoxPlanes& b, std::span<double> out) noexcept;

/// Room for so many boxes, to be filled and viewed.
template <std::size_t N>
class BoxBatch {
 public:
  /// Whether no further box can be added.
  [[nodiscard]] bool is_full() const noexcept { return size_ == N; }
  /// How many boxes there are.
  [[nodiscard]] std::size_t size() const noexcept { return size_; }
  /// Takes all boxes out.
  void clear() noexcept { size_ = 0; }
  /// \param box  Put behind the others; there is room where the batch is not full.
  void add(const Box& box) noexcept {
    x_[size_] = box.x;
    y_[size_] = box.y;
    w_[size_] = box.w;
    h_[size_] = box.h;
    ++size_;
  }
  /// The boxes so far; holds until the next is added.
  [[nodiscard]] BoxPlanes planes() const noexcept {
    return {std::span(x_).first(size_), std::span(y_).first(size_), std::span(w_).first(size_),
            std::span(h_).first(size_)};
  }

 private:
  std::array<double, N> x_, y_, w_, h_;
  std::size_t size_ = 0;
};

}  // namespace mnemon
