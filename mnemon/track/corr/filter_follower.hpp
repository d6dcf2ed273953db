// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/track/corr/colour_vote.hpp>
#include <mnemon/track/corr/followed_size.hpp>
#include <mnemon/track/corr/learnt_focus.hpp>
#include <mnemon/track/corr/likeness.hpp>
#include <mnemon/track/corr/loss_search.hpp>
#include <mnemon/track/corr/patch_window.hpp>
#include <mnemon/track/corr/peak_judge.hpp>
#include <mnemon/track/corr/pose_meter.hpp>
#include <mnemon/track/corr/stack_filter.hpp>
#include <mnemon/track/corr/window_features.hpp>
#include <mnemon/track/hold/hold_loop.hpp>
#include <mnemon/track/tracker.hpp>
#include <mnemon/vision/picture_search.hpp>

namespace mnemon {

/// What a filter's follower goes by.
struct FollowRules : HoldRules {
  double learning_rate = 0.02;  ///< Weight of the newest frame in the filter.
  int learn_wait = 1;  ///< From one frame that the filter learns to the next, which counts for all since.
  double focus = 0;    ///< Size of what is learnt of the window, in target sizes; 0 for all of it.
  double colour_rate = 0.04;  ///< Learning rate of the colours that a lost target is looked for by.
  double colour_weight = 0;   ///< Of the response by colour, over that of the filter.
  double scale_rate = 0;      ///< Learning rate of the size; 0 keeps the size.
  double turn_deg = 0;        ///< Largest turn between two frames, looked for where the size is; 0 for none.
  int pose_wait = 4;          ///< Most frames from one measure of a size or turn that rests to the next.
  int peak_radius = 3;        ///< Of what belongs to a response's peak, cells.
  PeakJudge::Curve curve;     ///< From peak to confidence.
  double refind_likeness =
      0.3;  ///< To what the target was, that a place needs to be taken for the lost target.
  std::optional<RivalRules> rivals = {};  ///< Of what is like the target, by its colours.
  double likeness_half = 0.2;             ///< The likeness that means confidence 0.5.
  double likeness_steepness = 3.5;        ///< Of that curve.
  bool peak_counts = true;                ///< Whether the confidence told goes by the peak, too.
  bool keeps_shape = false;               ///< Whether the filter takes the target's shape from the colours.
};

/// The round that all followers by correlation filter go: look through the window where the target's motion takes
/// it, find the response's peak, move, measure the size and the turn, and learn what is there now, if its peak is
/// high. When the peak is poor the target is reported as not present and nothing is learnt; after a few such frames
/// the filter goes back to what it was when it was last sure, and every frame looks where the target should be,
/// where in the whole picture its colours are, and in one place of a grid that goes outwards over the picture (in
/// two where there are no colours), until a peak is as good as those of the time before and what is there looks
/// like the target: more than the rivals did that were seen beside it before.
class FilterFollower {
 public:
  FilterFollower() = default;

  /// Starts afresh. The features and the filter are fresh ones of the window's size, and outlive the following.
  void start(const Frame& frame, const Box& target, const PatchWindow& window, const FollowRules& rules,
             WindowFeatures& features, StackFilter& filter);

  /// Goes on with copies of the features and the filter that it started with.
  void go_on_with(WindowFeatures& features, StackFilter& filter) noexcept {
    features_ = &features;
    filter_ = &filter;
  }

  /// Goes on by other rules: those that differ from the ones it was started with only in what acts at the step.
  void retune(const FollowRules& rules) noexcept;

  /// The estimate for the next frame. Allocates nothing.
  Estimate follow(const Frame& frame);

  /// A stack as it is learnt: with what lies beyond the focus faded out. It holds until the next call.
  [[nodiscard]] ImageView<const float> focused(ImageView<const float> stack) { return focus_.of(stack); }

  /// What the seed chose: the window's size and how finely it is sampled.
  [[nodiscard]] std::vector<SeedChoice> choices() const;

  /// The response of the last step.
  [[nodiscard]] ImageView<const float> response() const noexcept { return response_.view(); }

  /// The likelihood of the last window's cells by colour, where that counts.
  [[nodiscard]] ImageView<const float> likelihood() const noexcept { return colours_.likelihood(); }

  /// What the last step looked at.
  [[nodiscard]] std::vector<Candidate> candidates() const { return candidates_of(loop_); }

  /// The window that the response is of.
  [[nodiscard]] const OrientedBox& window() const noexcept { return looked_at_; }

