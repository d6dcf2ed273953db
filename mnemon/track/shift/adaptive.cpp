// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/adaptive.hpp>

namespace mnemon {

Estimate ShiftAdaptive::do_seed(const Frame& frame, const Region& region, const Box& box) {
  const Estimate seeded =
      follower_.start(frame, region, box, params_,
                      [this](ColourTarget& target, Ellipse& ellipse) { shape_.fit(target, ellipse); });
  shape_ = ShapeFit(follower_.target(), follower_.ellipse(),
                    {params_.most_growth, params_.turn_rate, params_.turns});
  return seeded;
}

}  // namespace mnemon
