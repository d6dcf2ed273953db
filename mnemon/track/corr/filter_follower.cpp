// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/filter_follower.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/track/corr/target_colours.hpp>
#include <mnemon/track/hold/confidence.hpp>

namespace mnemon {
namespace {

constexpr double kScaleReach = 2;     // growth looked for between two frames
constexpr double kFullColours = 0.3;  // a response by colour that tells the target as well as can be
constexpr double kFocusReach = 1.5;   // of the focus: beyond it less than a twentieth is learnt
constexpr double kLeastTargetPx = 5;
constexpr double kRememberedFrom = 1.67;
constexpr int kBetweenMemories = 5;  // frames
constexpr double kStepShare = 0.4;   // of the window, from one place of the search to the next

// About 1 over the target and falling to nearly 0 outside `focus` times its size, softly: a hard edge would be learnt.
Image<float> focus_window(const PatchWindow& window, double focus) {
  const Point share = window.target_share();
  const auto along = [focus](int i, int count, double part) {
    const double from = (2 * (i + 0.5) / count - 1) / (part * focus);
    return 1 / (1 + std::pow(from, 8));
  };
  Image<float> picture(window.rows(), window.cols());
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 0; c < picture.cols(); ++c)
      picture(r, c) =
          static_cast<float>(along(r, picture.rows(), share.y) * along(c, picture.cols(), share.x));
  return picture;
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
  target_ = target;
  middle_ = centre(target);
  scale_ = 1;
  most_scale_ = most_scale(frame.size(), target, window);
  least_scale_ = std::min(1.0, kLeastTargetPx / std::min(target.w, target.h));
  search_ = LossSearch(frame.size(), kStepShare * window.width_px(), kStepShare * window.height_px());
  turn_deg_ = 0;
  pose_search_.reset();
  pose_rest_ = PoseRest(rules.pose_wait);
  if (rules.scale_rate > 0)
    pose_search_.emplace(target.w, target.h, PoseSearch::Reach{kScaleReach, rules.turn_deg},
                         kScaleReach * target.w * most_scale_, kScaleReach * target.h * most_scale_);
  focus_ = rules.focus > 0 ? focus_window(window, rules.focus) : Image<float>();
  focused_ = Image<float>();
  likelihood_ = Image<float>(window.rows(), window.cols());
  colour_search_ = PictureSearch(frame.size());
  search_beside_ = PictureSearch(frame.size());
  usual_likeness_ = Usual(1);
  colours_ = ColourModel();
  colour_response_ = ColourResponse(window.rows(), window.cols());
  response_ = Image<float>(window.rows(), window.cols());
  usual_colours_ = 0;
  if (!focus_.empty()) keep_to_focus();
  features_->take(frame.rgb, window_.around(middle_, scale_, turn_deg_));
  const ImageView<const float> stack =
      features_->take_target(frame.rgb, window_.around(middle_, scale_, turn_deg_));
  likeness_.start(stack, window_.target_share());
  frames_since_remembered_ = 0;
  learn(frame, stack, 1);
  filter_->keep();
  respond(frame, middle_);
}

void FilterFollower::retune(const FollowRules& rules) noexcept {
  rules_ = rules;
  judge_.retune(rules.curve);
  pose_rest_.retune(rules.pose_wait);
  loop_.retune(rules, rules.rivals);
}

// What is faded out of what is learnt need not be worked out for it.
void FilterFollower::keep_to_focus() {
  const Point share = window_.target_share();
  const auto cells_of = [&](int cells, double part) {
    const int half = static_cast<int>(std::ceil(0.5 * kFocusReach * rules_.focus * part * cells));
    return std::min(cells, 2 * half);
  };
  features_->keep_to_middle(cells_of(window_.rows(), share.y), cells_of(window_.cols(), share.x));
}

// The filter's own picture of a response is its next call's as well.
void FilterFollower::respond(const Frame& frame, Point at) noexcept {
  looked_at_ = window_.around(at, scale_, turn_deg_);
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
  if (pose_search_ && seen.confidence >= rules_.learn_from) measure_pose(frame, seen);
  see_likeness(frame, seen);
  const bool is_like = !loop_.is_lost() || seen.likeness >= rules_.refind_likeness;
  if (is_like && loop_.is_target(seen, box_at(expected()))) return true;
  seen.confidence = 0;
  colour_search_.leave_out(seen.middle);  // or it would be the most promising place again and again
  return false;
}

void FilterFollower::miss(const Frame& /*frame*/) {
  middle_ = forecast();
  loop_.missed();
  if (!loop_.forecast().is_newly_lost()) return;
  filter_->go_back();
  pose_rest_.wake();
  search_.start(middle_);
  colour_search_.start();
}

// What is unlike the target is less sure than its peak, but as long as there is a peak it is followed.
double FilterFollower::told(const Seen& seen) const noexcept {
  const double by_likeness = confidence_of(seen.likeness, rules_.likeness_half, rules_.likeness_steepness);
  const double sure = rules_.peak_counts ? std::min(seen.confidence, by_likeness) : by_likeness;
  return std::max(sure, std::min(seen.confidence, rules_.present_from));
}

FilterFollower::Seen FilterFollower::look_at(const Frame& frame, Point at) {
  respond(frame, at);
  Seen seen;
  seen.scale = scale_;
  seen.turn_deg = turn_deg_;
  seen.peak = find_peak(response(), rules_.peak_radius);
  seen.confidence = judge_.confidence(seen.peak);
  if (rules_.colour_weight > 0) {
    add_colours();
    seen.peak.cell = highest_cell(response());
    seen.peak.offset = peak_offset(response(), seen.peak.cell);
  }
  const Point motion = window_.motion(seen.peak.cell, seen.peak.offset, scale_, turn_deg_);
  seen.middle =
      kept_in_view({at.x + motion.x, at.y + motion.y}, target_.w * scale_, target_.h * scale_, frame.size());
  seen.box = box_at(seen.middle);
  return seen;
}

void FilterFollower::respond_by_colour() noexcept {
  cell_likelihood_into(features_->colours(), colours_, likelihood_.view());
  colour_response_.find(likelihood(), window_.target_share());
}

// Each response counts in units of what it usually is on the target. Colours that hardly tell the target count less.
void FilterFollower::add_colours() {
  respond_by_colour();
  const double sure = std::clamp(usual_colours_ / kFullColours, 0.0, 1.0);
  const auto weight = static_cast<float>(
      usual_colours_ > 0 ? rules_.colour_weight * sure * judge_.usual_height() / usual_colours_ : 0);
  const ImageView<const float> by_colour = colour_response_.response();
  for (int r = 0; r < by_colour.rows; ++r)
    for (int c = 0; c < by_colour.cols; ++c) response_(r, c) += weight * std::max(0.0f, by_colour(r, c));
}

void FilterFollower::measure_colours() noexcept {
  const Cell middle = window_.middle_cell();
  const double here = colour_response_.response()(middle.row, middle.col);
  usual_colours_ += (usual_colours_ > 0 ? Usual::kRate : 1) * (here - usual_colours_);
}

void FilterFollower::search(const Frame& frame, Seen& seen) {
  if (loop_.is_sure(seen)) return;
  const bool has_colours = !features_->colours().empty();
  seen.confidence = -1;
  if (has_colours) {
    const PictureSearch::Place place =
        colour_search_.find(frame.rgb, colours_.table(), target_.w * scale_, target_.h * scale_);
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
  const Point place = search_beside_.find_beside(frame.rgb, colours_.table(), forecast(), target_.w * scale_,
                                                 target_.h * scale_);
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
  const Point motion = window_.motion(cell, peak_offset(all, cell), scale_, turn_deg_);
  Seen seen;
  seen.scale = scale_;
  seen.turn_deg = turn_deg_;
  seen.middle = {place.x + motion.x, place.y + motion.y};
  seen.box = box_at(seen.middle);
  if (pose_search_) (void)measure_pose(frame, seen, {});
  see_likeness(frame, seen);
  return seen;
}

double FilterFollower::quality_of(const Frame& frame, const Box& box) noexcept {
  const double scale = std::sqrt(box.w * box.h / (target_.w * target_.h));
  const OrientedBox window =
      window_.around(centre(box), std::clamp(scale, least_scale_, most_scale_), turn_deg_);
  return likeness_.of(features_->take_target(frame.rgb, window)) / usual_likeness_.value();
}

void FilterFollower::see_likeness(const Frame& frame, Seen& seen) {
  seen.stack = features_->take_target(frame.rgb, window_.around(seen.middle, seen.scale, seen.turn_deg));
  seen.likeness = likeness_.of(seen.stack);
  seen.quality = seen.likeness / usual_likeness_.value();
}

void FilterFollower::hold(const Frame& frame, const Seen& seen, bool learns) {
  loop_.found(middle_, seen.middle);
  middle_ = seen.middle;
  ++frames_since_remembered_;
  if (!learns) return;
  scale_ = seen.scale;
  turn_deg_ = seen.turn_deg;
  learn(frame, seen.stack, rules_.learning_rate);
  usual_likeness_.take(seen.likeness);
  if (seen.likeness >= kRememberedFrom * rules_.refind_likeness &&
      frames_since_remembered_ >= kBetweenMemories) {
    likeness_.remember();
    frames_since_remembered_ = 0;
  }
  judge_.accept(seen.peak);
  filter_->keep();
}

void FilterFollower::measure_pose(const Frame& frame, Seen& seen) {
  const PoseSearch::Asked asked = pose_rest_.next();
  pose_rest_.measured(asked, measure_pose(frame, seen, asked));
}

PoseSearch::Change FilterFollower::measure_pose(const Frame& frame, Seen& seen,
                                                const PoseSearch::Asked& asked) {
  const PoseSearch::Change change = pose_search_->find(frame.rgb, {seen.middle, scale_, turn_deg_}, asked);
  seen.scale = std::clamp(scale_ * change.growth, least_scale_, most_scale_);
  seen.turn_deg = std::remainder(turn_deg_ + change.turn_deg, 360.0);
  return change;
}

void FilterFollower::learn(const Frame& frame, ImageView<const float> stack, double rate) {
  if (!focus_.empty() && focused_.empty()) focused_ = Image<float>(stack.rows, stack.cols, stack.channels);
  if (!features_->colours().empty())
    learn_colours(features_->colours(), window_.target_share(), rate < 1 ? rules_.colour_rate : 1, colours_);
  if (rules_.keeps_shape || rules_.colour_weight > 0) respond_by_colour();
  if (rules_.keeps_shape) filter_->take_likelihood(likelihood(), window_.target_share());
  if (rules_.colour_weight > 0) measure_colours();
  filter_->learn(focused(stack), static_cast<float>(rate));
  if (pose_search_) pose_search_->learn(frame.rgb, {middle_, scale_, turn_deg_}, rules_.scale_rate);
}

ImageView<const float> FilterFollower::focused(ImageView<const float> stack) noexcept {
  if (focus_.empty()) return stack;
  const int cells = stack.rows * stack.cols;
  for (int i = 0; i < cells; ++i)
    for (int k = 0; k < stack.channels; ++k)
      focused_.view().data[i * stack.channels + k] =
          stack.data[i * stack.channels + k] * focus_.elements()[i];
  return focused_.view();
}

Estimate FilterFollower::estimate(const Held& held) const {
  const double w = target_.w * scale_;
  const double h = target_.h * scale_;
  const Box box = turn_deg_ == 0 ? box_around(middle_, w, h) : bounds({middle_, w / 2, h / 2, turn_deg_});
  return {{box, 0}, held.confidence, held.present};
}

}  // namespace mnemon
