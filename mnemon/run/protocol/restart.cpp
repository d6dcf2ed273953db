// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/restart.hpp>

#include <optional>

#include <mnemon/run/following.hpp>
#include <mnemon/run/protocol/skipped_row.hpp>
#include <mnemon/run/protocol/unaided.hpp>

namespace mnemon {
namespace {

constexpr int kNotLost = -1;

// Counts off frames in a row, as losses are counted.
class LossWatch {
 public:
  explicit LossWatch(const RestartParams& params) : params_(params) {}

  void start_afresh() { off_in_a_row_ = 0; }

  // Whether this answer makes the loss certain.
  bool is_lost_with(const TruthRow* truth, const TraceRow& answer) {
    if (truth == nullptr || !truth->present) return false;
    const double shared = is_found(answer) ? overlap(truth->box, answer.box) : 0;
    off_in_a_row_ = reaches(shared, params_.loss_overlap) ? 0 : off_in_a_row_ + 1;
    return off_in_a_row_ >= params_.loss_patience;
  }

 private:
  const RestartParams& params_;
  int off_in_a_row_ = 0;
};

}  // namespace

Trace follow_with_restarts(Tracker& tracker, FrameSource& frames, const Start& start, const Truth& truth,
                           const RestartParams& params, StepLimit limit) {
  skip_to(frames, start.frame, "the sequence");
  Trace trace;
  LossWatch watch(params);
  int again_from = kNotLost;  // the first frame on which it may be started again
  while (const auto frame = frames.next()) {
    const bool is_first = trace.rows.empty();
    const TruthRow* right = truth.find(frame->index);
    std::optional<Region> seed;
    if (is_first) seed = start.region();
    if (again_from != kNotLost && frame->index >= again_from && right != nullptr && right->present &&
        reaches(right->visible, params.min_visible))
      seed = region_of(right->box);
    if (again_from != kNotLost && !seed) {
      trace.rows.push_back(skipped_row(frame->index));
      continue;
    }
    TraceRow row = timed_step(tracker, *frame, seed, limit);
    if (seed && !is_first) row.event = Event::reseed;
    if (seed) {
      again_from = kNotLost;
      watch.start_afresh();
    } else if (watch.is_lost_with(right, row)) {
      row.event = Event::loss;
      again_from = frame->index + params.restart_gap;
    }
    trace.rows.push_back(row);
    keep_mask(tracker, row, trace);
  }
  return trace;
}

ProtocolEntry restart_protocol() {
  const auto params_of = [](const ParamSet& set) { return bound_params<RestartParams>(set, "restart"); };
  return {
      .name = "restart",
      .summary = "Started afresh from truth after each loss.",
      .schema = schema_of<RestartParams>(),
      .is_timed = [](const ParamSet&) { return false; },
      .starts = [](const ParamSet&, const Truth& truth) { return first_start(truth); },
      .run = [params_of](const ParamSet& set, const ProtocolGround& ground) -> ProtocolRun {
        return {follow_with_restarts(*ground.make(), *ground.open(), ground.start, ground.truth,
                                     params_of(set), ground.limit)};
      },
      .score_options =
          [params_of](const ParamSet& set) {
            const RestartParams rules = params_of(set);
            ScoreOptions options;
            options.help = Help::restart;
            options.rule = {rules.loss_overlap, rules.loss_patience, rules.restart_settle};
            return options;
          },
      .columns = {"restarts_per_1000", "held_overlap", "median_hold", "success_area", "success_at_0.5",
                  "median_centre_error", "hold_f", "absence_rate"},
      .figures = {"survival"},
  };
}

}  // namespace mnemon
