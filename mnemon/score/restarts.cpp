// SPDX-License-Identifier: MIT
#include <mnemon/score/restarts.hpp>

#include <algorithm>
#include <iterator>

#include <mnemon/score/losses.hpp>

namespace mnemon {
namespace {

// The off frames in a row that end with the loss, the first one first; settling frames count too.
std::vector<int> frames_leading_to(const FrameScores& scores, int loss, const RestartRule& rule) {
  std::vector<int> led;
  const auto after = std::ranges::upper_bound(scores.frames, loss, {}, &FrameScore::frame);
  for (auto frame = std::make_reverse_iterator(after); frame != scores.frames.rend(); ++frame) {
    if (!frame->present) continue;
    const bool restarted_since = std::ranges::any_of(
        scores.reseeds, [&](int reseed) { return reseed >= frame->frame && reseed < loss; });
    if (restarted_since || !is_off(*frame, rule.loss_overlap) ||
        led.size() == static_cast<std::size_t>(rule.loss_patience))
      break;
    led.push_back(frame->frame);
  }
  std::ranges::reverse(led);
  return led;
}

}  // namespace

std::vector<Stretch> find_stretches(const FrameScores& scores, const RestartRule& rule) {
  std::vector<Stretch> stretches;
  std::vector<int> starts{scores.seed_frame};
  starts.insert(starts.end(), scores.reseeds.begin(), scores.reseeds.end());
  for (std::size_t i = 0; i < starts.size(); ++i) {
    const int until = i + 1 < starts.size() ? starts[i + 1] : scores.last_frame + 1;
    const auto loss = std::ranges::find_if(scores.losses, [&](int f) { return f > starts[i] && f < until; });
    if (loss == scores.losses.end()) {
      stretches.push_back({std::min(until, scores.last_frame) - starts[i], false});
      continue;
    }
    const std::vector<int> led = frames_leading_to(scores, *loss, rule);
    stretches.push_back({(led.empty() ? *loss : led.front()) - starts[i], true});
  }
  return stretches;
}

std::vector<SurvivalPoint> survival_curve(std::span<const Stretch> stretches) {
  std::vector<Stretch> sorted(stretches.begin(), stretches.end());
  std::ranges::sort(sorted, {}, &Stretch::frames);
  std::vector<SurvivalPoint> curve;
  double share = 1;
  for (std::size_t i = 0; i < sorted.size();) {
    const std::size_t at_risk = sorted.size() - i;
    const int n = sorted[i].frames;
    std::size_t lost = 0;
    for (; i < sorted.size() && sorted[i].frames == n; ++i) lost += sorted[i].lost ? 1 : 0;
    if (lost == 0) continue;
    share *= 1 - static_cast<double>(lost) / static_cast<double>(at_risk);
    curve.push_back({n, share});
  }
  return curve;
}

Figure median_hold(std::span<const SurvivalPoint> curve) {
  const auto half =
      std::ranges::find_if(curve, [](const SurvivalPoint& p) { return !exceeds(p.share, 0.5); });
  if (half == curve.end()) return std::nullopt;
  return half->n;
}

Figure held_overlap(const FrameScores& scores, const RestartRule& rule) {
  std::vector<int> led;
  for (const int loss : scores.losses)
    for (const int frame : frames_leading_to(scores, loss, rule)) led.push_back(frame);
  std::ranges::sort(led);
  std::vector<double> overlaps;
  for (const FrameScore& frame : scores.frames)
    if (frame.scored && frame.present && !std::ranges::binary_search(led, frame.frame))
      overlaps.push_back(frame.overlap);
  return mean(overlaps);
}

}  // namespace mnemon
