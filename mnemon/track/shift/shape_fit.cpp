// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/shape_fit.hpp>

#include <algorithm>
#include <array>
#include <cmath>

namespace mnemon {
namespace {

constexpr double kSumTo = 1.5;          // sizes of the ellipse that moments are summed to
constexpr double kLeastLengthy = 0.15;  // below it a target is round, and has no turn
constexpr double kLeastShare = 0.2;     // of the seeded sides
// A target whose colours hardly stand out keeps its size; the more they do, the faster it may change.
constexpr double kSizedFrom = 0.15;        // contrast from which the size changes at all
constexpr double kSizedFreelyFrom = 0.6;   // and from which it is measured alone
constexpr double kMargin = 0.01;           // of the score, that a change of size must gain
constexpr double kSteps[] = {0.05, 0.02};  // growths tried, coarse then fine

double score_of(const ColourTarget& target, const Ellipse& ellipse) noexcept {
  const Moments inside = target.back_projection().moments_in(ellipse);
  return inside.mass - target.level() * inside.count;
}

}  // namespace

ShapeFit::ShapeFit(const ColourTarget& target, const Ellipse& ellipse, const Limits& limits)
    : limits_(limits), seed_(ellipse), seed_lie_(lie_of(target, ellipse)) {
  constexpr double kMostOff = 1.5;  // a fit that is further from the box than this is of something else
  Ellipse fitted = ellipse;
  size(target, fitted, kMostOff);
  box_over_fit_ = {ellipse.half_w / fitted.half_w, ellipse.half_h / fitted.half_h};
}

ShapeFit::Lie ShapeFit::lie_of(const ColourTarget& target, const Ellipse& ellipse) noexcept {
  const Moments m = target.back_projection().moments_above(grown(ellipse, kSumTo), target.level());
  const double half_trace = 0.5 * (m.xx + m.yy);
  const double root = std::hypot(0.5 * (m.xx - m.yy), m.xy);
  if (!(m.mass > 0) || !(half_trace > 0)) return {};
  return {0.5 * std::atan2(2 * m.xy, m.xx - m.yy) * kDegreesInRadian, root / half_trace};
}

void ShapeFit::fit(ColourTarget& target, Ellipse& ellipse) noexcept {
  if (limits_.turns) {
    const Lie lie = lie_of(target, ellipse);
    if (std::min(lie.lengthy, seed_lie_.lengthy) >= kLeastLengthy) {
      const double turned = (lie.angle_deg - seed_lie_.angle_deg) - (ellipse.angle_deg - seed_.angle_deg);
      Ellipse tried = ellipse;
      tried.angle_deg += limits_.turn_rate * folded_angle_deg(turned);
      if (score_of(target, tried) >= score_of(target, ellipse)) ellipse = tried;
    }
  }
  Ellipse fitted{ellipse.middle, ellipse.half_w / box_over_fit_.x, ellipse.half_h / box_over_fit_.y,
                 ellipse.angle_deg};
  const double sure =
      std::clamp((target.usual_contrast() - kSizedFrom) / (kSizedFreelyFrom - kSizedFrom), 0.0, 1.0);
  size(target, fitted, std::pow(limits_.most_growth, sure));
  ellipse.half_w = std::max(kLeastShare * seed_.half_w, fitted.half_w * box_over_fit_.x);
  ellipse.half_h = std::max(kLeastShare * seed_.half_h, fitted.half_h * box_over_fit_.y);
  target.shift(ellipse);
}

// Climbs to the best sum by growing or shrinking both sides, or one, a step at a time.
void ShapeFit::size(const ColourTarget& target, Ellipse& ellipse, double most_growth) const noexcept {
  constexpr std::array<Point, 6> kWays = {{{1, 1}, {-1, -1}, {1, 0}, {-1, 0}, {0, 1}, {0, -1}}};
  const Ellipse before = ellipse;
  double best = score_of(target, ellipse);
  for (const double step : kSteps)
    for (bool climbs = true; climbs;) {
      climbs = false;
      for (const Point way : kWays) {
        Ellipse tried = ellipse;
        tried.half_w *= std::exp(step * way.x);
        tried.half_h *= std::exp(step * way.y);
        const double w = tried.half_w / before.half_w;
        const double h = tried.half_h / before.half_h;
        if (std::max({w, h, 1 / w, 1 / h}) > most_growth) continue;
        const double score = score_of(target, tried);
        if (!(score > best + kMargin * std::abs(best))) continue;
        best = score;
        ellipse = tried;
        climbs = true;
        break;
      }
    }
}

}  // namespace mnemon