  /// The largest window that is ever looked through, as a multiple of the first: the target no larger than the frame,
  /// the window no larger than two, as its memory is taken at once.
  [[nodiscard]] static double most_scale(FrameSize size, const Box& target,
                                         const PatchWindow& window) noexcept;

 private:
  friend class HoldLoop;
  // Its confidence is that by its peak.
  struct Seen : Sighting {
    PoseSearch::Pose pose;
    Peak peak;
    double likeness = 0;
    ImageView<const float> stack;  // at its place, once that was looked at; until the next look
  };

  [[nodiscard]] Point forecast() const noexcept {
    return loop_.forecast().of(pose_.middle, size_.w(pose_.scale), size_.h(pose_.scale));
  }
  // Where the target should be: once it was not seen, where it was taken to be then.
  [[nodiscard]] Point expected() const noexcept {
    return loop_.forecast().frames_lost() == 0 ? forecast() : pose_.middle;
  }
  [[nodiscard]] Seen look(const Frame& frame) { return look_at(frame, expected()); }
  [[nodiscard]] Seen look_at(const Frame& frame, Point place);
  void respond(const Frame& frame, Point place) noexcept;
  [[nodiscard]] bool accept(const Frame& frame, Seen& seen);
  [[nodiscard]] double told(const Seen& seen) const noexcept;
  void hold(const Frame& frame, const Seen& seen, bool learns);
  void miss(const Frame& frame);
  [[nodiscard]] PoseSearch::Pose at(Point middle) const noexcept {
    return {middle, pose_.scale, pose_.turn_deg};
  }
  [[nodiscard]] OrientedBox window_at(const PoseSearch::Pose& pose) const noexcept {
    return window_.around(pose.middle, pose.scale, pose.turn_deg);
  }
  void change_pose(Seen& seen, const PoseSearch::Change& change) const noexcept;
  // Colours, size and turn.
  void learn_beside(const Frame& frame, double colour_rate);
  void learn_filter(ImageView<const float> stack, double rate);
  void search(const Frame& frame, Seen& seen);
  [[nodiscard]] Seen look_beside(const Frame& frame);
  [[nodiscard]] bool prefers(const Frame& frame, const Seen& beside, Seen& seen);
  void see_likeness(const Frame& frame, Seen& seen);
  [[nodiscard]] Estimate estimate(const Held& held) const;

  HoldLoop loop_;
  FollowRules rules_;
  PatchWindow window_;
  WindowFeatures* features_ = nullptr;
  StackFilter* filter_ = nullptr;
  PeakJudge judge_;
  Likeness likeness_;
  ColourVote colours_;
  LearntFocus focus_;
  FollowedSize size_;
  PoseSearch::Pose pose_;
  int frames_unlearnt_ = 0;  // that the filter has not learnt, of those that could be
  PoseMeter pose_meter_;
  LossSearch search_;
  PictureSearch colour_search_;
  OrientedBox looked_at_;
  Image<float> response_;  // the filter's, with that by colour where it counts
};

/// A follower together with the features and the filter that it goes by, which a copy has of its own.
template <class Features, class Filter>
class FilterAndFollower {
 public:
  FilterAndFollower() = default;
  FilterAndFollower(const FilterAndFollower& other)
      : features_(other.features_), filter_(other.filter_), follower_(other.follower_) {
    if (filter_) follower_.go_on_with(*features_, *filter_);
  }
  FilterAndFollower& operator=(const FilterAndFollower&) = delete;

  /// Starts afresh, with a filter made from `options`. The window's largest size, as a multiple of its first, is `room`.
  template <class... Options>
  void start(const Frame& frame, const Box& target, const PatchWindow& window, double room,
             const FollowRules& rules, const Options&... options) {
    features_.emplace(window.rows(), window.cols(), room * window.width_px(), room * window.height_px());
    filter_.emplace(window.rows(), window.cols(), options...);
    follower_.start(frame, target, window, rules, *features_, *filter_);
  }

  /// That it goes by.
  [[nodiscard]] Features& features() noexcept { return *features_; }
  /// That it goes by.
  [[nodiscard]] Filter& filter() noexcept { return *filter_; }
  /// Started before.
  [[nodiscard]] FilterFollower& follower() noexcept { return follower_; }
  /// Started before.
  [[nodiscard]] const FilterFollower& follower() const noexcept { return follower_; }

 private:
  std::optional<Features> features_;
  std::optional<Filter> filter_;
  FilterFollower follower_;
};

}  // namespace mnemon
