// SPDX-License-Identifier: MIT
#include <mnemon/score/run_score.hpp>

#include <algorithm>
#include <cmath>
#include <memory>

#include <mnemon/score/curves.hpp>

namespace mnemon {
namespace {

void add_counts(std::span<const FrameScore> frames, RunScore& score) {
  int missing = 0;
  int rightly_absent = 0;
  for (const FrameScore& frame : frames) {
    missing += frame.missing ? 1 : 0;
    rightly_absent += frame.present || frame.found ? 0 : 1;
  }
  score.holds = holds(frames);
  score.scored_frames = static_cast<int>(frames.size());
  score.present_frames = score.holds.present;
  score.absent_frames = score.scored_frames - score.present_frames;
  score.found_frames = score.holds.found;
  score.missing_frames = missing;
  score.absence_rate = ratio(rightly_absent, score.absent_frames);
}

// Numbers put behind each other in memory that is there at once: a number that does not count is written over.
class Column {
 public:
  explicit Column(std::size_t most) : values_(std::make_unique_for_overwrite<double[]>(most)) {}
  void add(double value, bool counts) noexcept {
    values_[count_] = value;
    count_ += counts ? 1 : 0;
  }
  [[nodiscard]] std::span<const double> values() const noexcept { return {values_.get(), count_}; }

