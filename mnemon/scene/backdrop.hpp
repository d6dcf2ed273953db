// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// Sky with drifting cloud, a sea that glitters, a cliff with grass on it, and grass in front.
/// Drawing changes only the picture given, so that threads may share a backdrop.
class Backdrop {
 public:
  /// \param rows, cols  The picture's size.
  /// \param key  The same key gives the same landscape.
  Backdrop(int rows, int cols, std::uint64_t key);

  /// Fills an RGB picture of grey levels with what is behind the kite; time moves cloud and water.
  void draw_behind(double time_s, ImageView<float> rgb) const;

  /// Draws the land, which is in front of whatever flies low.
  void draw_land(ImageView<float> rgb) const;

  /// Which share of each pixel the land covers, in [0, 1].
  [[nodiscard]] ImageView<const float> land_cover() const noexcept { return land_cover_.view(); }

 private:
  void paint_sky_and_sea();
  void paint_cliff(std::uint64_t key);
  void paint_meadow(std::uint64_t key);

  int horizon_;           // first row of the sea
  Image<float> base_;     // sky and sea at rest, RGB
  Image<float> cloud_;    // strength of cloud, wider than the picture
  Image<float> ripples_;  // two layers of waves, wider than the picture
  Image<float> swell_;
  Image<float> land_;  // RGB
  Image<float> land_cover_;
};

}  // namespace mnemon
