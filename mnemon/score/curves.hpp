// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/score/order.hpp>
/// \file
/// Curves over the present frames of a run. Each is empty where there are no frames. Source: Wu, Lim and Yang, CVPR
/// 2013 and TPAMI 2015; the relative centre error is that of Müller and others, ECCV 2018.
namespace mnemon {

/// The share of frames with overlap > t, for t = 0, 1/100, ... 1: 101 values.
/// \param overlaps  Each in [0, 1]; 0 where the target was not found.
[[nodiscard]] std::vector<double> overlap_curve(std::span<const double> overlaps);

/// The share of frames with centre error <= e, for e = 0, 1, ... 50 px: 51 values.
/// \param errors_px  Infinite where the target was not found.
[[nodiscard]] std::vector<double> centre_curve(std::span<const double> errors_px);

/// The share of frames with relative centre error <= r, for r = 0, 1/200, ... 1/2: 101 values.
/// \param errors  Infinite where the target was not found.
[[nodiscard]] std::vector<double> relative_centre_curve(std::span<const double> errors);

/// The mean of a curve's values.
[[nodiscard]] Figure area(std::span<const double> curve) noexcept;

/// A curve's value at one of its thresholds, counted from 0; null where the curve is empty.
[[nodiscard]] Figure at_step(std::span<const double> curve, int step) noexcept;

}  // namespace mnemon
