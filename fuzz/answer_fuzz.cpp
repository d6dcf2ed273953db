// SPDX-License-Identifier: MIT
#include <mnemon/run/process/process_detector.hpp>
#include <mnemon/run/process/process_link.hpp>

#include <cmath>

#include <nlohmann/json.hpp>

#include "target.hpp"

// What a process answers is an estimate of finite numbers, or places with scores, or an error.
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
  try {
    double last = 1;
    for (const FoundPlace& place :
         places_of_result(result_of_answer(std::string(fuzz::text_of(data, size)), 7))) {
      fuzz::require(place.score >= 0 && place.score <= last && place.box.box.w > 0);
      last = place.score;
    }
  } catch (const Error&) {
  }
  return 0;
}
