// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <optional>
#include <string_view>
#include <vector>

#include <mnemon/track/candidates.hpp>
#include <mnemon/track/hold/forecast.hpp>
#include <mnemon/track/hold/hold_rules.hpp>
#include <mnemon/track/hold/rivals.hpp>

namespace mnemon {

/// What a look returns, as far as the round needs it; a family's own sighting inherits from it.
struct Sighting {
  Box box;                ///< Where the target seems to be.
  double confidence = 0;  ///< How sure that is, in [0, 1].
  double quality =
      0;  ///< How like the target it is, as a share of what is usual; of families that cannot tell, 0.
};

/// How the round ended.
struct Held {
  bool present = false;   ///< Whether the target is held to be there.
  double confidence = 0;  ///< In [0, 1].
};

/// The round that all trackers go which can lose their target: look where it should be, judge, and then either hold
/// it (move, measure, learn) or miss it: stop learning, count, search, and take it back only on good evidence. A
/// family `F` is what is particular to a kind of tracker. It has a type `F::Seen`, which inherits from Sighting, and
///
///     Seen look(frame)               the best there is about where the target should be
///     Seen look_beside(frame)        what is like the target beside it; only asked where rivals are looked for
///     void search(frame, seen)       looks for a lost target elsewhere, and puts in `seen` what is better
///     bool accept(frame, seen)       looks at a claim that is sure enough more closely, and says whether it is the target
///     bool prefers(frame, beside, seen)
///                                    may be left out: looks at what is beside a target in doubt as at the target itself,
///                                    and puts it in `seen` where it is sure enough, and more like the target
///     void hold(frame, seen, learns) takes it for the target, and learns from it where that is sure
///     void miss(frame)               goes on without having seen the target
///     double told(seen)              may be left out: the confidence to report, where it is not the sighting's
///
/// They are called in this order, and allocate nothing. A family lets the loop in as a friend.
class HoldLoop {
 public:
  /// Starts afresh, with a target that was seen; with the rules of rivals where the family looks for them.
  void start(FrameSize size, const HoldRules& rules, const std::optional<RivalRules>& rivals = {}) noexcept {
    retune(rules, rivals);
    rivals_.start();
    forecast_ = Forecast(size);
    candidates_.start();
    doubted_frames_ = 0;
  }

  /// Goes on by other rules.
  void retune(const HoldRules& rules, const std::optional<RivalRules>& rivals = {}) noexcept {
    rules_ = rules;
    tells_rivals_ = rivals && rivals->rivals;
    tell_apart_ = rivals ? rivals->tell_apart : 0;
  }

  /// What the last step looked at, and what became of it.
  [[nodiscard]] std::span<const Candidate> candidates() const noexcept { return candidates_.all(); }

  /// Where the target should be.
  [[nodiscard]] const Forecast& forecast() const noexcept { return forecast_; }
  /// Whether the target is looked for elsewhere, too.
  [[nodiscard]] bool is_lost() const noexcept { return forecast_.is_lost(); }

  /// Whether what is held was taken for a lost target not long ago, and so may be another thing.
  [[nodiscard]] bool is_in_doubt() const noexcept { return doubted_frames_ > 0; }

  /// Whether a claim is sure enough: a lost target needs more.
  [[nodiscard]] bool is_sure(const Sighting& seen) const noexcept {
    return seen.confidence >= (is_lost() ? rules_.refind_from : rules_.present_from);
  }

  /// Whether a claim is the target, where it is sure enough: it is where that should be, or like it, and more than
  /// the best of the rivals were.
  [[nodiscard]] bool is_target(const Sighting& seen, const Box& expected) const noexcept {
    if (!is_lost() && overlap(seen.box, expected) >= kJumped) return true;
    return seen.quality >= needed();
  }

  /// The quality that a claim needs which may be another thing's.
  [[nodiscard]] double needed() const noexcept { return rivals_.needed(tell_apart_); }

  /// Goes the round once, with the next frame.
  template <class F>
  Held follow(F& family, const Frame& frame) {
    candidates_.start();
    std::optional<typename F::Seen> beside;
    if (tells_rivals_ && !is_lost()) {
      rivals_.count_frame();
      if (rivals_.is_due()) beside = family.look_beside(frame);
    }
    typename F::Seen seen = family.look(frame);
    const Sighting first = seen;
    if (is_lost()) family.search(frame, seen);
    const Sighting claim = seen;  // as it was before it was looked at more closely
    const bool sure = is_sure(seen);
    const bool taken = sure && family.accept(frame, seen);
    if (taken) doubted_frames_ = is_lost() ? kDoubted : std::max(0, doubted_frames_ - 1);
    const bool swapped = taken && beside && weigh(family, frame, *beside, seen);
    note(claim, swapped ? "less like it than what is beside"
                : taken ? "taken"
                : sure  ? "more like another thing"
                        : "not sure enough");
    if (first.box != claim.box) note(first, "not as good");
    if (beside) note(*beside, swapped ? "taken" : "beside the target");
    if (taken) {
      const double told = told_by(family, seen);
      family.hold(frame, seen, seen.confidence >= rules_.learn_from);
      return {true, told};
    }
    family.miss(frame);
    return {false, std::min(seen.confidence, rules_.present_from)};
  }

  /// Passes over a frame that is not looked at: it has no candidates.
  void rest() noexcept { candidates_.start(); }

  /// To be called by `hold`: the target has moved so.
  void found(Point was, Point now) noexcept { forecast_.found(was, now); }
  /// To be called by `miss`.
  void missed() noexcept { forecast_.missed(); }

  /// That it goes by.
  [[nodiscard]] const HoldRules& rules() const noexcept { return rules_; }

 private:
  void note(const Sighting& seen, std::string_view outcome) noexcept {
    if (is_proper(seen.box)) candidates_.add({seen.box, seen.confidence, seen.quality, outcome});
  }

  // What is beside the target is a rival, or the target itself where another thing was taken for it: whether it was
  // put in `seen`.
  template <class F>
  bool weigh(F& family, const Frame& frame, const typename F::Seen& beside, typename F::Seen& seen) {
    if (beside.quality <= 0 || overlap(beside.box, seen.box) > 0) return false;
    if constexpr (requires { family.prefers(frame, beside, seen); }) {
      const double needs = std::max({kBetter * seen.quality, kLeastQuality, needed()});
      if (is_in_doubt()) return beside.quality > needs && family.prefers(frame, beside, seen);
    }
    rivals_.take(beside.quality);
    return false;
  }

  template <class F>
  [[nodiscard]] static double told_by(const F& family, const typename F::Seen& seen) {
    if constexpr (requires { family.told(seen); })
      return family.told(seen);
    else
      return seen.confidence;
  }

  // Overlap with the forecast below which a claim may be another thing's.
  static constexpr double kJumped = 0.1;
  static constexpr int kDoubted = 300;          // frames that are held after a loss
  static constexpr double kBetter = 1.2;        // times the quality of what is held in doubt
  static constexpr double kLeastQuality = 0.5;  // of what takes its place

  HoldRules rules_;
  bool tells_rivals_ = false;
  double tell_apart_ = 0;
  int doubted_frames_ = 0;  // until what is held is no longer doubted
  Rivals rivals_;
  Forecast forecast_;
  Candidates candidates_;
};

/// The candidates of a loop's last step, as a tracker answers them.
[[nodiscard]] inline std::vector<Candidate> candidates_of(const HoldLoop& loop) {
  return {loop.candidates().begin(), loop.candidates().end()};
}

}  // namespace mnemon
