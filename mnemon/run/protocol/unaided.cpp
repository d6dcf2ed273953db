// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/unaided.hpp>

#include <utility>

#include <mnemon/run/following.hpp>

namespace mnemon {
void keep_mask(const Tracker& tracker, const TraceRow& row, Trace& trace) {
  if (row.present && !tracker.mask().empty()) trace.masks.push_back({row.frame, runs_of(tracker.mask())});
}

Trace follow_unaided(Tracker& tracker, FrameSource& frames, const Start& start, StepLimit limit) {
  skip_to(frames, start.frame, "the sequence");
  Following following(tracker, frames, {.last = {}, .limit = limit}, [&](const Frame&, bool has_target) {
    return has_target ? std::nullopt : std::optional<Region>(start.region());
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
  return {{first.frame, first.box}};
}

ScoreOptions unaided_scores() { return {.help = Help::unaided}; }

ProtocolEntry of_several_runs(std::string name, std::string summary, Schema schema, StartsOf starts) {
  return {
      .name = std::move(name),
      .summary = std::move(summary),
      .schema = std::move(schema),
      .is_timed = [](const ParamSet&) { return false; },
      .starts = std::move(starts),
      .has_several_starts = true,
      .run = [](const ParamSet&, const ProtocolGround& ground) { return run_unaided(ground); },
      .score_options = [](const ParamSet&) { return unaided_scores(); },
      .columns = {"success_area", "spread", "least", "success_at_0.5", "hit_rate_20", "median_centre_error",
                  "hold_f", "absence_rate", "losses", "recovered_share", "returned_share"},
      .figures = {},
  };
}

}  // namespace mnemon
