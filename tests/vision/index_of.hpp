// SPDX-License-Identifier: MIT
#pragma once
#include <array>

#include <mnemon/vision/colour_index.hpp>

namespace mnemon::test {

// The number of a colour of three channels in [0, 255].
inline ColourIndex index_of(const std::array<double, 3>& colour) {
  const std::array<Byte, 3> rgb{static_cast<Byte>(colour[0]), static_cast<Byte>(colour[1]),
                                static_cast<Byte>(colour[2])};
  return colour_index(rgb.data());
}

}  // namespace mnemon::test
