// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/unaided.hpp>

#include <mnemon/run/following.hpp>

namespace mnemon {
void keep_mask(const Tracker& tracker, const TraceRow& row, Trace& trace) {
  if (row.present && !tracker.mask().empty()) trace.masks.push_back({row.frame, runs_of(tracker.mask())});
}

Trace follow_unaided(Tracker& tracker, FrameSource& frames, const Start& start, StepLimit limit) {
  skip_to(frames, start.frame, "the sequence");
  Following following(tracker, frames, {.last = {}, .width = {}, .limit = limit},
                      [&](const Frame&, bool has_target) {
                        return has_target ? std::nullopt : std::optional<Region>(start.box);
                      });
  Trace trace;
  while (const auto step = following.step()) {
    trace.rows.push_back(step->row);
    if (step->frame != nullptr) keep_mask(tracker, step->row, trace);
  }
  return trace;
}

ProtocolRun run_unaided(const ProtocolGround& ground) {
  return {follow_unaided(*ground.make(), *ground.open(), ground.start, ground.limit)};
}

std::vector<Start> first_start(const Truth& truth) {
  const TruthRow& first = *truth.first_present();
  return {{first.frame, upright_around(first.box)}};
}

ScoreOptions unaided_scores() { return {.help = Help::unaided}; }

std::vector<std::string> columns_of_several_runs() {
  return {"success_area", "spread",       "least",  "success_at_0.5",  "hit_rate_20",   "median_centre_error",
          "hold_f",       "absence_rate", "losses", "recovered_share", "returned_share"};
}

}  // namespace mnemon
