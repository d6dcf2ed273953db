// SPDX-License-Identifier: MIT
#include <mnemon/score/holds.hpp>

#include <algorithm>

#include <mnemon/score/spread.hpp>

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
  struct Claim {
    double confidence;
    bool right;
  };
  std::vector<Claim> claims;
  claims.reserve(frames.size());
  double present = 0;
  double right = 0;  // among the claims at least as sure as the one at hand
  for (const FrameScore& frame : frames) {
    present += frame.present ? 1 : 0;
    if (!frame.found) continue;
    claims.push_back({frame.confidence, is_right(frame)});
    right += claims.back().right ? 1 : 0;
  }
  claims =
      detail::in_order(std::span<const Claim>(claims), [](const Claim& claim) { return claim.confidence; });
  std::vector<HoldPoint> curve;
  curve.reserve(claims.size());
  double left = static_cast<double>(claims.size());
  for (std::size_t i = 0; i < claims.size();) {
    curve.push_back(hold_point(claims[i].confidence, right, left, present));
    const double confidence = claims[i].confidence;
    for (; i < claims.size() && claims[i].confidence == confidence; ++i) {
      right -= claims[i].right ? 1 : 0;
      left -= 1;
    }
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
