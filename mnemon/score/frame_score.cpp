// SPDX-License-Identifier: MIT
#include <mnemon/score/frame_score.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

constexpr double kNever = std::numeric_limits<double>::infinity();

// Where a frame stands between losses and reseeds.
enum class Standing { scored, settling, left_out };

class Standings {
 public:
  Standings(const Trace& trace, int last, int settle) : settle_(settle) {
    for (const TraceRow& row : trace.rows)
      if (row.frame <= last && (row.event == Event::loss || row.event == Event::reseed))
        events_.push_back(&row);
  }

  // Frames are asked for in rising order.
  Standing of(int frame) {
    while (next_ < events_.size() && events_[next_]->frame < frame) ++next_;
    if (next_ < events_.size() && events_[next_]->frame == frame && events_[next_]->event == Event::reseed)
      return Standing::left_out;
    if (next_ == 0) return Standing::scored;
    const TraceRow& before = *events_[next_ - 1];
    if (before.event == Event::loss) return Standing::left_out;
    return frame <= before.frame + settle_ ? Standing::settling : Standing::scored;
  }

 private:
  int settle_;
  std::vector<const TraceRow*> events_;
  std::size_t next_ = 0;
};

// std::hypot guards against squares that overflow, at ten times the cost; where they do, infinity is right.
double length(double x, double y) noexcept { return std::sqrt(x * x + y * y); }

int seed_frame_of(const Trace& trace, int last) {
  if (trace.rows.empty() || trace.rows.front().frame > last)
    throw CallError("the trace has no rows to score; it needs at least the seed frame's");
  const auto seed = std::ranges::find(trace.rows, Event::seed, &TraceRow::event);
  return seed == trace.rows.end() ? trace.rows.front().frame : seed->frame;
}

FrameScore score_one(const TruthRow& truth, const TraceRow* estimate) {
  if (estimate != nullptr && truth.present && is_found(*estimate)) return compare(truth, *estimate);
  FrameScore score;
  score.frame = truth.frame;
  score.present = truth.present;
  score.missing = estimate == nullptr;
  score.found = estimate != nullptr && is_found(*estimate);
  score.confidence = estimate != nullptr ? estimate->confidence : 1;
  score.centre_error_px = score.relative_error = kNever;
  return score;
}

}  // namespace

bool is_found(const TraceRow& row) noexcept {
  return row.present && is_proper(row.box.box) && std::isfinite(row.box.angle_deg) &&
         std::isfinite(row.confidence);
}

FrameScore compare(const TruthRow& truth, const TraceRow& estimate) noexcept {
  FrameScore score;
  score.frame = truth.frame;
  score.found = true;
  score.confidence = estimate.confidence;
  score.overlap = overlap(truth.box, estimate.box);
  const Point right = centre(truth.box.box);
  const Point guess = centre(estimate.box.box);
  const double dx = guess.x - right.x;
  const double dy = guess.y - right.y;
  score.centre_error_px = length(dx, dy);
  if (!is_turned(truth.box)) {
    score.relative_error = length(dx / truth.box.box.w, dy / truth.box.box.h);
    return score;
  }
  const double turn = truth.box.angle_deg * std::numbers::pi / 180;
  const double along = dx * std::cos(turn) + dy * std::sin(turn);
  const double aside = dy * std::cos(turn) - dx * std::sin(turn);
  score.relative_error = length(along / truth.box.box.w, aside / truth.box.box.h);
  if (is_turned(estimate.box))
    score.angle_error_deg = std::abs(std::remainder(truth.box.angle_deg - estimate.box.angle_deg, 180.0));
  return score;
}

FrameScores score_frames(const Truth& truth, const Trace& trace, std::optional<int> last, int settle) {
  const int end = last.value_or(std::numeric_limits<int>::max());
  FrameScores scores;
  scores.seed_frame = seed_frame_of(trace, end);
  scores.last_frame = scores.seed_frame;
  for (const TraceRow& row : trace.rows) {
    if (row.frame > end) break;
    scores.last_frame = std::max(scores.last_frame, row.frame);
    if (row.event == Event::loss) scores.losses.push_back(row.frame);
    if (row.event == Event::reseed) scores.reseeds.push_back(row.frame);
  }
  Standings standings(trace, end, settle);
  scores.frames.reserve(truth.rows.size());
  auto estimate = trace.rows.begin();
  for (const TruthRow& row : truth.rows) {
    if (row.frame > end) break;
    scores.last_frame = std::max(scores.last_frame, row.frame);
    const Standing standing = standings.of(row.frame);
    if (row.frame <= scores.seed_frame || standing == Standing::left_out) continue;
    while (estimate != trace.rows.end() && estimate->frame < row.frame) ++estimate;
    const bool has_row = estimate != trace.rows.end() && estimate->frame == row.frame;
    scores.frames.push_back(score_one(row, has_row ? &*estimate : nullptr));
    scores.frames.back().scored = standing == Standing::scored;
  }
  return scores;
}

}  // namespace mnemon
