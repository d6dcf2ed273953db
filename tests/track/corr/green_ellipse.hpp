// SPDX-License-Identifier: MIT
#pragma once

#include <mnemon/base/random.hpp>
#include <mnemon/track/corr/cell_features.hpp>
#include <mnemon/track/corr/target_colours.hpp>

namespace mnemon::test {

// A green ellipse on grey ground with some noise.
inline Image<Byte> green_ellipse(int side, double half_w, double half_h) {
  Image<Byte> picture(side, side, 3);
  Random random(9);
  for (int r = 0; r < side; ++r)
    for (int c = 0; c < side; ++c) {
      const double u = (c + 0.5 - side / 2.0) / half_w;
      const double v = (r + 0.5 - side / 2.0) / half_h;
      const bool inside = u * u + v * v < 1;
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>((inside && k != 1 ? 30
                                              : inside         ? 190
                                                               : 110) +
                                             random.uniform(0, 20));
    }
  return picture;
}

inline Image<float> likelihood_of(const CellFeatures& features, const ColourModel& model) {
  Image<float> cells(features.stack().rows, features.stack().cols);
  cell_likelihood_into(features.colours(), model, cells.view());
  return cells;
}

}  // namespace mnemon::test
