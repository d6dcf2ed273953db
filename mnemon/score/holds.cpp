// SPDX-License-Identifier: MIT
#include <mnemon/score/holds.hpp>

#include <cstdint>

namespace mnemon {
namespace {

bool is_right(const FrameScore& frame) { return frame.present && frame.found && exceeds(frame.overlap, 0.5); }

HoldPoint hold_point(double confidence, double right, double found, double present) {
  return {confidence, ratio(right, found), ratio(right, present), ratio(2 * right, found + present)};
}

}  // namespace

HoldPoint holds(std::span<const FrameScore> frames) {
  int right = 0;
  int found = 0;
  int present = 0;
  for (const FrameScore& frame : frames) {
    right += is_right(frame) ? 1 : 0;
    found += frame.found ? 1 : 0;
    present += frame.present ? 1 : 0;
  }
  return hold_point(0, right, found, present);
}

std::vector<HoldPoint> hold_curve(std::span<const FrameScore> frames) {
  std::vector<double> confidences(frames.size());
  std::vector<char> rights(frames.size());
  std::size_t found = 0;
  double present = 0;
  double right = 0;  // among the claims at least as sure as the one at hand
  for (const FrameScore& frame : frames) {
    present += frame.present ? 1 : 0;
    confidences[found] = frame.confidence;
    rights[found] = is_right(frame) ? 1 : 0;
    right += rights[found];
    found += frame.found ? 1 : 0;
  }
  confidences.resize(found);
  std::vector<HoldPoint> curve;
  curve.reserve(found);
  auto left = static_cast<double>(found);
  double last = 0;
  for (const std::uint32_t i : rising_order(confidences)) {
    if (curve.empty() || confidences[i] != last)
      curve.push_back(hold_point(confidences[i], right, left, present));
    last = confidences[i];
    right -= rights[i];
    left -= 1;
  }
  return curve;
}

Figure best_f(std::span<const HoldPoint> curve) {
  Figure best;
  for (const HoldPoint& point : curve)
    if (point.f && (!best || *point.f > *best)) best = point.f;
  return best;
}

}  // namespace mnemon
