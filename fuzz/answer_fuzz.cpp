// SPDX-License-Identifier: MIT
#include <mnemon/run/process/process_link.hpp>

#include <cmath>

#include <nlohmann/json.hpp>

#include "target.hpp"

// What a process answers is an estimate of finite numbers, or an error.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  try {
    const Estimate estimate = estimate_of_result(result_of_answer(std::string(fuzz::text_of(data, size)), 7));
    const Box& box = estimate.box.box;
    for (const double number : {box.x, box.y, box.w, box.h, estimate.box.angle_deg})
      fuzz::require(std::isfinite(number));
    fuzz::require(estimate.confidence >= 0 && estimate.confidence <= 1);
  } catch (const Error&) {
  }
  return 0;
}
