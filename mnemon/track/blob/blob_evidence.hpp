// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>

namespace mnemon {

/// Where the cells of a window lie in the frame, and which of them match.
struct CellGrid {
  float level = 0.5f;     ///< Weights above it match.
  int left = 0, top = 0;  ///< The first pixel.
  int block = 1;          ///< Pixels along a cell's side.
};

/// How much each cell of a window speaks for the target.
struct BlobEvidence {
  ImageView<const float> weights;  ///< In [0, 1].
  CellGrid grid;                   ///< Where the cells lie.
};

/// The most cells of a window of evidence along a side.
inline constexpr int kMostEvidenceSide = 192;

}  // namespace mnemon
