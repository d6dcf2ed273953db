// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>

namespace mnemon {

/// The lowest and the highest value of a picture.
struct Levels {
  float low = 0;   ///< What is black.
  float high = 0;  ///< What is white.
  bool operator==(const Levels&) const = default;
};

/// \param picture  Any number of channels; every value finite. Both levels are 0 for an empty one.
[[nodiscard]] Levels levels_of(ImageView<const float> picture) noexcept;

/// The picture as bytes: `low` becomes 0 and `high` 255. A picture of one level becomes black.
[[nodiscard]] Image<Byte> bytes_between(ImageView<const float> picture, Levels levels);

}  // namespace mnemon
