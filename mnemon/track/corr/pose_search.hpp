// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <vector>

#include <mnemon/image/turned_window.hpp>
#include <mnemon/track/corr/pose_filter.hpp>
#include <mnemon/vision/gradient_histogram.hpp>

namespace mnemon {

/// Finds how much the target has grown, and if wanted turned, since the last frame: filters over gradient histograms
/// of the target at 17 sizes and at 17 turns. `learn` first, then `find` and `learn` in turn. After that it allocates
/// nothing.
/// Source: Danelljan, Häger, Khan and Felsberg, TPAMI 2017 (sizes); ours does the same for turns.
class PoseSearch {
 public:
  /// How far it looks.
  struct Reach {
    double growth = 2;    ///< The largest looked for between two frames, above 1.
    double turn_deg = 0;  ///< The same, degrees; 0 where turns are not looked for.
  };
  /// Where the target is: its middle, px, how large against its size at first, and how it is turned, degrees.
  struct Pose {
    Point middle;         ///< Of the target, px.
    double scale = 1;     ///< Of its size over that of the seed.
    double turn_deg = 0;  ///< Since the seed, clockwise.
    friend bool operator==(const Pose&, const Pose&) = default;
  };
  /// What is to be measured.
  struct Asked {
    bool size = true;  ///< Whether it is to be measured.
    bool turn = true;  ///< Of no effect where turns are not looked for.
  };
  /// What was measured.
  struct Change {
    double growth = 1;    ///< Of the size, as a factor.
    double turn_deg = 0;  ///< Clockwise.
  };

  /// \param target_w, target_h  Size of the target, px.
  /// \param reach         How much change is looked for.
  /// \param max_w, max_h  The largest window that is ever sampled, px; larger targets are looked at in part.
  PoseSearch(double target_w, double target_h, const Reach& reach, double max_w, double max_h);

  /// Moves the filters towards the target as it is, at a rate from 0 to 1: all of them at first, then those that the
  /// last `find` asked.
  void learn(ImageView<const Byte> rgb, const Pose& pose, double rate) noexcept;

  /// \returns  What is to be changed of the pose so that the responses are highest; of what is not asked, nothing.
  [[nodiscard]] Change find(ImageView<const Byte> rgb, const Pose& pose, const Asked& asked) noexcept;

  /// Where a sample lies in a line: after which one, and how far on towards the next.
  struct Spot {
    int low = 0;   ///< The first of the two samples.
    float on = 0;  ///< The weight of the second, in [0, 1].
  };

 private:
  void describe(ImageView<const Byte> rgb, const Pose& pose) noexcept;
  void describe_sizes() noexcept;
  void describe_turns() noexcept;

  double target_w_ = 0;
  double target_h_ = 0;
  Reach reach_;
  Point sampler_size_;
  TurnedWindow sampler_;
  GradientHistogram gradients_;
  Image<float> base_;   // the largest size, sampled once
  Image<float> patch_;  // one view
  Image<float> cells_;  // its histograms
  Asked asked_;
  std::optional<Pose> described_;  // that the views are of
  PoseFilter sizes_;
  std::optional<PoseFilter> turns_;
  std::vector<float> round_;  // of every cell: how much it counts for turns
  std::vector<Spot> across_;  // of every size in turn
  std::vector<Spot> down_;
};

}  // namespace mnemon
