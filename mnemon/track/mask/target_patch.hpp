// SPDX-License-Identifier: MIT
#pragma once
#include <array>

#include <mnemon/image/frame.hpp>
#include <mnemon/track/mask/target_pose.hpp>
#include <mnemon/vision/block_window.hpp>
#include <mnemon/vision/colour_model.hpp>

namespace mnemon {

/// What is looked at of a picture: light, red against green, yellow against blue, and how likely the colour is the
/// target's. Each is in units of what usually tells things apart, so that their differences can be added.
inline constexpr int kPatchChannels = 4;
inline constexpr int kLikelihood = 3;               ///< The last of them.
inline constexpr float kLikelihoodUnit = 1 / 0.3f;  ///< What a likelihood of 1 is in its unit.

/// The first three of them, of a colour of 255 levels a channel or of a mean of such colours.
struct Opponents {
  float light, red, yellow;  ///< Of light, red against green, and yellow against blue.
};
[[nodiscard]] inline Opponents opponents_of(float r, float g, float b) noexcept {
  constexpr float kLight = 1 / 30.0f;  // one over what usually tells things apart
  constexpr float kOpponent = 1 / 22.0f;
  return {kLight * (0.299f * r + 0.587f * g + 0.114f * b), kOpponent * (r - g),
          kOpponent * (0.5f * (r + g) - b)};
}

/// A window of a picture around a target as planes of channels, in cells of whole pixels. Allocates nothing once made.
class TargetPatch {
 public:
  static constexpr int kMostSide = 192;  ///< Cells.

  TargetPatch();

  /// Looks at a window of that middle and size, px, cut down to kMostSide cells of `block` x `block` pixels, and weighs its
  /// colours. A change of light is taken back.
  void look(const Frame& frame, Point middle, double w, double h, int block, const ColourModel& colours,
            const LightChange& light = {}) noexcept;

  /// Weighs the colours of the last look anew.
  void weigh(const ColourModel& colours) noexcept;

  /// Shows only a part of the window looked at, about as large as that box, px, and within the window.
  void narrow(const Box& box) noexcept;
  /// Shows all of it again.
  void widen() noexcept;

  /// Works out the other channels of the part shown, and puts all side by side for `mixed`, where that was not done yet.
  void mix() noexcept;

  /// Cells.
  [[nodiscard]] int rows() const noexcept { return shown_.rows; }
  /// Cells.
  [[nodiscard]] int cols() const noexcept { return shown_.cols; }
  /// Pixels along a cell's side.
  [[nodiscard]] int block() const noexcept { return pixels_.block(); }
  /// The first pixel.
  [[nodiscard]] int left() const noexcept { return pixels_.left() + shown_.first_col * block(); }
  /// The first pixel's row.
  [[nodiscard]] int top() const noexcept { return pixels_.top() + shown_.first_row * block(); }
  /// A channel; all but the likelihood only of what was shown when they were mixed.
  [[nodiscard]] ImageView<const float> plane(int channel) const noexcept {
    const int stride = pixels_.cells().cols;
    return {planes_[channel].view().data + static_cast<std::ptrdiff_t>(shown_.first_row) * stride +
                shown_.first_col,
            rows(), cols(), 1, stride};
  }
  /// All channels, side by side, of what was shown when they were mixed.
  [[nodiscard]] ImageView<const float> mixed() const noexcept {
    const std::ptrdiff_t stride = std::ptrdiff_t{kPatchChannels} * pixels_.cells().cols;
    return {
        mixed_.view().data + shown_.first_row * stride + std::ptrdiff_t{kPatchChannels} * shown_.first_col,
        rows(), cols(), kPatchChannels, stride};
  }
  /// The cells' mean colours: rows x columns x 3.
  [[nodiscard]] ImageView<const Byte> cells() const noexcept {
    const ImageView<const Byte> all = pixels_.cells();
    return {all.row(shown_.first_row) + 3 * static_cast<std::ptrdiff_t>(shown_.first_col), rows(), cols(), 3,
            all.stride};
  }
  /// Of a cell, as an index.
  [[nodiscard]] ColourIndex colour(int r, int c) const noexcept { return colour_index(&cells()(r, c)); }

  /// The likelihood of a cell's colour, in [0, 1].
  [[nodiscard]] float likelihood(int r, int c) const noexcept {
    return plane(kLikelihood)(r, c) / kLikelihoodUnit;
  }

  /// A place of the frame, px, in cells, where the first cell's middle is (0, 0).
  [[nodiscard]] Point cell_at(Point place) const noexcept {
    return {(place.x - left()) / block() - 0.5, (place.y - top()) / block() - 0.5};
  }
  /// The other way round.
  [[nodiscard]] Point place_at(Point cell) const noexcept {
    return {(cell.x + 0.5) * block() + left(), (cell.y + 0.5) * block() + top()};
  }
  /// Places of cells.
  struct Extent {
    double left, top, right, bottom;  ///< Cells.
  };
  /// Where the picture lies, which may be beyond the window.
  [[nodiscard]] Extent picture() const noexcept {
    const Point from = cell_at({0, 0});
    const Point to = cell_at({1.0 * frame_.width, 1.0 * frame_.height});
    return {from.x, from.y, to.x, to.y};
  }
  /// The middles of the first and the last cell that show the picture; others repeat its edge.
  [[nodiscard]] Extent in_picture() const noexcept;
  /// The cells of a row that show some of the picture: from first to end.
  struct Run {
    int first, end;  ///< The end is one past the last.
  };
  /// The cells of a row that lie in the picture.
  [[nodiscard]] Run inside(int r) const noexcept {
    int end = cols();
    while (end > 0 && !is_inside(r, end - 1)) --end;
    int first = 0;
    while (first < end && !is_inside(r, first)) ++first;
    return {first, end};
  }
  /// True where some of the cell's pixels are in the picture.
  [[nodiscard]] bool is_inside(int r, int c) const noexcept {
    const int y = top() + r * block();
    const int x = left() + c * block();
    return x + block() > 0 && y + block() > 0 && x < frame_.width && y < frame_.height;
  }

 private:
  // Cells of the window.
  struct Part {
    int first_row = 0, first_col = 0, rows = 0, cols = 0;

    [[nodiscard]] bool holds(const Part& other) const noexcept {
      return other.first_row >= first_row && other.first_row + other.rows <= first_row + rows &&
             other.first_col >= first_col && other.first_col + other.cols <= first_col + cols;
    }
  };

  FrameSize frame_;
  Part shown_;
  Part mixed_part_;
  BlockWindow pixels_;
  std::vector<Image<float>> planes_{kPatchChannels};
  Image<float> mixed_;
};

}  // namespace mnemon
