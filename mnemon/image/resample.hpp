// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/image/scratch.hpp>
/// \file
/// Sampling of real-valued windows. Outside the picture its edge pixels are repeated.
namespace mnemon {

/// Which samples of a line each output sample is made of: a triangle whose half width is one output sample,
/// or one input sample where that is wider, so that shrinking averages and growing interpolates.
class LineTaps {
 public:
  LineTaps() = default;
  /// \param outputs     How many samples are made.
  /// \param max_length  The longest stretch, in input samples, that they will be made from.
  LineTaps(int outputs, double max_length);

  /// Plans for the stretch [begin, begin + length) in continuous coordinates; length at most max_length.
  void plan(double begin, double length) noexcept;

  /// How many samples it makes.
  [[nodiscard]] int outputs() const noexcept { return outputs_; }
  [[nodiscard]] int taps() const noexcept { return taps_; }  ///< Input samples an output sample, as planned.
  [[nodiscard]] int origin() const noexcept { return origin_; }  ///< Lowest input sample used.
  [[nodiscard]] int reach() const noexcept {
    return reach_;
  }  ///< Input samples from the lowest to the highest used.
  [[nodiscard]] int max_reach() const noexcept { return max_reach_; }  ///< Bound of reach() for any plan.
  /// First input sample of each output sample, counted from origin().
  [[nodiscard]] std::span<const int> first() const noexcept { return first_; }
  /// Weights of tap `k` of every output sample; over the taps they add up to 1.
  [[nodiscard]] std::span<const float> weights(int k) const noexcept {
    return std::span(weights_).subspan(static_cast<std::size_t>(k) * outputs_, outputs_);
  }

 private:
  int outputs_ = 0;
  int max_taps_ = 0;
  int taps_ = 0;
  int origin_ = 0;
  int reach_ = 0;
  int max_reach_ = 0;
  std::vector<int> first_;
  std::vector<float> weights_;  // max_taps x outputs
};

/// Samples windows of RGB pictures as grey (luma of ITU-R BT.601, 0 to 255). All memory is taken when it is
/// made; sampling allocates nothing. Not to be shared by threads.
class GreyWindow {
 public:
  GreyWindow() = default;
  /// \param rows, cols      The size of what is sampled.
  /// \param max_w, max_h    The largest window, px.
  GreyWindow(int rows, int cols, double max_w, double max_h);

  /// \param rgb     Three channels, at least one pixel.
  /// \param window  Where, px; at most the largest size, any place.
  /// \param out     rows x cols, one channel.
  void sample_into(ImageView<const Byte> rgb, const Box& window, ImageView<float> out) noexcept;

  /// The pixels of rows [top, top + rows) and columns [left, left + cols) in grey, until the next call.
  /// \param rgb         Three channels, at least one pixel.
  /// \param top, left   The first pixel, any place; beyond the picture its edge pixels are repeated.
  /// \param rows, cols  At most five more than the largest window is high and wide.
  [[nodiscard]] ImageView<const float> pixels(ImageView<const Byte> rgb, int top, int left, int rows,
                                              int cols) noexcept;

 private:
  LineTaps down_;
  LineTaps across_;
  // For the largest window.
  Scratch<Byte> bytes_;    // pixels under the window
  Scratch<float> tile_;    // the same in grey
  Scratch<float> shrunk_;  // sampled down
  Scratch<float> turned_;  // the same, columns as rows
};

/// Brings pictures of one size to another, averaged where that is smaller, linearly interpolated where it is larger. All memory is
/// taken when it is made. Not to be shared by threads.
class Resizer {
 public:
  Resizer() = default;
  /// From `from_rows` x `from_cols` to `rows` x `cols`, each at least 1; 1 or 3 channels.
  Resizer(int from_rows, int from_cols, int rows, int cols, int channels);

  /// Fills `out` with a picture; both as they were told.
  void resize_into(ImageView<const Byte> rgb, ImageView<Byte> out) noexcept;

 private:
  LineTaps down_;
  LineTaps across_;
  std::vector<float> line_;
};

/// `rgb` at another size, averaged where that is smaller, linearly interpolated where it is larger; 1 or 3 channels.
[[nodiscard]] Image<Byte> resized(ImageView<const Byte> rgb, int rows, int cols);

/// The same at another width, its shape kept to the nearest whole row.
[[nodiscard]] Image<Byte> resized_to_width(ImageView<const Byte> rgb, int cols);

/// The same at half the width and height, each pixel the mean of four; a last odd row or column is left out.
/// \param rgb  3 channels.
[[nodiscard]] Image<Byte> halved(ImageView<const Byte> rgb);

/// Maps output places to input places: x' = a x + b y + c, y' = d x + e y + f, all in pixels.
struct Affine {
  double a = 1, b = 0, c = 0;  ///< Of x'.
  double d = 0, e = 1, f = 0;  ///< Of y'.
};

/// Fills `out` with `in` at the mapped places, between its pixels by bilinear interpolation.
/// \param in, out  As many channels; `in` at least one pixel; they do not overlap.
/// \param map      From a place in `out` to the place in `in` that it shows.
void warp_into(ImageView<const float> in, const Affine& map, ImageView<float> out) noexcept;

}  // namespace mnemon
