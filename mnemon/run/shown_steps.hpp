// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/run/scaled_view.hpp>
#include <mnemon/run/smoother.hpp>
#include <mnemon/run/timed_step.hpp>

namespace mnemon {

/// Steps of a tracker that is shown frames at another width, and whose answers are smoothed.
class ShownSteps {
 public:
  /// \param width     Px; left out: frames are shown as they are.
  /// \param smooth_s  At 0 answers stay as they are.
  /// \param limit     How long a step may take.
  /// \throws CallError  where the width is out of range.
  explicit ShownSteps(std::optional<int> width = {}, double smooth_s = 0, StepLimit limit = {});

  /// Shows a tracker a frame from before the target is marked.
  void watch(Tracker& tracker, const Frame& frame) { tracker.watch(view_.shown(frame)); }

  /// Seeds the tracker where there is a mark, and follows otherwise. Regions and answers are of the original frame.
  /// \throws Error  as timed_step does.
  [[nodiscard]] TraceRow take(Tracker& tracker, const Frame& frame, const std::optional<Region>& mark);

 private:
  ScaledView view_;
  double smooth_s_;
  Smoother smoother_;
  StepLimit limit_;
};

}  // namespace mnemon
