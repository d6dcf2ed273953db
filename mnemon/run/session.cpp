// SPDX-License-Identifier: MIT
#include <mnemon/run/session.hpp>

#include <algorithm>
#include <iterator>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kMostOfStretch = 12;  // trackers that a stretch keeps
constexpr std::size_t kMostKept = 36;       // and all of them together

}  // namespace

Session::Session(MakeTracker make, FrameShelf& frames, double smooth_s)
    : make_(std::move(make)), frames_(frames), smooth_s_(smooth_s) {}

void Session::mark(SessionMark mark) {
  if (mark.frame < 0) throw CallError(fmt::format("there is no frame {}", mark.frame));
  const auto at =
      std::ranges::lower_bound(stretches_, mark.frame, {}, [](const Stretch& one) { return one.mark.frame; });
  const bool is_first = at == stretches_.begin();
  if (at != stretches_.end() && at->mark.frame == mark.frame) {
    at->mark = std::move(mark);
    restart(*at);
  } else {
    // The stretch before ends here: what it says of later frames is void.
    if (!is_first) {
      Stretch& before = *std::prev(at);
      const auto left = static_cast<std::size_t>(mark.frame - before.mark.frame);
      if (before.rows.size() > left) {
        before.rows.resize(left);
        std::erase_if(before.kept, [&mark](const Kept& one) { return one.frame >= mark.frame; });
        before.live.reset();
      }
    }
    const auto made = stretches_.insert(at, Stretch{std::move(mark), SmoothedSteps(smooth_s_), nullptr, {}});
    // What was the first stretch until now is one of many.
    if (is_first && std::next(made) != stretches_.end()) restart(*std::next(made));
  }
  forget();
}

bool Session::unmark(int frame) {
  const auto at = std::ranges::find(stretches_, frame, [](const Stretch& one) { return one.mark.frame; });
  if (at == stretches_.end()) return false;
  const bool was_first = at == stretches_.begin();
  const auto next = stretches_.erase(at);
  if (was_first && next != stretches_.end()) restart(*next);
  forget();
  return true;
}

void Session::again(int frame) {
  if (stretches_.empty() || frame < stretches_.front().mark.frame) return;
  restart(stretches_[stretch_of(frame)]);
  forget();
}

const TraceRow* Session::row(int frame) const {
  if (stretches_.empty() || frame < stretches_.front().mark.frame) return nullptr;
  const Stretch& stretch = stretches_[stretch_of(frame)];
  const auto at = static_cast<std::size_t>(frame - stretch.mark.frame);
  return at < stretch.rows.size() ? &stretch.rows[at] : nullptr;
}

bool Session::step(int to, int first) {
  if (stretches_.empty() || to < stretches_.front().mark.frame) return false;
  const std::size_t begin = first < stretches_.front().mark.frame ? 0 : stretch_of(first);
  for (std::size_t i = 0; i < stretches_.size(); ++i) {
    const std::size_t at = (begin + i) % stretches_.size();
    if (is_done(at, to)) continue;
    step_in(at);
    return true;
  }
  return false;
}

const TraceRow& Session::seek(int frame) {
  if (stretches_.empty() || frame < stretches_.front().mark.frame)
    throw CallError(fmt::format("the target is not marked up to frame {}", frame));
  const std::size_t at = stretch_of(frame);
  while (!is_done(at, frame)) step_in(at);
  return *row(frame);
}

Tracker& Session::tracker_on(int frame) {
  static_cast<void>(seek(frame));
  for (;;)
    if (Tracker* const there = towards(frame)) return *there;
}

Tracker* Session::towards(int frame) {
  Stretch& stretch = stretches_[stretch_of(frame)];
  const int first = stretch.mark.frame;
  if (stretch.live && first + static_cast<int>(stretch.rows.size()) - 1 == frame) return stretch.live.get();
  const Kept* nearest = nullptr;
  for (const Kept& one : stretch.kept)
    if (one.frame <= frame) nearest = &one;
  const bool goes_on = looked_.tracker && looked_.frame >= first && looked_.frame <= frame &&
                       (nearest == nullptr || looked_.frame >= nearest->frame);
  if (!goes_on) {
    looked_ = {nearest != nullptr ? nearest->frame : first - 1,
               nearest != nullptr ? nearest->tracker->clone() : make_()};
    if (nearest == nullptr && &stretch == stretches_.data() && looked_.tracker->watches())
      for (int i = 0; i < first; ++i) looked_.tracker->watch(frames_.at(i).frame());
  }
  if (looked_.frame < frame) {
    const KeptFrame next = frames_.at(looked_.frame + 1);
    static_cast<void>(
        SmoothedSteps().take(*looked_.tracker, next.frame(),
                             next.index == first ? std::optional(stretch.mark.region) : std::nullopt));
    ++looked_.frame;
  }
  return looked_.frame == frame ? looked_.tracker.get() : nullptr;
}

