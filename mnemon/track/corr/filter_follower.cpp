// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/filter_follower.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/track/hold/confidence.hpp>

namespace mnemon {
namespace {

constexpr double kScaleReach = 2;         // growth looked for between two frames
constexpr double kRememberedFrom = 1.67;  // of the likeness that a lost target needs
constexpr double kStepShare = 0.4;        // of the window, from one place of the search to the next

// The rate of one frame that counts for so many.
double rate_over(int frames, double rate) noexcept {
  double sum = rate;
  for (int i = 1; i < frames; ++i) sum += (1 - sum) * rate;
  return sum;
}

}  // namespace

double FilterFollower::most_scale(FrameSize size, const Box& target, const PatchWindow& window) noexcept {
  return std::max(1.0, std::min({size.width / target.w, size.height / target.h,
                                 2 * size.width / window.width_px(), 2 * size.height / window.height_px()}));
}

void FilterFollower::start(const Frame& frame, const Box& target, const PatchWindow& window,
                           const FollowRules& rules, WindowFeatures& features, StackFilter& filter) {
  rules_ = rules;
  window_ = window;
  go_on_with(features, filter);
  judge_ = PeakJudge(rules.curve);
  loop_.start(frame.size(), rules, rules.rivals);
  const double most = most_scale(frame.size(), target, window);
  size_ = FollowedSize(target.w, target.h, most);
  pose_ = {centre(target), 1, 0};
  search_ = LossSearch(frame.size(), kStepShare * window.width_px(), kStepShare * window.height_px());
  pose_meter_ = PoseMeter();
  if (rules.scale_rate > 0)
    pose_meter_ = PoseMeter(PoseSearch(target.w, target.h, {kScaleReach, rules.turn_deg},
                                       kScaleReach * target.w * most, kScaleReach * target.h * most),
                            rules.pose_wait);
  focus_ = LearntFocus(window, rules.focus);
  focus_.keep_to_middle(*features_);
  colour_search_ = PictureSearch(frame.size());
  colours_ = ColourVote(window.rows(), window.cols(), window.target_share());
  response_ = Image<float>(window.rows(), window.cols());
  features_->take(frame.rgb, window_at(pose_));
  const ImageView<const float> stack = features_->take_target(frame.rgb, window_at(pose_));
  likeness_.start(stack, window_.target_share());
  learn_beside(frame, 1);
  learn_filter(stack, 1);
  respond(frame, pose_.middle);
}

void FilterFollower::retune(const FollowRules& rules) noexcept {
  rules_ = rules;
  judge_.retune(rules.curve);
  pose_meter_.retune(rules.pose_wait);
  loop_.retune(rules, rules.rivals);
}

// The filter's own picture of a response is its next call's as well.
void FilterFollower::respond(const Frame& frame, Point place) noexcept {
  looked_at_ = window_at(at(place));
  const ImageView<const float> response = filter_->respond(features_->take(frame.rgb, looked_at_));
  std::ranges::copy(response.elements(), response_.elements().begin());
}

std::vector<SeedChoice> FilterFollower::choices() const {
  return {{"window_px", fmt::format("{:.0f} x {:.0f}", window_.width_px(), window_.height_px())},
          {"window_grid", fmt::format("{} x {}", window_.cols(), window_.rows())}};
}

Estimate FilterFollower::follow(const Frame& frame) { return estimate(loop_.follow(*this, frame)); }

// Where no rival was seen, a peak that is elsewhere only must not be of something that is the target's opposite.
bool FilterFollower::accept(const Frame& frame, Seen& seen) {
  if (seen.confidence >= rules_.learn_from)
    change_pose(seen, pose_meter_.next(frame.rgb, at(seen.pose.middle)));
  see_likeness(frame, seen);
  const bool is_like = !loop_.is_lost() || seen.likeness >= rules_.refind_likeness;
  if (is_like && loop_.is_target(seen, size_.upright(at(expected())))) return true;
  seen.confidence = 0;
  colour_search_.leave_out(seen.pose.middle);  // or it would be the most promising place again and again
  return false;
}

void FilterFollower::miss(const Frame& /*frame*/) {
  pose_.middle = forecast();
  loop_.missed();
  if (!loop_.forecast().is_newly_lost()) return;
  filter_->go_back();
  pose_meter_.wake();
  search_.start(pose_.middle);
  colour_search_.start();
}

// What is unlike the target is less sure than its peak, but as long as there is a peak it is followed.
double FilterFollower::told(const Seen& seen) const noexcept {
  const double by_likeness = confidence_of(seen.likeness, rules_.likeness_half, rules_.likeness_steepness);
  const double sure = rules_.peak_counts ? std::min(seen.confidence, by_likeness) : by_likeness;
  return std::max(sure, std::min(seen.confidence, rules_.present_from));
}

FilterFollower::Seen FilterFollower::look_at(const Frame& frame, Point place) {
  respond(frame, place);
  Seen seen;
  seen.peak = find_peak(response(), rules_.peak_radius);
  seen.confidence = judge_.confidence(seen.peak);
  if (rules_.colour_weight > 0) {
    colours_.look(features_->colours());
    colours_.add_to(response_.view(), rules_.colour_weight, judge_.usual_height());
    seen.peak.cell = highest_cell(response());
    seen.peak.offset = peak_offset(response(), seen.peak.cell);
  }
  const Point motion = window_.motion(seen.peak.cell, seen.peak.offset, pose_.scale, pose_.turn_deg);
  seen.pose = at(kept_in_view({place.x + motion.x, place.y + motion.y}, size_.w(pose_.scale),
                              size_.h(pose_.scale), frame.size()));
  seen.box = size_.upright(seen.pose);
  return seen;
}

void FilterFollower::search(const Frame& frame, Seen& seen) {
  if (loop_.is_sure(seen)) return;
  const bool has_colours = !features_->colours().empty();
  seen.confidence = -1;
  if (has_colours) {
    const PictureSearch::Place place =
        colour_search_.find(frame.rgb, colours_.table(), size_.w(pose_.scale), size_.h(pose_.scale));
    seen = look_at(frame, place.middle);
    if (!loop_.is_sure(seen)) colour_search_.leave_out(place.middle);
  }
  for (int i = has_colours ? 1 : 2; i > 0; --i) {
    const Seen next = look_at(frame, search_.next());
    if (next.confidence > seen.confidence) seen = next;
  }
}

// What is most like the target in its colours, beside where it should be. Only about the middle of that window, as the
// target itself may be at its rim.
FilterFollower::Seen FilterFollower::look_beside(const Frame& frame) {
  const Point place = colour_search_.find_beside(frame.rgb, colours_.table(), forecast(),
                                                 size_.w(pose_.scale), size_.h(pose_.scale));
  respond(frame, place);
  const Cell middle = window_.middle_cell();
  const auto half_of = [](int cells, double share) {
    return std::min((cells - 1) / 2, static_cast<int>(0.5 * share * cells));
  };
  const int up = half_of(window_.rows(), window_.target_share().y);
  const int left = half_of(window_.cols(), window_.target_share().x);
  const ImageView<const float> all = response();
  const ImageView<const float> about{all.row(middle.row - up) + middle.col - left, 2 * up + 1, 2 * left + 1,
                                     1, all.stride};
  const Cell peak = highest_cell(about);
  const Cell cell{middle.row - up + peak.row, middle.col - left + peak.col};
  const Point motion = window_.motion(cell, peak_offset(all, cell), pose_.scale, pose_.turn_deg);
  Seen seen;
  seen.pose = at({place.x + motion.x, place.y + motion.y});
  seen.box = size_.upright(seen.pose);
  change_pose(seen, pose_meter_.beside(frame.rgb, seen.pose));
  see_likeness(frame, seen);
  return seen;
}

// What was seen beside has no peak of its own window's yet, which is what makes it sure. Where it is not taken, features and
// response are those of `seen` again, as learning goes by them.
bool FilterFollower::prefers(const Frame& frame, const Seen& beside, Seen& seen) {
  Seen other = look_at(frame, beside.pose.middle);
  see_likeness(frame, other);
  if (other.confidence >= rules_.refind_from && other.quality > seen.quality) {
    seen = other;
    return true;
  }
  respond(frame, seen.pose.middle);
  see_likeness(frame, seen);
  return false;
}

void FilterFollower::see_likeness(const Frame& frame, Seen& seen) {
  seen.stack = features_->take_target(frame.rgb, window_at(seen.pose));
  seen.likeness = likeness_.of(seen.stack);
  seen.quality = likeness_.quality(seen.likeness);
}

void FilterFollower::hold(const Frame& frame, const Seen& seen, bool learns) {
  loop_.found(pose_.middle, seen.pose.middle);
  pose_.middle = seen.pose.middle;
  likeness_.held();
  if (!learns) return;
  pose_ = seen.pose;
  learn_beside(frame, rules_.colour_rate);
  if (++frames_unlearnt_ >= rules_.learn_wait)
    learn_filter(seen.stack, rate_over(std::min(frames_unlearnt_, rules_.learn_wait), rules_.learning_rate));
  likeness_.learn(seen.likeness, kRememberedFrom * rules_.refind_likeness);
  judge_.accept(seen.peak);
}

void FilterFollower::change_pose(Seen& seen, const PoseSearch::Change& change) const noexcept {
  seen.pose.scale = size_.allowed(pose_.scale * change.growth);
  seen.pose.turn_deg = std::remainder(pose_.turn_deg + change.turn_deg, 360.0);
}

void FilterFollower::learn_beside(const Frame& frame, double colour_rate) {
  const bool looks_at_colours = rules_.keeps_shape || rules_.colour_weight > 0;
  // Another thing's colours would lead every later search back to it.
  if (!features_->colours().empty() && !loop_.is_in_doubt())
    colours_.learn(features_->colours(), colour_rate);
  if (looks_at_colours) colours_.look(features_->colours());
  if (rules_.colour_weight > 0) colours_.accept();
  pose_meter_.learn(frame.rgb, pose_, rules_.scale_rate);
}

void FilterFollower::learn_filter(ImageView<const float> stack, double rate) {
  frames_unlearnt_ = 0;
  if (rules_.keeps_shape) filter_->take_likelihood(likelihood(), window_.target_share());
  filter_->learn(focused(stack), static_cast<float>(rate));
  filter_->keep();
}

Estimate FilterFollower::estimate(const Held& held) const {
  return {{size_.around(pose_), 0}, held.confidence, held.present};
}

}  // namespace mnemon
