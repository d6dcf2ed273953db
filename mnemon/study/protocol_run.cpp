// SPDX-License-Identifier: MIT
#include <mnemon/study/protocol_run.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>

namespace mnemon {
namespace {

constexpr std::array kRates{5., 10., 15., 24., 25., 30., 50., 60., 90., 120., 240., 480., 960.};
constexpr double kLiveShare = 0.95;
constexpr int kNotLost = -1;
constexpr double kClockSlackMs = 1e-9;  // so that rounding does not decide which frame has arrived

TraceRow skipped_row(int frame) {
  constexpr double kNone = std::numeric_limits<double>::quiet_NaN();
  return {frame, {{kNone, kNone, kNone, kNone}, 0}, 0, false, {}, Event::skip};
}

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

// An answer and when it is there.
struct Answer {
  double ready_ms = 0;
  TraceRow row;
};

// The rows of a live run, once it is known what was taken and when each answer was there.
Trace live_trace(const std::vector<Answer>& answers, int first, int last, double period_ms) {
  Trace trace;
  std::size_t next = 0;   // the first answer that is not there yet
  std::size_t taken = 0;  // the answer to the next frame that was taken
  for (int frame = first; frame <= last; ++frame) {
    const double next_arrival_ms = (frame - first + 1) * period_ms;
    while (next < answers.size() && answers[next].ready_ms <= next_arrival_ms + kClockSlackMs) ++next;
    TraceRow row = next > 0 ? answers[next - 1].row : skipped_row(frame);
    row.frame = frame;
    const bool is_taken = taken < answers.size() && answers[taken].row.frame == frame;
    row.event = is_taken ? answers[taken].row.event : Event::skip;
    row.step_ms = is_taken ? answers[taken].row.step_ms : std::nullopt;
    taken += is_taken ? 1 : 0;
    trace.rows.push_back(row);
  }
  return trace;
}

bool keeps_up(const Trace& whole, double period_ms) {
  return std::ranges::all_of(
      whole.rows, [&](const TraceRow& row) { return row.step_ms.value_or(0) <= period_ms + kClockSlackMs; });
}

void keep_mask(const Tracker& tracker, const TraceRow& row, Trace& trace) {
  if (row.present && !tracker.mask().empty()) trace.masks.push_back({row.frame, runs_of(tracker.mask())});
}

}  // namespace

Trace follow_unaided(Tracker& tracker, FrameSource& frames, const Start& start, StepLimit limit) {
  skip_to(frames, start.frame, "the sequence");
  Trace trace;
  follow_frames(
      tracker, frames, {.region = start.box, .from = {}, .to = {}, .width = {}, .limit = limit},
      [&](const Frame&) { return std::optional<Region>(start.box); },
      [&](const TraceRow& row, const Frame* frame, const Tracker& asked) {
        trace.rows.push_back(row);
        if (frame != nullptr) keep_mask(asked, row, trace);
        return true;
      });
  return trace;
}

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
    if (is_first) seed = start.box;
    if (again_from != kNotLost && frame->index >= again_from && right != nullptr && right->present &&
        reaches(right->visible, params.min_visible))
      seed = upright_around(right->box);
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

Trace follow_live(Tracker& tracker, FrameSource& frames, const Start& start, int count, double rate_hz,
                  const ClockOf& clock, StepLimit limit) {
  const double period_ms = 1000 / rate_hz;
  skip_to(frames, start.frame, "the sequence");
  std::vector<Answer> answers;
  int last = start.frame - 1;  // taken or passed over
  double free_ms = 0;
  while (true) {
    const double arrived = start.frame + std::floor((free_ms + kClockSlackMs) / period_ms);
    if (arrived >= count) break;  // by then the run is over
    while (last + 1 < arrived && frames.skip()) ++last;
    const auto newest = frames.next();
    if (!newest) break;
    last = newest->index;
    const double begin_ms = std::max(free_ms, (last - start.frame) * period_ms);
    const std::optional<Region> seed = answers.empty() ? std::optional<Region>(start.box) : std::nullopt;
    TraceRow row = timed_step(tracker, *newest, seed, limit);
    if (clock) row.step_ms = clock(last, *row.step_ms);
    free_ms = begin_ms + *row.step_ms;
    answers.push_back({free_ms, row});
  }
  return live_trace(answers, start.frame, count - 1, period_ms);
}

Figure highest_live_rate(const std::function<std::unique_ptr<Tracker>()>& make, const OpenFrames& open,
                         const Start& start, const Truth& truth, const Trace& whole) {
  const ScoreOptions unaided{.help = Help::unaided};
  const Figure aim = score_run(truth, whole, unaided).success_area;
  if (!aim || *aim == 0) return std::nullopt;
  const auto time_of = [&](int frame, double measured_ms) {
    const TraceRow* row = whole.find(frame);
    return row != nullptr ? row->step_ms.value_or(measured_ms) : measured_ms;
  };
  for (auto rate = kRates.rbegin(); rate != kRates.rend(); ++rate) {
    if (keeps_up(whole, 1000 / *rate)) return *rate;
    const Trace live = follow_live(*make(), *open(), start, whole.rows.back().frame + 1, *rate, time_of);
    const Figure area = score_run(truth, live, unaided).success_area;
    if (area && reaches(*area, kLiveShare * *aim)) return *rate;
  }
  return std::nullopt;
}

}  // namespace mnemon