std::optional<int> Session::last_frame() const {
  for (auto at = stretches_.rbegin(); at != stretches_.rend(); ++at)
    if (!at->rows.empty()) return at->rows.back().frame;
  return std::nullopt;
}

Trace Session::trace() const {
  Trace trace;
  for (const Stretch& stretch : stretches_)
    trace.rows.insert(trace.rows.end(), stretch.rows.begin(), stretch.rows.end());
  return trace;
}

// The stretch that a frame from the first mark on lies in.
std::size_t Session::stretch_of(int frame) const {
  const auto after =
      std::ranges::upper_bound(stretches_, frame, {}, [](const Stretch& one) { return one.mark.frame; });
  return static_cast<std::size_t>(std::distance(stretches_.begin(), after)) - 1;
}

// Behind its last frame up to `to`.
int Session::end_of(std::size_t stretch, int to) const {
  const bool is_last = stretch + 1 == stretches_.size();
  return is_last ? to + 1 : std::min(to + 1, stretches_[stretch + 1].mark.frame);
}

bool Session::is_done(std::size_t stretch, int to) const {
  const Stretch& one = stretches_[stretch];
  return one.mark.frame + static_cast<int>(one.rows.size()) >= end_of(stretch, to);
}

void Session::step_in(std::size_t place) {
  Stretch& stretch = stretches_[place];
  if (!stretch.live) {
    // A stretch that was cut short goes on from where it is, if that can be told: the smoothing's state is gone.
    if (!stretch.rows.empty() && smooth_s_ == 0) stretch.live = tracker_on(stretch.rows.back().frame).clone();
    if (!stretch.live) {
      restart(stretch);
      stretch.live = make_();
    }
  }
  const int frame = stretch.mark.frame + static_cast<int>(stretch.rows.size());
  const bool is_seed = stretch.rows.empty();
  if (is_seed && place == 0 && stretch.watched < frame && stretch.live->watches()) {
    stretch.live->watch(frames_.at(stretch.watched++).frame());
    return;
  }
  TraceRow row = stretch.steps.take(*stretch.live, frames_.at(frame).frame(),
                                    is_seed ? std::optional(stretch.mark.region) : std::nullopt);
  if (is_seed && place > 0) row.event = Event::mark;
  stretch.rows.push_back(row);
  log_.push_back(row);
  if (stretch.kept.empty() || frame - stretch.kept.back().frame >= stretch.spacing) keep(stretch, place);
}

void Session::keep(Stretch& stretch, std::size_t place) {
  auto clone = stretch.live->clone();
  if (!clone) return;
  stretch.kept.push_back({stretch.rows.back().frame, std::move(clone)});
  if (stretch.kept.size() > kMostOfStretch) {
    int i = 0;
    std::erase_if(stretch.kept, [&i](const Kept&) { return i++ % 2 == 1; });
    stretch.spacing *= 2;
  }
  std::size_t all = 0;
  for (const Stretch& one : stretches_) all += one.kept.size();
  if (all <= kMostKept) return;
  // The stretch that lies furthest from this one does without.
  Stretch* furthest = nullptr;
  std::size_t most = 0;
  for (std::size_t i = 0; i < stretches_.size(); ++i) {
    const std::size_t apart = i > place ? i - place : place - i;
    if (stretches_[i].kept.empty() || apart <= most) continue;
    most = apart;
    furthest = &stretches_[i];
  }
  if (furthest != nullptr) furthest->kept.clear();
}

void Session::restart(Stretch& stretch) {
  stretch.rows.clear();
  stretch.kept.clear();
  stretch.live.reset();
  stretch.watched = 0;
  stretch.steps = SmoothedSteps(smooth_s_);
}

void Session::forget() {
  looked_ = {};
  log_ = trace().rows;
  ++generation_;
}

}  // namespace mnemon
