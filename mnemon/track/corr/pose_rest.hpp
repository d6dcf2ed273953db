// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>

#include <mnemon/track/corr/pose_search.hpp>

namespace mnemon {

/// On which frames a size and a turn are measured: on every frame while they change, and ever more seldom once
/// they rest. Measuring them is the larger part of a step, and most targets seldom turn.
class PoseRest {
 public:
  PoseRest() = default;
  /// \param longest  Most frames from one measure to the next, at least 1.
  explicit PoseRest(int longest) noexcept : size_(longest), turn_(longest) {}

  /// Goes on with another most.
  void retune(int longest) noexcept {
    size_.retune(longest);
    turn_.retune(longest);
  }

  /// What to measure on the next frame.
  [[nodiscard]] PoseSearch::Asked next() noexcept { return {size_.is_due(), turn_.is_due()}; }

  /// Takes in what was measured where it was asked for.
  void measured(const PoseSearch::Asked& asked, const PoseSearch::Change& change) noexcept {
    if (asked.size) size_.measured(std::abs(std::log(change.growth)) > kGrowth);
    if (asked.turn) turn_.measured(std::abs(change.turn_deg) > kTurnDeg);
  }

  /// Asks for both on the next frame, as after a loss.
  void wake() noexcept {
    size_.measured(true);
    turn_.measured(true);
  }

 private:
  class One {
   public:
    One() = default;
    explicit One(int longest) noexcept : longest_(longest) {}
    void retune(int longest) noexcept { longest_ = longest; }
    [[nodiscard]] bool is_due() noexcept { return ++since_ >= std::min(wait_, longest_); }
    void measured(bool has_changed) noexcept {
      since_ = 0;
      wait_ = has_changed ? 1 : std::min(2 * wait_, longest_);
    }

   private:
    int longest_ = 1;
    int wait_ = 1;
    int since_ = 0;
  };

  // Changes below these are none: the way from one view to the next.
  static constexpr double kGrowth = 0.087;  // logarithm
  static constexpr double kTurnDeg = 5;     // degrees

  One size_;
  One turn_;
};

}  // namespace mnemon
