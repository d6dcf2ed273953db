// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/media/canvas.hpp>

namespace mnemon {

/// The colour of the n-th tracker of a report, from 0; they repeat after seven, then with dashed lines, dotted boxes
/// and split swatches. All can be told apart in
/// every kind of colour vision. Source: Okabe and Ito 2008, colour universal design.
[[nodiscard]] Ink tracker_ink(int n) noexcept;

/// The same as `#rrggbb`.
[[nodiscard]] std::string tracker_colour(int n);

/// Whether the n-th tracker's line in a figure is dashed, as its colour is another one's already.
[[nodiscard]] bool is_tracker_dashed(int n) noexcept;

/// The kind of line of the n-th tracker, so that they are told apart even in grey. None is that of truth.
[[nodiscard]] Stroke tracker_stroke(int n) noexcept;

}  // namespace mnemon
