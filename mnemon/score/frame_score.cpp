// SPDX-License-Identifier: MIT
#include <mnemon/score/frame_score.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <limits>
#include <numbers>
#include <utility>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/geometry/box_planes.hpp>

namespace mnemon {
namespace {

constexpr double kNever = std::numeric_limits<double>::infinity();

// Where a frame stands between losses and reseeds.
enum class Standing { scored, settling, left_out };

class Standings {
 public:
  Standings(const FrameScores& scores, int settle) : scores_(scores), settle_(settle) {}

  // Frames are asked for in rising order.
  Standing of(int frame) {
    if (scores_.losses.empty() && scores_.reseeds.empty()) return Standing::scored;
    while (losses_ < scores_.losses.size() && scores_.losses[losses_] < frame) ++losses_;
    while (reseeds_ < scores_.reseeds.size() && scores_.reseeds[reseeds_] < frame) ++reseeds_;
    if (reseeds_ < scores_.reseeds.size() && scores_.reseeds[reseeds_] == frame) return Standing::left_out;
    const int lost = losses_ > 0 ? scores_.losses[losses_ - 1] : -1;
    const int started = reseeds_ > 0 ? scores_.reseeds[reseeds_ - 1] : -1;
    if (lost > started) return Standing::left_out;
    return started >= 0 && frame <= started + settle_ ? Standing::settling : Standing::scored;
  }

 private:
  const FrameScores& scores_;
  int settle_;
  std::size_t losses_ = 0;  // of those before the frame at hand
  std::size_t reseeds_ = 0;
};

// std::hypot guards against squares that overflow, at ten times the cost; where they do, infinity is right.
double length(double x, double y) noexcept { return std::sqrt(x * x + y * y); }

inline bool is_claim(const TraceRow& row) noexcept {
  const double nothing =  // unless one of them is not finite
      (row.box.angle_deg - row.box.angle_deg) + (row.confidence - row.confidence);
  return row.present & is_proper(row.box.box) & (nothing == 0);
}

}  // namespace

bool is_found(const TraceRow& row) noexcept { return is_claim(row); }

namespace {

constexpr std::size_t kBatch = 256;  // small enough to stay in the nearest cache
using Boxes = BoxBatch<kBatch>;

// Distances of the centres of upright boxes, px, and in sizes of the first ones.
MNEMON_CLONES void errors_kernel(const BoxPlanes& truth, const BoxPlanes& guess, double* __restrict error_px,
                                 double* __restrict relative) noexcept {
  const double* const tx = truth.x.data();
  const double* const ty = truth.y.data();
  const double* const tw = truth.w.data();
  const double* const th = truth.h.data();
  const double* const gx = guess.x.data();
  const double* const gy = guess.y.data();
  const double* const gw = guess.w.data();
  const double* const gh = guess.h.data();
  const std::size_t count = truth.size();
  for (std::size_t i = 0; i < count; ++i) {
    const Point right = centre(Box{tx[i], ty[i], tw[i], th[i]});
    const Point found = centre(Box{gx[i], gy[i], gw[i], gh[i]});
    const double dx = found.x - right.x;
    const double dy = found.y - right.y;
    error_px[i] = length(dx, dy);
    relative[i] = length(dx / tw[i], dy / th[i]);
  }
}

// Pairs of upright boxes, which are compared many at a time.
class UprightPairs {
 public:
  explicit UprightPairs(std::vector<FrameScore>& scores) : scores_(scores) {}

  // \param place  Of the frame's score.
  void add(const Box& truth, const Box& guess, std::size_t place) {
    places_[truths_.size()] = place;
    truths_.add(truth);
    guesses_.add(guess);
    if (truths_.is_full()) compare_all();
  }

  void compare_all() {
    std::array<double, kBatch> overlaps;
    std::array<double, kBatch> errors_px;
    std::array<double, kBatch> relative;
    overlaps_into(truths_.planes(), guesses_.planes(), std::span(overlaps).first(truths_.size()));
    errors_kernel(truths_.planes(), guesses_.planes(), errors_px.data(), relative.data());
    for (std::size_t i = 0; i < truths_.size(); ++i) {
      FrameScore& score = scores_[places_[i]];
      score.overlap = overlaps[i];
      score.centre_error_px = errors_px[i];
      score.relative_error = relative[i];
    }
    clear();
  }

  void clear() noexcept {
    truths_.clear();
    guesses_.clear();
  }

