// SPDX-License-Identifier: MIT
#include <mnemon/score/holds.hpp>

#include <algorithm>
#include <functional>

namespace mnemon {
namespace {

bool is_right(const FrameScore& frame) { return frame.present && frame.found && exceeds(frame.overlap, 0.5); }

HoldPoint hold_point(double confidence, double right, double found, double present) {
  return {confidence, ratio(right, found), ratio(right, present), ratio(2 * right, found + present)};
}

double present_count(std::span<const FrameScore> frames) {
  return static_cast<double>(std::ranges::count(frames, true, &FrameScore::present));
}

}  // namespace

HoldPoint holds(std::span<const FrameScore> frames) {
  const auto right = std::ranges::count_if(frames, is_right);
  const auto found = std::ranges::count(frames, true, &FrameScore::found);
  return hold_point(0, static_cast<double>(right), static_cast<double>(found), present_count(frames));
}

std::vector<HoldPoint> hold_curve(std::span<const FrameScore> frames) {
  std::vector<const FrameScore*> found;
  for (const FrameScore& frame : frames)
    if (frame.found) found.push_back(&frame);
  std::ranges::sort(found, std::greater<>(), &FrameScore::confidence);
  const double present = present_count(frames);
  std::vector<HoldPoint> curve;
  double right = 0;
  for (std::size_t i = 0; i < found.size(); ++i) {
    right += is_right(*found[i]) ? 1 : 0;
    const bool last_of_its_confidence =
        i + 1 == found.size() || found[i + 1]->confidence != found[i]->confidence;
    if (last_of_its_confidence)
      curve.push_back(hold_point(found[i]->confidence, right, static_cast<double>(i + 1), present));
  }
  std::ranges::reverse(curve);
  return curve;
}

Figure best_f(std::span<const HoldPoint> curve) {
  Figure best;
  for (const HoldPoint& point : curve)
    if (point.f && (!best || *point.f > *best)) best = point.f;
  return best;
}

}  // namespace mnemon
