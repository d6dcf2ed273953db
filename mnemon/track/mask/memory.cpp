// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/memory.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <mnemon/track/hold/forecast.hpp>

namespace mnemon {
namespace {

constexpr int kBetweenMemories = 6;  // frames
constexpr double kMovesFrom = 0.05;  // target sizes a frame, from which staying is another forecast
constexpr double kNearReach = 0.3;   // target sizes around a place that is looked at again
constexpr double kAsUsual = 0.95;    // of the usual quality, from which a sighting is surely the target
// How much less like the target than its rivals require something may be that is where a sure forecast has it.
constexpr double kExcused = 0.5;

}  // namespace

Estimate MaskMemory::do_seed(const Frame& frame, const Region& region, const Box& box) {
  size_ = frame.size();
  last_ = target_.start(frame, region, box, params_);
  sure_ = last_;
  seed_colours_ = target_.colours();
  remembered_.start(box.w, box.h, target_.appearance(), last_.pose);
  if (params_.memory == "latest") target_.forget_seed();
  frames_since_remembered_ = 0;
  frames_ = 0;
  ridden_ = {};
  usual_memory_likeness_ = Usual(1, 1);
  usual_quality_ = Usual(1, 1);
  loop_.start(frame.size(), params_, params_);
  motion_ = BoxMotion(last_.box);
  return estimate({true, 1});
}

// The last pose, moved as its box should have.
TargetPose MaskMemory::forecast_pose() const noexcept {
  const Box box = motion_.box();
  const Point was = centre(last_.box);
  const Point now = centre(box);
  TargetPose pose = last_.pose;
  pose.middle =
      kept_in_view({pose.middle.x + now.x - was.x, pose.middle.y + now.y - was.y}, box.w, box.h, size_);
  return pose;
}

double MaskMemory::likeness_to_memory(const MaskSighting& seen) const noexcept {
  if (params_.memory == "latest") return seen.likeness / std::max(0.05, target_.usual_likeness());
  double best = 0;
  for (int i = 0; i < remembered_.size(); ++i)
    best = std::max(best, target_.likeness(remembered_[i].appearance));
  return best / std::max(0.05, usual_memory_likeness_.value());
}

MaskMemory::Seen MaskMemory::look_from(const Frame& frame, const TargetPose& from, int by, double reach,
                                       std::span<const TargetPose> known) {
  Seen seen;
  static_cast<MaskSighting&>(seen) =
      target_.look(frame, from, by == kLatest ? target_.appearance() : remembered_[by].appearance,
                   by == 0 ? seed_colours_ : target_.colours(), reach, known);
  if (seen.is_known) return seen;
  if (by != kLatest) seen.likeness = target_.likeness(target_.appearance());
  const double by_latest = seen.likeness / std::max(0.05, target_.usual_likeness());
  const double by_memory = likeness_to_memory(seen);
  seen.quality = target_.quality(seen, std::sqrt(std::max(0.0, by_latest * by_memory)));
  seen.confidence = target_.confidence(seen.quality);
  const double weight = params_.motion ? params_.motion_weight * motion_.trust() : 0;
  seen.score = (1 - weight) * seen.quality + weight * overlap(seen.box, motion_.box());
  return seen;
}

// Whether one look explains the frame about as well as usual, so that no other is needed. Now and then all are taken
// anyway: what drifts slowly looks usual.
bool MaskMemory::explains(const Seen& seen) const noexcept {
  return at_hand_ && !loop_.is_lost() && frames_ % params_.all_looks != 0 &&
         seen.quality >= kAsUsual * usual_quality_.value() &&
         !motion_.is_doubtful(overlap(seen.box, motion_.box()));
}

// Looks in several ways. The best so far is kept, mask and all, and is the last sighting in the end. Most looks find
// one and the same pose, and the first of them that does cuts it out.
MaskMemory::Seen MaskMemory::look(const Frame& frame) {
  const bool lost = loop_.is_lost();
  const TargetPose forecast = params_.motion ? forecast_pose() : last_.pose;
  Seen best;
  at_hand_ = false;
  std::array<TargetPose, 4 + kRecalls> poses;  // one a look
  std::size_t known = 0;
  const auto try_one = [&](const TargetPose& from, int by) {
    if (at_hand_) target_.keep();
    const Seen other = look_from(frame, from, by, 1, std::span(poses).first(known));
    if (!other.is_known) poses[known++] = other.pose;
    at_hand_ = other.score > best.score;
    if (at_hand_) best = other;
  };
  const Box box = motion_.box();
  const double moves =
      std::hypot(forecast.middle.x - last_.pose.middle.x, forecast.middle.y - last_.pose.middle.y);
  try_one(forecast, kLatest);
  if (explains(best) || searches_now()) return best;
  if (moves > kMovesFrom * std::sqrt(box.w * box.h)) try_one(last_.pose, kLatest);
  if (params_.memory != "latest") {
    try_one(forecast, 0);
    if (!lost && remembered_.size() > 1) try_one(forecast, 1 + frames_ % (remembered_.size() - 1));
    for (int k = 0; k < kRecalls && lost; ++k)
      try_one(remembered_[recalled(k)].pose.moved_to(forecast.middle), recalled(k));
  }
  if (params_.motion && loop_.forecast().frames_lost() == 0 && overlap(best.box, box) < BoxMotion::kJumped) {
    if (at_hand_) target_.keep();
    const Seen near = look_from(frame, forecast, kLatest, kNearReach);
    at_hand_ = near.confidence >= params_.present_from;
    if (at_hand_) best = near;
  }
  if (!lost && !at_hand_) target_.recall();
  return best;
}

// Tries the most promising place of the whole picture in the size that the target had, in that of the mask there, and
// as it was on remembered frames.
void MaskMemory::search(const Frame& frame, Seen& best) {
  const auto is_target = [&](const Seen& seen) { return loop_.is_sure(seen) && accept(frame, seen); };
  if (searches_now() && !is_target(best)) {
    TargetPose there = last_.pose;
    there.middle = target_.search(frame, last_.box);
    bool is_found = false;
    const auto try_one = [&](const TargetPose& from, int by) {
      if (at_hand_) target_.keep();
      const Seen other = look_from(frame, from, by);
      is_found = is_found || is_target(other);
      at_hand_ = other.confidence > best.confidence;
      if (at_hand_) best = other;
      return other;
    };
    const Seen first = try_one(there, kLatest);
    if (!is_found) try_one(target_.pose_of_mask(first), kLatest);
    for (int k = 0; k < kRecalls && !is_found && params_.memory != "latest"; ++k)
      try_one(remembered_[recalled(k)].pose.moved_to(there.middle), recalled(k));
    if (!is_found) target_.leave_out(there.middle);
  }
  if (!at_hand_) target_.recall();
}

MaskMemory::Seen MaskMemory::look_beside(const Frame& frame) {
  TargetPose there = last_.pose;
  there.middle = target_.search_beside(frame, motion_.box());
  target_.expect_whole(true);
  const Seen other = look_from(frame, there, kLatest, kNearReach);
  target_.expect_whole(false);
  return other;
}

bool MaskMemory::accept(const Frame& /*frame*/, const Seen& seen) const noexcept {
  const double met = overlap(seen.box, motion_.box());
  if (!loop_.is_lost() && (!params_.motion || !motion_.is_doubtful(met))) return true;
  const double excused = params_.motion ? kExcused * motion_.trust() * met : 0;
  return seen.quality >= (1 - excused) * loop_.needed();
}

Estimate MaskMemory::do_follow(const Frame& frame) {
  ++frames_;
  ridden_ = {};
  target_.take(frame);
  motion_.advance(loop_.forecast().frames_lost() == 0);
  return estimate(loop_.follow(*this, frame));
}

// What is seen at the next look is held against the forecast of the mask's own motion, which the ride does not change.
Estimate MaskMemory::ride(const BoxChange& change) {
  loop_.rest();
  motion_.advance(true);
  const Point was = last_.pose.middle;
  last_.pose = last_.pose.moved_to(change.of(was));
  last_.pose.scale *= change.growth();
  ridden_ = {ridden_.x + last_.pose.middle.x - was.x, ridden_.y + last_.pose.middle.y - was.y};
  last_.box = change.of(last_.box);
  last_.turned.box = change.of(last_.turned.box);
  last_.minor_px *= change.growth();
  return estimate({true, last_.confidence});
}

void MaskMemory::miss(const Frame& /*frame*/) {
  target_.expect_whole(true);
  loop_.missed();
  if (loop_.forecast().is_newly_lost()) target_.start_search();
  if (params_.motion) {
    const TargetPose pose = forecast_pose();
    last_.box = motion_.box();
    last_.pose = pose;
  }
  last_.take_size(sure_);
}

void MaskMemory::hold(const Frame& /*frame*/, const Seen& seen, bool learns) {
  const bool lost = loop_.is_lost();
  const double met = overlap(seen.box, motion_.box());
  const double alike = likeness_to_memory(seen);
  loop_.found(last_.pose.middle, seen.pose.middle);
  if (!lost) motion_.take_met(met);
  last_ = seen;
  target_.found();
  if (learns) usual_quality_.take(seen.quality);
  if (learns) usual_memory_likeness_.take(alike * usual_memory_likeness_.value());
  ++frames_since_remembered_;
  if (learns && !lost && alike >= params_.remember_likeness &&
      (!params_.motion || met >= params_.remember_overlap))
    remember(seen);
  if (learns) target_.learn(seen);
  if (learns && seen.visible > kWhole) sure_ = seen;
  if (lost)
    motion_.start(seen.box);
  else
    motion_.correct(seen.box);
}

void MaskMemory::remember(const Seen& seen) {
  if (params_.memory != "several" || frames_since_remembered_ < kBetweenMemories) return;
  frames_since_remembered_ = 0;
  RememberedFrames::One& one = remembered_.add();
  target_.remember(seen, one.appearance);
  one.pose = seen.pose;
}

Estimate MaskMemory::estimate(const Held& held) noexcept {
  Estimate estimate{params_.turned_box && held.present ? last_.turned : OrientedBox{last_.box, 0},
                    held.confidence, held.present};
  target_.draw_mask(held.present, ridden_);
  if (held.present) estimate.minor_px = last_.minor_px;
  return estimate;
}

}  // namespace mnemon
