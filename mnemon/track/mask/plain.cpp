// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/plain.hpp>

#include <algorithm>

namespace mnemon {
namespace {

// Times that the mask found differs in size from the target, for the place to be looked at in its size, too.
constexpr double kResized = 1.1;
constexpr int kWhereItWas = 5;  // frames of a lost target, of which one is looked at where it was

}  // namespace

Estimate MaskPlain::do_seed(const Frame& frame, const Region& region, const Box& box) {
  last_ = target_.start(frame, region, box, params_);
  sure_ = last_;
  resized_.reset();
  loop_.start(frame.size(), params_);
  return estimate({true, 1});
}

Estimate MaskPlain::do_follow(const Frame& frame) {
  target_.take(frame);
  return estimate(loop_.follow(*this, frame));
}

TargetPose MaskPlain::expected() const noexcept {
  TargetPose pose = last_.pose;
  pose.middle = loop_.forecast().of(last_.pose.middle, last_.box.w, last_.box.h);
  return pose;
}

bool MaskPlain::looks_elsewhere() const noexcept {
  return loop_.is_lost() && !resized_ && loop_.forecast().frames_lost() % kWhereItWas != 0;
}

MaskSighting MaskPlain::look(const Frame& frame) noexcept {
  if (looks_elsewhere()) return {};
  return target_.look(frame, resized_ ? *resized_ : expected());
}

void MaskPlain::search(const Frame& frame, MaskSighting& seen) noexcept {
  if (looks_elsewhere()) {
    TargetPose there = last_.pose;
    there.middle = searched_ = target_.search(frame, last_.box);
    seen = target_.look(frame, there);
    if (loop_.is_sure(seen)) return;
    const TargetPose resized = target_.pose_of_mask(seen);
    const double times = resized.scale / there.scale;
    if (std::max(times, 1 / times) > kResized)
      resized_ = resized;
    else
      target_.leave_out(searched_);
  } else if (resized_) {
    resized_.reset();
    if (!loop_.is_sure(seen)) target_.leave_out(searched_);
  }
}

void MaskPlain::hold(const Frame& /*frame*/, const MaskSighting& seen, bool learns) noexcept {
  loop_.found(last_.pose.middle, seen.pose.middle);
  last_ = seen;
  target_.found();
  resized_.reset();
  if (!learns) return;
  target_.learn(seen);
  if (seen.visible > kWhole) sure_ = seen;
}

void MaskPlain::miss(const Frame& /*frame*/) noexcept {
  const TargetPose from = expected();
  loop_.missed();
  target_.expect_whole(true);
  if (loop_.forecast().is_newly_lost()) target_.start_search();
  last_.box.x += from.middle.x - last_.pose.middle.x;
  last_.box.y += from.middle.y - last_.pose.middle.y;
  last_.pose = from;
  last_.take_size(sure_);
}

Estimate MaskPlain::estimate(const Held& held) noexcept {
  Estimate estimate{params_.turned_box && held.present ? last_.turned : OrientedBox{last_.box, 0},
                    held.confidence, held.present};
  target_.draw_mask(held.present);
  if (held.present) estimate.minor_px = last_.minor_px;
  return estimate;
}

}  // namespace mnemon
