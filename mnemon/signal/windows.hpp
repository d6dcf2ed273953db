// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// The raised cosine (Hann) taper: 1 in the middle, falling to nearly 0 at every edge, rows x cols.
/// Sampled at pixel middles, so that it is symmetric and no sample is exactly 0.
[[nodiscard]] Image<float> cosine_window(int rows, int cols);

/// exp(-d² / (2 sigma²)) with d the distance of a pixel's middle from `middle`, rows x cols.
/// \param middle  In continuous coordinates, px.
/// \param sigma_px  Above 0.
[[nodiscard]] Image<float> gaussian_goal(int rows, int cols, Point middle, double sigma_px);

}  // namespace mnemon
