// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/mask/cell_samples.hpp>

namespace mnemon {

inline constexpr float kLeastShape = 0.2f;  ///< Of a cell that counts as the target's.
inline constexpr float kTolerated = 2.0f;   ///< Squared difference of a cell that counts half.

/// How a patch at a pose agrees with an appearance.
struct Agreement {
  double light = 0;     ///< By how much it is lighter on average.
  double likeness = 0;  ///< With that taken away, in [0, 1]: 1 where nothing differs.
};

/// Compares what a patch shows at a pose to an appearance, as far as its cells are visible; a null `visible` says that all
/// are.
[[nodiscard]] Agreement agreement(const CellSamples& seen, const Appearance& appearance,
                                  const CellPlane* visible = nullptr) noexcept;

/// Only by how much it is lighter, of all cells.
[[nodiscard]] double lighter_by(const CellSamples& seen, const Appearance& appearance) noexcept;

/// How what a patch shows at a pose goes with an appearance: the correlation of light and colours over its cells, each
/// channel about its mean, in [-1, 1]; 1 where both are plain. It tells a place of like colours from the target, which the
/// likeness of a target with little contrast does not. `visible` as above.
[[nodiscard]] double correlation(const CellSamples& seen, const Appearance& appearance,
                                 const CellPlane* visible = nullptr) noexcept;

}  // namespace mnemon
