// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <vector>

#include <mnemon/image/image.hpp>
#include <mnemon/scene/paint.hpp>

namespace mnemon {

/// Sky with drifting cloud, a sea that glitters, a cliff with grass on it, and grass in front; perhaps bunting in the
/// sky and a thicket on the land. Clouds throw soft shadows on sea and land. It reaches beyond the picture by a
/// margin, for a camera that moves. Drawing changes only the picture given, so that threads may share a backdrop.
class Backdrop {
 public:
  /// \param rows, cols  The picture's size.
  /// \param margin      How far it reaches beyond the picture on each side, px.
  /// \param key  The same key gives the same landscape.
  Backdrop(int rows, int cols, int margin, std::uint64_t key);

  /// Strings bunting across the sky, the more the higher the level in (0, 1].
  void string_bunting(double level, const std::vector<Tint>& colours, std::uint64_t key);

  /// Grows a thicket in front, the denser the higher the level in (0, 1]. Within `radius` px of the place `clear` of
  /// the picture it leaves the view open.
  void grow_thicket(double level, Point clear, double radius, std::uint64_t key);

  [[nodiscard]] int rows() const noexcept { return base_.rows(); }  ///< With the margins.
  /// Of the picture that the camera sees parts of.
  [[nodiscard]] int cols() const noexcept { return base_.cols(); }
  /// Beyond the frame on each side, px.
  [[nodiscard]] int margin() const noexcept { return margin_; }

  /// Fills an RGB picture of that size with what is behind the target; time moves cloud and water.
  void draw_behind(double time_s, ImageView<float> rgb) const;

  /// What is in front of whatever flies low: RGB, and which share of each pixel it covers, in [0, 1].
  [[nodiscard]] ImageView<const float> front() const noexcept { return land_.view(); }
  /// Which share of each pixel is hidden by the land in front, in [0, 1].
  [[nodiscard]] ImageView<const float> front_cover() const noexcept { return land_cover_.view(); }

  /// The first row of the front, with the margin.
  [[nodiscard]] int front_top() const noexcept { return front_top_; }

 private:
  void paint_sky_and_sea();
  void paint_cliff(std::uint64_t key);
  void paint_meadow(std::uint64_t key);
  void lay_in_front(const Paper& plants, Point clear, double radius);
  void find_front_top();

  int margin_;
  int picture_rows_;
  int picture_cols_;
  int horizon_;  // first row of the sea
  int front_top_ = 0;
  Image<float> base_;     // sky and sea at rest, RGB
  Image<float> cloud_;    // strength of cloud, wider than the picture
  Image<float> ripples_;  // two layers of waves, wider than the picture
  Image<float> swell_;
  Image<float> land_;  // RGB
  Image<float> land_cover_;
  Paper bunting_;  // empty where there is none
};

}  // namespace mnemon
