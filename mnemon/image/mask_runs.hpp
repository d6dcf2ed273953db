// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// A mask as the lengths of its runs, which is a hundredth of its pixels or less.
struct MaskRuns {
  int rows = 0;  ///< Of the mask.
  int cols = 0;  ///< Of the mask.
  /// Of pixels off and on in turn, row after row from the top left as one line; the first is off, and may be 0 long.
  std::vector<std::uint32_t> lengths;

  bool operator==(const MaskRuns&) const = default;
};

/// The runs of a mask, one channel, on where it is not 0.
[[nodiscard]] MaskRuns runs_of(ImageView<const Byte> mask);

/// Draws a mask as pixels: 1 where it is on, else 0.
/// \param pixels  Of the mask's shape, one channel.
void draw_into(const MaskRuns& runs, ImageView<Byte> pixels) noexcept;

/// The smallest box around what is on, px; nothing where nothing is.
[[nodiscard]] std::optional<Box> bounds(const MaskRuns& runs) noexcept;

/// Intersection over union, in [0, 1]; 0 where the shapes differ or nothing is on in either.
[[nodiscard]] double overlap(const MaskRuns& a, const MaskRuns& b) noexcept;

/// As bytes: rows, columns and lengths, each in as few groups of seven bits as it takes, the lowest first.
[[nodiscard]] std::string packed(const MaskRuns& runs);

/// The mask that was packed; nothing where the bytes are no such thing.
[[nodiscard]] std::optional<MaskRuns> unpacked(std::string_view bytes);

}  // namespace mnemon
