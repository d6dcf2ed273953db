// SPDX-License-Identifier: MIT
#include <mnemon/score/holds.hpp>

#include <algorithm>
#include <cstdint>
#include <utility>

namespace mnemon {
namespace {

bool is_right(const FrameScore& frame) { return frame.present && frame.found && exceeds(frame.overlap, 0.5); }

}  // namespace

HoldPoint holds(std::span<const FrameScore> frames) {
  HoldPoint all;
  for (const FrameScore& frame : frames) {
    all.right += is_right(frame) ? 1 : 0;
    all.found += frame.found ? 1 : 0;
    all.present += frame.present ? 1 : 0;
  }
  return all;
}

std::vector<HoldPoint> hold_curve(std::span<const FrameScore> frames) {
  std::vector<double> confidences(frames.size());
  std::vector<char> rights(frames.size());
  std::size_t found = 0;
  HoldPoint point;  // of the claims at least as sure as the one at hand
  for (const FrameScore& frame : frames) {
    point.present += frame.present ? 1 : 0;
    confidences[found] = frame.confidence;
    rights[found] = is_right(frame) ? 1 : 0;
    point.right += rights[found];
    found += frame.found ? 1 : 0;
  }
  confidences.resize(found);
  point.found = static_cast<int>(found);
  std::vector<HoldPoint> curve;
  curve.reserve(found);
  for (const std::uint32_t i : rising_order(confidences)) {
    const double last = std::exchange(point.confidence, confidences[i]);
    if (curve.empty() || point.confidence != last) curve.push_back(point);
    point.right -= rights[i];
    point.found -= 1;
  }
  return curve;
}

Figure best_f(std::span<const HoldPoint> curve) {
  // Shares are compared by whole numbers, without a division for each point.
  const auto is_more = [](const HoldPoint& a, const HoldPoint& b) {
    return std::int64_t{a.right} * (b.found + b.present) > std::int64_t{b.right} * (a.found + a.present);
  };
  const HoldPoint* best = nullptr;
  for (const HoldPoint& point : curve)
    if (point.found + point.present > 0 && (best == nullptr || is_more(point, *best))) best = &point;
  return best == nullptr ? Figure{} : best->f();
}

}  // namespace mnemon