 private:
  std::unique_ptr<double[]> values_;  // filled as it grows
  std::size_t count_ = 0;
};

void add_place_figures(std::span<const FrameScore> frames, RunScore& score) {
  Column overlap(frames.size() + 1);
  Column error(frames.size() + 1);
  Column relative_error(frames.size() + 1);
  Column found_error(frames.size() + 1);
  std::vector<double> angles;
  for (const FrameScore& frame : frames) {
    overlap.add(frame.overlap, frame.present);
    error.add(frame.centre_error_px, frame.present);
    relative_error.add(frame.relative_error, frame.present);
    found_error.add(frame.centre_error_px, frame.present && frame.found);
    if (frame.angle_error_deg) angles.push_back(*frame.angle_error_deg);
  }
  const std::span<const double> overlaps = overlap.values();
  const std::span<const double> found_errors = found_error.values();
  score.success_area = mean(overlaps);
  score.overlap_curve = overlap_curve(overlaps);
  score.success_at_half = at_step(score.overlap_curve, 50);
  score.success_at_three_quarters = at_step(score.overlap_curve, 75);
  score.centre_curve = centre_curve(error.values());
  score.hit_rate_20 = at_step(score.centre_curve, 20);
  score.relative_centre_curve = relative_centre_curve(relative_error.values());
  score.relative_centre_area = area(score.relative_centre_curve);
  score.median_centre_error = median(found_errors);
  score.found_share = ratio(static_cast<double>(found_errors.size()), static_cast<double>(overlaps.size()));
  score.angle_frames = static_cast<int>(angles.size());
  score.angle_error_mean = mean(angles);
  score.angle_error_median = median(angles);
}

// Both rows are by rising frame; frames that do not count are not among the scores.
void add_positions(std::span<const FrameScore> frames, const Truth& truth, const Trace& trace,
                   RunScore& score) {
  std::vector<double> errors;
  for (const FrameScore& frame : frames) {
    if (!frame.present || !frame.found) continue;
    const TruthRow* const right = truth.find(frame.frame);
    const TraceRow* const row = trace.find(frame.frame);
    if (right == nullptr || row == nullptr || !right->position || !row->position) continue;
    const PositionMm& a = *right->position;
    const PositionMm& b = *row->position;
    errors.push_back(std::hypot(b.x - a.x, b.y - a.y, b.z - a.z) / std::hypot(a.x, a.y, a.z));
  }
  score.position_frames = static_cast<int>(errors.size());
  score.position_error_median = median(errors);
}

// Rows and masks are by rising frame.
const FrameRuns* mask_of(const std::vector<FrameRuns>& masks, int frame) {
  const auto at = std::ranges::lower_bound(masks, frame, {}, &FrameRuns::frame);
  return at == masks.end() || at->frame != frame ? nullptr : &*at;
}

void add_masks(std::span<const FrameScore> frames, const Truth& truth, const Trace& trace, RunScore& score) {
  if (truth.masks.empty() || trace.masks.empty()) return;
  std::vector<double> overlaps;
  for (const FrameScore& frame : frames) {
    const FrameRuns* const right = frame.present ? mask_of(truth.masks, frame.frame) : nullptr;
    if (right == nullptr) continue;
    const FrameRuns* const found = frame.found ? mask_of(trace.masks, frame.frame) : nullptr;
    if (found != nullptr)
      overlaps.push_back(overlap(right->runs, found->runs));
    else if (!frame.found)
      overlaps.push_back(0);
  }
  score.mask_frames = static_cast<int>(overlaps.size());
  score.mean_mask_overlap = mean(overlaps);
}

void add_returns(std::span<const FrameScore> frames, std::span<const int> restarts, RunScore& score) {
  score.returns = find_returns(frames, restarts);
  std::vector<double> waits;
  for (const Return& back : score.returns)
    if (back.returned) waits.push_back(*back.frames);
  score.returned_share = ratio(static_cast<double>(waits.size()), static_cast<double>(score.returns.size()));
  score.frames_to_return = median(waits);
}

void add_restarts(const FrameScores& scores, const RestartRule& rule, RunScore& score) {
  score.restarts = static_cast<int>(scores.reseeds.size());
  score.restarts_per_1000 = ratio(1000.0 * score.restarts, scores.last_frame - scores.seed_frame);
  score.held_overlap = held_overlap(scores, rule);
  score.stretches = find_stretches(scores, rule);
  score.survival = survival_curve(score.stretches);
  score.median_hold = median_hold(score.survival);
}

void add_speed(std::span<const TraceRow> rows, int seed_frame, RunScore& score) {
  const StepTimes times = step_times(rows, seed_frame);
  score.speed = summarise_speed(times.step_ms, times.seed_ms);
  score.skipped_share = ratio(times.skipped, times.after_seed);
}

std::span<const TraceRow> up_to(const Trace& trace, std::optional<int> last) {
  if (!last) return trace.rows;
  return {trace.rows.begin(), std::ranges::upper_bound(trace.rows, *last, {}, &TraceRow::frame)};
}

bool is_within(const std::vector<FrameSpan>& spans, int frame) {
  return std::ranges::any_of(spans, [=](FrameSpan span) { return frame >= span.from && frame <= span.to; });
}

}  // namespace

RunScore score_run(const Truth& truth, const Trace& trace, const ScoreOptions& options) {
  const FrameScores scores = score_frames(truth, trace, options.last, options.rule.settle);
  std::vector<FrameScore> some;  // where not all count
  std::span<const FrameScore> scored = scores.frames;
  if (!scores.reseeds.empty() || !options.within.empty()) {
    some = scores.frames;
    std::erase_if(some, [&](const FrameScore& frame) {
      return !frame.scored || (!options.within.empty() && !is_within(options.within, frame.frame));
    });
    scored = some;
  }
  const bool restarted = !scores.losses.empty() || !scores.reseeds.empty();
  RunScore score;
  score.help = options.help.value_or(restarted ? Help::restart : Help::unaided);
  score.seed_frame = scores.seed_frame;
  add_counts(scored, score);
  add_place_figures(scored, score);
  score.hold_curve = hold_curve(scored);
  score.best_f = best_f(score.hold_curve);
  if (scores.has_positions) add_positions(scored, truth, trace, score);
  add_masks(scored, truth, trace, score);
  if (!options.within.empty()) return score;
  add_returns(scored, scores.losses, score);
  if (score.help == Help::restart)
    add_restarts(scores, options.rule, score);
  else
    score.losses = summarise_losses(scored, scores.seed_frame);
  add_speed(up_to(trace, options.last), scores.seed_frame, score);
  return score;
}

}  // namespace mnemon
