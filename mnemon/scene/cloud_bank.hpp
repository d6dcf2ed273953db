// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <optional>
#include <vector>

#include <mnemon/geometry/polygon.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// A bank of cloud that drifts from right to left in front of the kite and hides it entirely on given frames
/// and on no others: its core is opaque and reaches exactly as far as that needs.
class CloudBank {
 public:
  /// \param sail    The outline of the sail on every frame.
  /// \param from, to  The first and the last frame on which all of the sail is hidden.
  /// \param unit_px  How many pixels one of a picture 360 high takes here.
  /// \param key  Shapes the cloud.
  CloudBank(const std::vector<Polygon>& sail, int from, int to, double unit_px, std::uint64_t key);

  /// How opaque the bank is at a place, in [0, 1]; 1 only within the core.
  [[nodiscard]] float cover(int frame, double x, double y) const noexcept;

  /// Draws the bank onto an RGB picture of grey levels.
  void draw(int frame, ImageView<float> rgb) const noexcept;

 private:
  [[nodiscard]] double left(int frame) const noexcept;
  [[nodiscard]] float texture(int frame, double x, double y) const noexcept;

  double unit_px_;
  double speed_px_;      // a frame
  double left_at_from_;  // where the core's left end is on frame from_
  double width_px_;
  double top_;
  double bottom_;
  double entry_row_;  // of the sail's left tip as it vanishes
  double exit_row_;   // of its right tip as it comes out
  int from_;
  Image<float> texture_;
};

}  // namespace mnemon
