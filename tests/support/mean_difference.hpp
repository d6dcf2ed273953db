// SPDX-License-Identifier: MIT
#pragma once
#include <cmath>
#include <cstdlib>

#include <mnemon/image/image.hpp>

namespace mnemon::test {

/// By how much two pictures of one shape differ on average.
inline double mean_difference(const Image<Byte>& a, const Image<Byte>& b) {
  double sum = 0;
  for (std::size_t i = 0; i < a.elements().size(); ++i) sum += std::abs(a.elements()[i] - b.elements()[i]);
  return sum / static_cast<double>(a.elements().size());
}

}  // namespace mnemon::test
