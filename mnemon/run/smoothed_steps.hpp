// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/run/smoother.hpp>
#include <mnemon/run/timed_step.hpp>

namespace mnemon {

/// Steps of a tracker whose answers are smoothed.
class SmoothedSteps {
 public:
  /// \param smooth_s  At 0 answers stay as they are.
  /// \param limit     How long a step may take.
  explicit SmoothedSteps(double smooth_s = 0, StepLimit limit = {});

  /// Seeds the tracker where there is a mark, and follows otherwise.
  /// \throws Error  as timed_step does.
  [[nodiscard]] TraceRow take(Tracker& tracker, const Frame& frame, const std::optional<Region>& mark);

 private:
  double smooth_s_;
  Smoother smoother_;
  StepLimit limit_;
};

}  // namespace mnemon
