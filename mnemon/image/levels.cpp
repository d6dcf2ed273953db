// SPDX-License-Identifier: MIT
#include <mnemon/image/levels.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {

Levels levels_of(ImageView<const float> picture) noexcept {
  if (picture.empty()) return {};
  Levels levels{picture(0, 0), picture(0, 0)};
  for (int r = 0; r < picture.rows; ++r)
    for (int c = 0; c < picture.row_length(); ++c) {
      levels.low = std::min(levels.low, picture.row(r)[c]);
      levels.high = std::max(levels.high, picture.row(r)[c]);
    }
  return levels;
}

Image<Byte> bytes_between(ImageView<const float> picture, Levels levels) {
  const float range = levels.high > levels.low ? levels.high - levels.low : 1.0f;
  Image<Byte> bytes(picture.rows, picture.cols, picture.channels);
  for (int r = 0; r < picture.rows; ++r)
    for (int c = 0; c < picture.row_length(); ++c) {
      const float share = std::clamp((picture.row(r)[c] - levels.low) / range, 0.0f, 1.0f);
      bytes.view().row(r)[c] = static_cast<Byte>(std::lround(255 * share));
    }
  return bytes;
}

}  // namespace mnemon
