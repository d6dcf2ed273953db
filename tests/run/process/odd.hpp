// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include <mnemon/run/process/process_tracker.hpp>

#include "support/drawn_target.hpp"

namespace mnemon::test {

// Of the pictures that processes are shown.
inline constexpr int kOddRows = 96;
inline constexpr int kOddCols = 128;

// With a target on its way.
inline Image<Byte> picture_of(int i) {
  return drawn_picture(std::vector{DrawnTarget{{{58 + 0.8 * i, 43 + 0.5 * i}, 18, 13, 0}}}, kOddRows,
                       kOddCols, static_cast<std::uint64_t>(i));
}

// A process that does something odd.
inline ProcessSpec odd(const std::string& way) {
  ProcessSpec spec;
  spec.command = {MNEMON_ODD_PROCESS, way};
  spec.step_limit_ms = 3000;
  return spec;
}

}  // namespace mnemon::test
