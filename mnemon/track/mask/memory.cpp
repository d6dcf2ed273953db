// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/memory.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/track/hold/forecast.hpp>

namespace mnemon {
namespace {

constexpr int kBetweenMemories = 6;     // frames
constexpr double kVelocityKept = 0.92;  // of the forecast's rates, a frame without the target
constexpr double kMovesFrom = 0.05;     // target sizes a frame, from which staying is another forecast
// Overlap with the forecast below which a candidate may be another thing, while the target is hidden in part.
constexpr double kJumped = 0.1;
constexpr double kNearReach = 0.3;  // target sizes around a place that is looked at again
// And the most that makes it doubtful anyway, where the target is usually met better than that.
constexpr double kDoubtful = 0.35;
constexpr double kMetRate = 0.1;   // of the newest overlap in what is usual
constexpr double kAsUsual = 0.95;  // of the usual quality, from which a sighting is surely the target
constexpr double kFirstMet = 0.5;  // overlap with the forecast that is taken for usual at first
constexpr double kFirstMetVariance = 0.04;  // and its variance
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
  usual_memory_likeness_ = Usual(1, 1);
  usual_quality_ = Usual(1, 1);
  usual_met_ = kFirstMet;
  met_variance_ = kFirstMetVariance;
  loop_.start(frame.size(), params_, params_);
  start_motion(last_.box);
  return estimate({true, 1});
}

void MaskMemory::start_motion(const Box& box) {
  const double size = std::sqrt(box.w * box.h);
  const MotionFilter place(0.03 * size + 0.5, 0.02 * size + 0.5);
  const MotionFilter extent(0.05, 0.01);
  motion_ = {place, place, extent, extent};
  const Point middle = centre(box);
  motion_[0].start(middle.x, 0.1 * size + 2);
  motion_[1].start(middle.y, 0.1 * size + 2);
  motion_[2].start(std::log(box.w), 0.02);
  motion_[3].start(std::log(box.h), 0.02);
}

void MaskMemory::advance_motion() noexcept {
  for (MotionFilter& filter : motion_) {
    if (loop_.forecast().frames_lost() > 0) filter.slow(kVelocityKept);
    filter.advance();
  }
}

void MaskMemory::correct_motion(const Box& box, bool jumped) noexcept {
  if (jumped) {
    start_motion(box);
    return;
  }
  const Point middle = centre(box);
  motion_[0].correct(middle.x);
  motion_[1].correct(middle.y);
  motion_[2].correct(std::log(box.w));
  motion_[3].correct(std::log(box.h));
}

Box MaskMemory::forecast_box() const noexcept {
  return box_around({motion_[0].value(), motion_[1].value()}, std::exp(motion_[2].value()),
                    std::exp(motion_[3].value()));
}

// The last pose, moved as its box should have.
TargetPose MaskMemory::forecast_pose() const noexcept {
  const Box box = forecast_box();
  const Point was = centre(last_.box);
  const Point now = centre(box);
  TargetPose pose = last_.pose;
  pose.middle =
      kept_in_view({pose.middle.x + now.x - was.x, pose.middle.y + now.y - was.y}, box.w, box.h, size_);
  return pose;
}

// How far a forecast is to be relied on, in [0, 1]: less, the longer the target was not seen.
double MaskMemory::motion_trust() const noexcept {
  const Box box = forecast_box();
  return 1 / (1 + (motion_[0].variance() + motion_[1].variance()) / (0.25 * box.w * box.h));
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
  const double weight = params_.motion ? params_.motion_weight * motion_trust() : 0;
  seen.score = (1 - weight) * seen.quality + weight * overlap(seen.box, forecast_box());
  return seen;
}

// Whether one look explains the frame about as well as usual, so that no other is needed. Now and then all are taken
// anyway: what drifts slowly looks usual.
bool MaskMemory::explains(const Seen& seen) const noexcept {
  return at_hand_ && !loop_.is_lost() && frames_ % params_.all_looks != 0 &&
         seen.quality >= kAsUsual * usual_quality_.value() && !is_doubtful(overlap(seen.box, forecast_box()));
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
  const Box box = forecast_box();
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
  if (params_.motion && loop_.forecast().frames_lost() == 0 && overlap(best.box, box) < kJumped) {
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
  there.middle = target_.search_beside(frame, forecast_box());
  target_.expect_whole(true);
  const Seen other = look_from(frame, there, kLatest, kNearReach);
  target_.expect_whole(false);
  return other;
}

// Whether an overlap with the forecast is far from the usual one, where a sure forecast makes that tell something.
bool MaskMemory::is_doubtful(double met) const noexcept {
  const double usual_least = usual_met_ - 2 * std::sqrt(met_variance_);
  return met < std::max(kJumped, motion_trust() * std::min(kDoubtful, usual_least));
}

bool MaskMemory::accept(const Frame& /*frame*/, const Seen& seen) const noexcept {
  const double met = overlap(seen.box, forecast_box());
  if (!loop_.is_lost() && (!params_.motion || !is_doubtful(met))) return true;
  const double excused = params_.motion ? kExcused * motion_trust() * met : 0;
  return seen.quality >= (1 - excused) * loop_.needed();
}

Estimate MaskMemory::do_follow(const Frame& frame) {
  ++frames_;
  target_.take(frame);
  advance_motion();
  return estimate(loop_.follow(*this, frame));
}

void MaskMemory::miss(const Frame& /*frame*/) {
  target_.expect_whole(true);
  loop_.missed();
  if (loop_.forecast().is_newly_lost()) target_.start_search();
  if (params_.motion) {
    const TargetPose pose = forecast_pose();
    last_.box = forecast_box();
    last_.pose = pose;
  }
  last_.take_size(sure_);
}

void MaskMemory::hold(const Frame& /*frame*/, const Seen& seen, bool learns) {
  const bool lost = loop_.is_lost();
  const double met = overlap(seen.box, forecast_box());
  const double alike = likeness_to_memory(seen);
  loop_.found(last_.pose.middle, seen.pose.middle);
  if (!lost) {
    met_variance_ += kMetRate * ((met - usual_met_) * (met - usual_met_) - met_variance_);
    usual_met_ += kMetRate * (met - usual_met_);
  }
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
  correct_motion(seen.box, lost);
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
  target_.draw_mask(held.present);
  if (held.present) estimate.minor_px = last_.minor_px;
  return estimate;
}

}  // namespace mnemon