 private:
  std::vector<FrameScore>& scores_;
  Boxes truths_;
  Boxes guesses_;
  std::array<std::size_t, kBatch> places_;
};

void compare_turned(const TruthRow& truth, const TraceRow& estimate, FrameScore& score) noexcept {
  const Point right = centre(truth.box.box);
  const Point guess = centre(estimate.box.box);
  const double dx = guess.x - right.x;
  const double dy = guess.y - right.y;
  const double turn = is_turned(truth.box) ? truth.box.angle_deg * std::numbers::pi / 180 : 0;
  const double along = dx * std::cos(turn) + dy * std::sin(turn);
  const double aside = dy * std::cos(turn) - dx * std::sin(turn);
  score.overlap = overlap(truth.box, estimate.box);
  score.centre_error_px = length(dx, dy);
  score.relative_error = length(along / truth.box.box.w, aside / truth.box.box.h);
  if (is_turned(truth.box) && is_turned(estimate.box))
    score.angle_error_deg = std::abs(std::remainder(truth.box.angle_deg - estimate.box.angle_deg, 180.0));
}

// All but where the boxes lie to each other. \returns  Whether that is to be found out.
bool score_claim(const TruthRow& truth, const TraceRow* estimate, FrameScore& score) noexcept {
  score.frame = truth.frame;
  score.present = truth.present;
  score.missing = estimate == nullptr;
  score.found = estimate != nullptr && is_claim(*estimate);
  score.confidence = estimate != nullptr ? estimate->confidence : 1;
  if (truth.present && score.found) return true;
  score.centre_error_px = score.relative_error = kNever;
  return false;
}

}  // namespace

FrameScore compare(const TruthRow& truth, const TraceRow& estimate) noexcept {
  FrameScore score;
  if (score_claim(truth, &estimate, score)) compare_turned(truth, estimate, score);
  return score;
}

namespace {

// Has memory fetched for a row some rows on: rows are large, and waiting for them took a third of the time.
template <class Row>
void ask_for_rows_after(const Row& row) noexcept {
  constexpr std::size_t kLine = 64;
  constexpr std::size_t kAhead = 16;
  // A number, as it may lie beyond the last row; to ask for what is not there does nothing.
  const auto there = reinterpret_cast<std::uintptr_t>(&row) + kAhead * sizeof(Row);
  for (std::size_t i = 0; i < sizeof(Row); i += kLine)
    __builtin_prefetch(reinterpret_cast<const void*>(there + i));
}

// The rows of a trace by rising frame, each read once, as a run may be longer than the caches hold.
class RowReader {
 public:
  RowReader(const Trace& trace, int end, FrameScores& scores)
      : at_(trace.rows.begin()), stop_(trace.rows.end()), end_(end), scores_(scores) {}

  // The row of a frame, or null; frames are asked for in rising order.
  const TraceRow* row_of(int frame) {
    read_to(frame);
    return last_ != nullptr && last_->frame == frame ? last_ : nullptr;
  }
  // Reads on, up to a frame.
  void read_to(int frame) {
    for (; at_ != stop_ && at_->frame <= frame; ++at_) {
      ask_for_rows_after(*at_);
      read(*at_);
    }
  }
  [[nodiscard]] bool has_positions() const noexcept { return has_positions_; }
  [[nodiscard]] int last_frame() const noexcept { return last_frame_; }
  // Whether the seed was read since this was asked last.
  bool has_new_seed() noexcept { return std::exchange(has_new_seed_, false); }

 private:
  void read(const TraceRow& row) {
    last_ = &row;
    if (row.event != Event::none) note_event(row);
    if (row.frame > end_) return;
    last_frame_ = row.frame;
    has_positions_ = has_positions_ | row.position.has_value();
  }
  void note_event(const TraceRow& row) {
    if (row.event == Event::seed && !is_seeded_) {
      scores_.seed_frame = row.frame;
      is_seeded_ = has_new_seed_ = true;
    }
    if (row.frame > end_) return;
    if (row.event == Event::loss) scores_.losses.push_back(row.frame);
    if (row.event == Event::reseed) scores_.reseeds.push_back(row.frame);
  }

  std::vector<TraceRow>::const_iterator at_, stop_;
  const TraceRow* last_ = nullptr;
  int end_;
  FrameScores& scores_;
  bool is_seeded_ = false;
  bool has_new_seed_ = false;
  bool has_positions_ = false;
  int last_frame_ = 0;
};

}  // namespace

FrameScores score_frames(const Truth& truth, const Trace& trace, std::optional<int> last, int settle) {
  const int end = last.value_or(std::numeric_limits<int>::max());
  if (trace.rows.empty() || trace.rows.front().frame > end)
    throw CallError("the trace has no rows to score; it needs at least the seed frame's");
  FrameScores scores;
  scores.seed_frame = trace.rows.front().frame;
  int last_truth = scores.seed_frame;
  RowReader rows(trace, end, scores);
  Standings standings(scores, settle);
  scores.frames.reserve(truth.rows.size());
  UprightPairs upright(scores.frames);
  for (const TruthRow& row : truth.rows) {
    if (row.frame > end) break;
    ask_for_rows_after(row);
    last_truth = row.frame;
    const TraceRow* const estimate = rows.row_of(row.frame);
    if (rows.has_new_seed()) {  // what was before it does not count
      upright.clear();
      scores.frames.clear();
    }
    const Standing standing = standings.of(row.frame);
    const bool is_marked = estimate != nullptr && estimate->event == Event::mark;
    if (row.frame <= scores.seed_frame || standing == Standing::left_out || is_marked) continue;
    FrameScore& score = scores.frames.emplace_back();
    score.scored = standing == Standing::scored;
    if (!score_claim(row, estimate, score)) continue;
    if (row.box.angle_deg == 0 && estimate->box.angle_deg == 0)
      upright.add(row.box.box, estimate->box.box, scores.frames.size() - 1);
    else
      compare_turned(row, *estimate, score);
  }
  rows.read_to(std::numeric_limits<int>::max());
  if (rows.has_new_seed()) {
    upright.clear();
    scores.frames.clear();
  }
  upright.compare_all();
  scores.has_positions = rows.has_positions();
  scores.last_frame = std::max({rows.last_frame(), scores.seed_frame, last_truth});
  return scores;
}

}  // namespace mnemon
