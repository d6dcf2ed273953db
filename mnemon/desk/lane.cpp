// SPDX-License-Identifier: MIT
#include <mnemon/desk/lane.hpp>

#include <algorithm>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/track/shown_tracker.hpp>

namespace mnemon {
namespace {

bool has_key(const std::vector<std::string>& keys, const std::string& key) {
  return std::ranges::find(keys, key) != keys.end();
}

}  // namespace

MakeTracker maker_of(const Catalogue& catalogue, const TrackerSettings& settings,
                     const std::vector<Polygon>& keep_out) {
  MakeTracker make = [&catalogue, settings, keep_out] {
    return shown(catalogue.make(settings.tracker, settings.set), {.keep_out = keep_out});
  };
  static_cast<void>(make());  // refuses what is not allowed now, and not at the first step
  return make;
}

Lane::Lane(const Catalogue& catalogue, FrameShelf& frames, TrackerSettings settings,
           std::vector<Polygon> keep_out)
    : catalogue_(catalogue),
      frames_(frames),
      settings_(std::move(settings)),
      keep_out_(std::move(keep_out)),
      session_(made(settings_, keep_out_)) {}

std::unique_ptr<Session> Lane::made(const TrackerSettings& settings,
                                    const std::vector<Polygon>& keep_out) const {
  auto session = std::make_unique<Session>(maker_of(catalogue_, settings, keep_out), frames_);
  for (const SessionMark& mark : marks_) session->mark(mark);
  return session;
}

std::unique_ptr<Session> Lane::take(std::unique_ptr<Session> session) {
  generation_ += session_->generation() + 1;
  std::swap(session_, session);
  failure_.clear();
  film_.clear();
  return session;
}

void Lane::retune(TrackerSettings settings, int frame) {
  auto session = made(settings, keep_out_);
  const Schema& schema = entry().schema;
  const bool at_step = settings.tracker == settings_.tracker && entry().retune &&
                       differ_at_step_only(settings.set, settings_.set, schema);
  if (!at_step) forget_trial();
  tried_ = at_step ? tried_with(settings, frame) : On();
  before_ = take(std::move(session));
  before_settings_ = std::exchange(settings_, std::move(settings));
}

// What cannot be tried is not: the row itself comes soon, or says why it cannot.
Lane::On Lane::tried_with(const TrackerSettings& settings, int frame) {
  try {
    while (prepare(frame)) {
    }
    if (before_frame_.frame != frame) return {};
    On tried{frame, before_frame_.tracker->clone()};
    entry().retune(*tried.tracker, settings.set);
    tried.row = SmoothedSteps().take(*tried.tracker, frames_.at(frame).frame(), std::nullopt);
    return tried;
  } catch (const Error&) {
    return {};
  }
}

const TraceRow* Lane::tried() const {
  return tried_.tracker && session_->row(tried_.frame) == nullptr ? &tried_.row : nullptr;
}

bool Lane::is_trial_of(int frame) const { return tried() != nullptr && tried_.frame == frame; }

bool Lane::prepare(int frame) {
  const bool is_mark =
      std::ranges::any_of(marks_, [&](const SessionMark& one) { return one.frame == frame; });
  if (!entry().retune || is_mark || before_frame_.frame == frame || session_->row(frame - 1) == nullptr)
    return false;
  try {
    const Tracker* const before = session_->towards(frame - 1);
    if (before == nullptr) return true;
    std::unique_ptr<Tracker> clone = before->clone();
    if (clone) before_frame_ = {frame, std::move(clone), {}, generation()};
  } catch (const Error&) {  // which the row itself will say
  }
  return false;
}

Tracker& Lane::tracker_on(Moment moment, int frame) {
  if (moment == Moment::before && !before_)
    throw CallError("nothing was changed yet, so there is no 'before'");
  if (moment == Moment::now && is_trial_of(frame)) return *tried_.tracker;
  return (moment == Moment::now ? session_ : before_)->tracker_on(frame);
}

void Lane::forget_trial() {
  before_frame_ = {};
  tried_ = {};
}

void Lane::set_keep_out(std::vector<Polygon> areas) {
  auto session = made(settings_, areas);
  if (before_) before_ = made(*before_settings_, areas);
  keep_out_ = std::move(areas);
  forget_trial();
  static_cast<void>(take(std::move(session)));
}

void Lane::set_marks(const std::vector<SessionMark>& marks, const std::vector<std::string>& keys) {
  for (std::size_t i = 0; i < keys_.size(); ++i)
    if (!has_key(keys, keys_[i])) {
      session_->unmark(marks_[i].frame);
      if (before_) before_->unmark(marks_[i].frame);
    }
  for (std::size_t i = 0; i < keys.size(); ++i)
    if (!has_key(keys_, keys[i])) {
      session_->mark(marks[i]);
      if (before_) before_->mark(marks[i]);
    }
  if (keys != keys_) forget_trial();
  marks_ = marks;
  keys_ = keys;
  failure_.clear();
  film_.clear();
}

bool Lane::step(int to, int first) {
  if (!failure_.empty()) return false;
  const std::size_t known = session_->log().size();
  try {
    // Coming to the frame that is looked at, it is there already.
    const bool comes_now =
        first <= to && session_->row(first) == nullptr && session_->row(first - 1) != nullptr;
    if (comes_now && before_frame_.generation != generation()) before_frame_ = {};
    if (comes_now) static_cast<void>(prepare(first));
    if (!session_->step(to, first)) return false;
    if (watched_.empty() || session_->log().size() == known) return true;
    const int frame = session_->log().back().frame;
    for (const Stage& stage : session_->tracker_on(frame).stages()) {
      const std::string name(stage.name);
      if (!stage.picture.empty() && watched_.contains(name) && film_.find(frame, name) == nullptr)
        film_.add(frame, shown_stage(stage));
    }
  } catch (const Error& error) {
    failure_ = error.what();
  }
  return true;
}

std::optional<ShownStage> Lane::stage(Moment moment, int frame, const std::string& name) {
  if (moment == Moment::now)
    if (const ShownStage* const kept = film_.find(frame, name)) return *kept;
  for (const Stage& stage : tracker_on(moment, frame).stages()) {
    if (stage.name != name || stage.picture.empty()) continue;
    ShownStage shown = shown_stage(stage);
    if (moment == Moment::now && !is_trial_of(frame)) film_.add(frame, shown);
    return shown;
  }
  return std::nullopt;
}

void Lane::again(int frame) {
  session_->again(frame);
  forget_trial();
  failure_.clear();
}

}  // namespace mnemon
