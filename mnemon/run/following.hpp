// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <optional>
#include <string>

#include <mnemon/run/smoothed_steps.hpp>
#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// Which frames to follow, and how.
struct FollowOptions {
  int first = 0;            ///< Frames before it are passed over.
  std::optional<int> last;  ///< Left out: the last there is.
  int step = 1;             ///< Of every so many frames from the seed's on the first is followed.
  double smooth_s =
      0;  ///< Answers are smoothed over that time, s; those that move at a constant rate lag by it.
  StepLimit limit = {};  ///< How long a step may take.

  /// \throws CallError  where they ask for no frame.
  void check() const;
};

/// Asked on every frame that is followed, and on those before the first region, where a person or truth has the target.
/// The first region seeds the tracker, each later one starts it afresh there: a mark.
using MarkOnFrame = std::function<std::optional<Region>(const Frame& frame, bool has_target)>;

/// A step of following: the row of the trace, and the frame it belongs to, null where the tracker was not given one.
/// Holds until the next step.
struct FollowStep {
  TraceRow row;                  ///< What the tracker answered, with the step's time.
  const Frame* frame = nullptr;  ///< The frame itself; null once the next is taken.
};

/// A tracker's way through frames as they come, pulled step by step. It keeps nothing of them. Frames before the first mark are
/// shown to trackers that watch. A frame that is missing
/// between two that came gets a row with event `skip` and the last answer. Rows of later marks have event `mark`.
class Following {
 public:
  /// Tracker and frames must outlive it.
  /// \throws CallError  where the options ask for no frame.
  Following(Tracker& tracker, FrameSource& frames, const FollowOptions& options, MarkOnFrame marks);

  /// The next row, or nothing at the end. Frames are read on the calling thread.
  /// \throws Error  as the tracker and the frames do, and where an estimate is not finite.
  [[nodiscard]] std::optional<FollowStep> step();

  /// That follows.
  [[nodiscard]] Tracker& tracker() noexcept { return tracker_; }

 private:
  [[nodiscard]] bool take_frame();
  [[nodiscard]] FollowStep skipped_row();
  [[nodiscard]] TraceRow follow();

  Tracker& tracker_;
  FrameSource& frames_;
  FollowOptions options_;
  MarkOnFrame marks_;
  SmoothedSteps steps_;
  std::optional<Frame> frame_;  // taken last
  bool is_taken_ = false;       // and not answered yet
  bool is_over_ = false;
  std::optional<Region> mark_;  // on it
  std::optional<int> seed_frame_;
  std::optional<TraceRow> last_row_;
  int end_ = 0;  // of the rows for frames that are missing before what is at hand
};

/// Passes over the frames before `first`.
/// \param name  What messages call the frames.
/// \throws CallError  where there are fewer.
void skip_to(FrameSource& frames, int first, const std::string& name);

/// The first frame from `from` on whose truth has the target.
/// \throws CallError  where there is none up to `last`.
[[nodiscard]] int first_true_frame(const Sequence& sequence, int from, std::optional<int> last);

/// Marks the target where truth has it first. The truth must outlive it.
[[nodiscard]] MarkOnFrame marked_by_truth(const Truth& truth);

}  // namespace mnemon
