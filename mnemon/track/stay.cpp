// SPDX-License-Identifier: MIT
#include <mnemon/track/stay.hpp>

namespace mnemon {

Estimate Stay::do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) {
  box_ = box;
  return {{box_, 0}, 1, true};
}

Estimate Stay::do_follow(const Frame& /*frame*/) { return {{box_, 0}, 1, true}; }

}  // namespace mnemon
