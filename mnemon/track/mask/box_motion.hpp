// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <array>
#include <cmath>

#include <mnemon/geometry/box.hpp>
#include <mnemon/vision/motion_filter.hpp>

namespace mnemon {

/// Where a target's box should be, how sure that is, and how far boxes that were held usually are from it: centre and
/// logarithms of width and height, each at a nearly constant rate. `start`, then for each frame `advance` and, where the
/// target was seen, `correct`.
class BoxMotion {
 public:
  BoxMotion() = default;
  /// Starts from a box that stands still as far as is known.
  explicit BoxMotion(const Box& box) { start(box); }

  /// Starts again from a box that has leapt; what is usual stays.
  void start(const Box& box) noexcept {
    const double size = std::sqrt(box.w * box.h);
    const MotionFilter place(0.03 * size + 0.5, 0.02 * size + 0.5);
    const MotionFilter extent(0.05, 0.01);
    filters_ = {place, place, extent, extent};
    const Point middle = centre(box);
    filters_[0].start(middle.x, 0.1 * size + 2);
    filters_[1].start(middle.y, 0.1 * size + 2);
    filters_[2].start(std::log(box.w), 0.02);
    filters_[3].start(std::log(box.h), 0.02);
  }

  /// A frame later. The rates of a target that cannot be seen die down.
  void advance(bool is_seen) noexcept {
    for (MotionFilter& filter : filters_) {
      if (!is_seen) filter.slow(kRateKept);
      filter.advance();
    }
  }

  /// The target was seen there.
  void correct(const Box& box) noexcept {
    const Point middle = centre(box);
    filters_[0].correct(middle.x);
    filters_[1].correct(middle.y);
    filters_[2].correct(std::log(box.w));
    filters_[3].correct(std::log(box.h));
  }

  /// Where it should be now.
  [[nodiscard]] Box box() const noexcept {
    return box_around({filters_[0].value(), filters_[1].value()}, std::exp(filters_[2].value()),
                      std::exp(filters_[3].value()));
  }

  /// How far that is to be relied on, in [0, 1]: less, the longer the target was not seen.
  [[nodiscard]] double trust() const noexcept {
    const Box there = box();
    return 1 / (1 + (filters_[0].variance() + filters_[1].variance()) / (0.25 * there.w * there.h));
  }

  /// Takes the overlap of a box that was held with where it should have been into what is usual.
  void take_met(double met) noexcept {
    met_variance_ += kMetRate * ((met - usual_met_) * (met - usual_met_) - met_variance_);
    usual_met_ += kMetRate * (met - usual_met_);
  }

  /// Whether such an overlap is far from the usual one, where trust makes that tell something.
  [[nodiscard]] bool is_doubtful(double met) const noexcept {
    const double usual_least = usual_met_ - 2 * std::sqrt(met_variance_);
    return met < std::max(kJumped, trust() * std::min(kDoubtful, usual_least));
  }

  /// Overlap below which a box may be another thing's in any case, as while the target is hidden in part.
  static constexpr double kJumped = 0.1;

 private:
  static constexpr double kRateKept = 0.92;  // a frame without the target
  // The most overlap that is doubtful where the target usually has more.
  static constexpr double kDoubtful = 0.35;
  static constexpr double kMetRate = 0.1;            // of the newest overlap in what is usual
  static constexpr double kFirstMet = 0.5;           // that is taken for usual at first
  static constexpr double kFirstMetVariance = 0.04;  // and its variance

  std::array<MotionFilter, 4> filters_;  // centre, and logarithms of width and height
  double usual_met_ = kFirstMet;
  double met_variance_ = kFirstMetVariance;
};

}  // namespace mnemon
