// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/live.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include <mnemon/run/following.hpp>
#include <mnemon/run/protocol/skipped_row.hpp>
#include <mnemon/run/protocol/unaided.hpp>

namespace mnemon {
namespace {

constexpr std::array kRates{5., 10., 15., 24., 25., 30., 50., 60., 90., 120., 240., 480., 960.};
constexpr double kLiveShare = 0.95;
constexpr double kClockSlackMs = 1e-9;  // so that rounding does not decide which frame has arrived

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

// The rate that is followed, and with the times of a run on every frame the highest that is nearly as good.
ProtocolRun run_live(const LiveParams& params, const ProtocolGround& ground) {
  const Trace whole = follow_unaided(*ground.make(), *ground.open(), ground.start, ground.limit);
  const double rate_hz = params.rate_hz > 0 ? params.rate_hz : ground.rate_hz;
  const Figure area = score_run(ground.truth, whole, {.help = Help::unaided}).success_area;
  std::vector<RateArea> areas = areas_by_rate(ground.make, ground.open, ground.start, ground.truth, whole);
  const Figure highest = highest_live_rate(areas, area);
  return {follow_live(*ground.make(), *ground.open(), ground.start, whole.rows.back().frame + 1, rate_hz, {},
                      ground.limit),
          highest, std::move(areas)};
}

}  // namespace

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
    const std::optional<Region> seed = answers.empty() ? std::optional<Region>(start.region()) : std::nullopt;
    TraceRow row = timed_step(tracker, *newest, seed, limit);
    if (clock) row.step_ms = clock(last, *row.step_ms);
    free_ms = begin_ms + *row.step_ms;
    answers.push_back({free_ms, row});
  }
  return live_trace(answers, start.frame, count - 1, period_ms);
}

std::vector<RateArea> areas_by_rate(const MakeTracker& make, const OpenFrames& open, const Start& start,
                                    const Truth& truth, const Trace& whole) {
  const ScoreOptions unaided{.help = Help::unaided};
  const auto time_of = [&](int frame, double measured_ms) {
    const TraceRow* row = whole.find(frame);
    return row != nullptr ? row->step_ms.value_or(measured_ms) : measured_ms;
  };
  std::vector<RateArea> areas;
  for (const double rate : kRates) {
    if (keeps_up(whole, 1000 / rate)) {
      areas.push_back({rate, score_run(truth, whole, unaided).success_area});
      continue;
    }
    const Trace live = follow_live(*make(), *open(), start, whole.rows.back().frame + 1, rate, time_of);
    areas.push_back({rate, score_run(truth, live, unaided).success_area});
  }
  return areas;
}

Figure highest_live_rate(const std::vector<RateArea>& areas, const Figure& whole) {
  if (!whole || *whole == 0) return std::nullopt;
  for (auto one = areas.rbegin(); one != areas.rend(); ++one)
    if (one->success_area && reaches(*one->success_area, kLiveShare * *whole)) return one->rate_hz;
  return std::nullopt;
}

ProtocolEntry live_protocol() {
  return {
      .name = "live",
      .summary = "On the frames that a camera would have delivered by the time the tracker is free.",
      .schema = schema_of<LiveParams>(),
      .is_timed = [](const ParamSet&) { return true; },
      .starts = [](const ParamSet&, const Truth& truth) { return first_start(truth); },
      .run =
          [](const ParamSet& set, const ProtocolGround& ground) {
            return run_live(bound_params<LiveParams>(set, "live"), ground);
          },
      .score_options = [](const ParamSet&) { return unaided_scores(); },
      .columns = {"success_area", "skipped_share", "highest_rate_hz", "success_at_0.5", "median_centre_error",
                  "losses", "step_ms_p50", "step_ms_p95"},
      .figures = {},
  };
}

}  // namespace mnemon
