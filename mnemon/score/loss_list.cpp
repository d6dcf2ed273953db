// SPDX-License-Identifier: MIT
#include <mnemon/score/loss_list.hpp>

#include <algorithm>
#include <cmath>
#include <map>

#include <mnemon/score/losses.hpp>

namespace mnemon {
namespace {

constexpr int kFramesBefore = 5;
constexpr int kFramesLookedAt = 15;  // of a stretch: what began it, not what came of it
constexpr double kOnAnother = 0.3;   // overlap
constexpr double kShareOnAnother = 1.0 / 3;
constexpr double kSizeOff = 4;  // ratio of areas

using Frames = std::span<const FrameScore>;

// What can be looked up about a run's frames.
struct Run {
  Frames frames;
  const Truth& truth;
  const Trace& trace;
};

Frames from_to(Frames frames, int begin, std::optional<int> end) {
  const auto first = std::ranges::lower_bound(frames, begin, {}, &FrameScore::frame);
  const auto last = end ? std::ranges::lower_bound(frames, *end, {}, &FrameScore::frame) : frames.end();
  return {first, std::max(first, last)};
}

std::span<const OtherRow> others_on(const Truth& truth, int frame) {
  const auto range = std::ranges::equal_range(truth.others, frame, {}, &OtherRow::frame);
  return {range.begin(), range.end()};
}

// The frames before a stretch on which the target was present, the nearest ones.
void add_before(const Run& run, int begin, TroubleRow& row) {
  std::vector<double> overlaps;
  std::vector<double> confidences;
  const Frames before = from_to(run.frames, run.frames.empty() ? 0 : run.frames.front().frame, begin);
  for (auto at = before.rbegin(); at != before.rend() && overlaps.size() < kFramesBefore; ++at) {
    if (!at->present) continue;
    overlaps.push_back(at->overlap);
    confidences.push_back(at->confidence);
  }
  row.overlap_before = mean(overlaps);
  row.confidence_before = mean(confidences);
}

struct OnOther {
  int frames = 0;
  double overlap = 0;
};

// Looks for the look-alike that the answers lay on. \returns  Whether that was so for a good part of the frames.
bool find_other(const Run& run, Frames looked_at, TroubleRow& row) {
  std::map<std::string, OnOther> on;
  for (const FrameScore& frame : looked_at) {
    const TraceRow* const answer = frame.found ? run.trace.find(frame.frame) : nullptr;
    if (answer == nullptr) continue;
    for (const OtherRow& other : others_on(run.truth, frame.frame)) {
      const double shared = overlap(other.box, answer->box);
      // Where the target is in front of it, an answer on it need not be wrong.
      if (shared < kOnAnother || shared <= frame.overlap) continue;
      ++on[other.name].frames;
      on[other.name].overlap += shared;
    }
  }
  const auto most = std::ranges::max_element(on, {}, [](const auto& one) { return one.second.frames; });
  if (most == on.end()) return false;
  row.other = most->first;
  row.overlap_with_other = most->second.overlap / most->second.frames;
  return most->second.frames >= kShareOnAnother * static_cast<double>(looked_at.size());
}

// Where the target was on the last frame before that it was held on, or present on.
const TruthRow* last_held(const Run& run, int begin) {
  const TruthRow* seed = nullptr;
  for (const TruthRow& row : run.truth.rows) {
    if (row.frame >= begin) break;
    if (row.present) seed = &row;
  }
  return seed;
}

bool contains(const Box& box, Point at) {
  return at.x >= box.x && at.y >= box.y && at.x < box.x + box.w && at.y < box.y + box.h;
}

// Which of the ways of being off a claimed box shows, over all frames together.
TroubleCause cause_of_place(const Run& run, Frames looked_at, int begin) {
  const TruthRow* const held = last_held(run, begin);
  int sized = 0;
  int behind = 0;
  int claimed = 0;
  for (const FrameScore& frame : looked_at) {
    const TraceRow* const answer = frame.found ? run.trace.find(frame.frame) : nullptr;
    const TruthRow* const right = run.truth.find(frame.frame);
    if (answer == nullptr || right == nullptr || !right->present) continue;
    ++claimed;
    const Box& truth = right->box.box;
    const Box& box = answer->box.box;
    const double areas = box.w * box.h / (truth.w * truth.h);
    if ((areas > kSizeOff || areas < 1 / kSizeOff) &&
        (contains(truth, centre(box)) || contains(box, centre(truth))))
      ++sized;
    if (held == nullptr) continue;
    const Point from = centre(held->box.box);
    const Point at = centre(box);
    const double size = std::sqrt(held->box.box.w * held->box.box.h);
    if (std::hypot(at.x - from.x, at.y - from.y) <= size) ++behind;
  }
  if (2 * sized > claimed) return TroubleCause::shrank_or_swelled;
  return 2 * behind > claimed ? TroubleCause::stayed_behind : TroubleCause::went_elsewhere;
}

int silent_frames(Frames frames) {
  return static_cast<int>(std::ranges::count(frames, false, &FrameScore::found));
}

TroubleRow loss_row(const Run& run, const Loss& loss) {
  TroubleRow row;
  row.begin = loss.begin;
  const Frames whole = from_to(run.frames, loss.begin, loss.end);
  row.frames = loss.end ? *loss.end - loss.begin : run.frames.back().frame + 1 - loss.begin;
  row.end = loss.end ? TroubleEnd::recovered : TroubleEnd::never;
  row.said_lost = silent_frames(whole) > 0;
  add_before(run, loss.begin, row);
  const Frames looked_at = whole.first(std::min<std::size_t>(whole.size(), kFramesLookedAt));
  if (find_other(run, looked_at, row))
    row.cause = TroubleCause::took_another;
  else if (2 * silent_frames(looked_at) > static_cast<int>(looked_at.size()))
    row.cause = TroubleCause::said_lost;
  else
    row.cause = cause_of_place(run, looked_at, loss.begin);
  return row;
}

constexpr int kNever = -1;  // instead of the frame that it is held again on

TroubleRow absence_row(const Run& run, int begin, int back, int held, bool in_time) {
  TroubleRow row;
  row.kind = Trouble::absence;
  row.begin = begin;
  row.frames = (held == kNever ? run.frames.back().frame + 1 : held) - begin;
  row.absent_frames = back - begin;
  row.end = held == kNever ? TroubleEnd::never : in_time ? TroubleEnd::recovered : TroubleEnd::late;
  const Frames away = from_to(run.frames, begin, back);
  const int silent = silent_frames(away);
  row.said_lost = silent > 0;
  add_before(run, begin, row);
  if (find_other(run, away, row))
    row.cause = TroubleCause::took_another;
  else
    row.cause =
        2 * silent > static_cast<int>(away.size()) ? TroubleCause::told : TroubleCause::claimed_what_is_not;
  return row;
}

// The frame that is the n-th present one from `first` on.
int present_frame(Frames frames, int first, int n) {
  for (const FrameScore& frame : from_to(frames, first, {}))
    if (frame.present && --n == 0) return frame.frame;
  return first;
}

void add_absences(const Run& run, std::vector<TroubleRow>& rows) {
  const std::vector<Return> returns = find_returns(run.frames, {});
  std::size_t next = 0;
  for (std::size_t i = 0; i < run.frames.size();) {
    if (run.frames[i].present) {
      ++i;
      continue;
    }
    const int begin = run.frames[i].frame;
    while (i < run.frames.size() && !run.frames[i].present) ++i;
    if (i == run.frames.size()) {
      rows.push_back(absence_row(run, begin, run.frames.back().frame + 1, kNever, false));
      // Nobody can hold what does not come back: that is no failure.
      rows.back().end = TroubleEnd::recovered;
      continue;
    }
    const Return& back = returns.at(next++);
    const int held = back.frames ? present_frame(run.frames, back.frame, *back.frames) : kNever;
    rows.push_back(absence_row(run, begin, back.frame, held, back.returned));
  }
}

}  // namespace

std::string_view cause_text(TroubleCause cause) noexcept {
  switch (cause) {
    case TroubleCause::took_another:
      return "took another";
    case TroubleCause::said_lost:
      return "said lost";
    case TroubleCause::shrank_or_swelled:
      return "shrank or swelled";
    case TroubleCause::stayed_behind:
      return "stayed behind";
    case TroubleCause::went_elsewhere:
      return "went elsewhere";
    case TroubleCause::told:
      return "told";
    case TroubleCause::claimed_what_is_not:
      break;
  }
  return "claimed what is not there";
}

std::string_view end_text(TroubleEnd end) noexcept {
  if (end == TroubleEnd::recovered) return "recovered";
  return end == TroubleEnd::late ? "returned late" : "never came back";
}

std::string_view trouble_text(Trouble kind) noexcept { return kind == Trouble::loss ? "loss" : "absence"; }

std::vector<TroubleRow> troubles(std::span<const FrameScore> frames, const Truth& truth, const Trace& trace) {
  if (frames.empty()) return {};
  const Run run{frames, truth, trace};
  std::vector<TroubleRow> rows;
  for (const Loss& loss : find_losses(frames)) rows.push_back(loss_row(run, loss));
  add_absences(run, rows);
  std::ranges::stable_sort(rows, {}, &TroubleRow::begin);
  return rows;
}

std::vector<TroubleRow> troubles_of_run(const Truth& truth, const Trace& trace, const ScoreOptions& options) {
  const FrameScores scores = score_frames(truth, trace, options.last, options.rule.settle);
  const bool restarted = !scores.losses.empty() || !scores.reseeds.empty();
  if (options.help.value_or(restarted ? Help::restart : Help::unaided) == Help::restart) return {};
  return troubles(scores.frames, truth, trace);
}

}  // namespace mnemon
