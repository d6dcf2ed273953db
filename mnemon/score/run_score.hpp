// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <vector>

#include <mnemon/base/frame_span.hpp>
#include <mnemon/score/frame_score.hpp>
#include <mnemon/score/holds.hpp>
#include <mnemon/score/losses.hpp>
#include <mnemon/score/restarts.hpp>
#include <mnemon/score/speed.hpp>

namespace mnemon {

/// Whether somebody started the tracker again after losses.
enum class Help { unaided, restart };

/// How a run is to be scored.
struct ScoreOptions {
  std::optional<Help> help = {};  ///< Left out: told by the trace's events.
  std::optional<int> last = {};   ///< The last frame, where the run is to end earlier.
  RestartRule rule = {};          ///< By which the run was restarted.
  std::vector<FrameSpan> within =
      {};  ///< Only these frames count, where there are any; then losses, recovery and
           ///< speed are null or 0, as they are figures of whole runs.
};

/// Every figure of one run; docs/scores.md defines each. Null stands for an empty denominator.
struct RunScore {
  Help help = Help::unaided;
  int seed_frame = 0;
  int scored_frames = 0;
  int present_frames = 0;
  int absent_frames = 0;
  int found_frames = 0;
  int missing_frames = 0;
  std::vector<double> overlap_curve;
  /// The area under the share of frames with overlap > t, over all t in [0, 1]: exactly the mean of the overlaps.
  /// Source: Čehovin, Leonardis and Kristan, TIP 2016.
  Figure success_area;
  Figure success_at_half;
  Figure success_at_three_quarters;
  std::vector<double> centre_curve;
  Figure hit_rate_20;
  std::vector<double> relative_centre_curve;
  Figure relative_centre_area;
  Figure median_centre_error;
  Figure found_share;
  int angle_frames = 0;
  Figure angle_error_mean;
  Figure angle_error_median;
  HoldPoint holds;
  std::vector<HoldPoint> hold_curve;
  Figure best_f;
  Figure absence_rate;
  int position_frames = 0;       ///< Found present frames whose position is known both ways.
  Figure position_error_median;  ///< Of their distance from the true place, as a share of that one's range.
  int mask_frames = 0;  ///< Present frames with a true mask that were not found or have one of the tracker's.
  Figure mean_mask_overlap;  ///< Over these; 0 where not found.
  LossSummary losses;        ///< Only meaningful unaided.
  std::vector<Return> returns;
  Figure returned_share;
  Figure frames_to_return;
  int restarts = 0;  ///< This and the next five only meaningful under restart.
  Figure restarts_per_1000;
  Figure held_overlap;
  std::vector<Stretch> stretches;
  std::vector<SurvivalPoint> survival;
  Figure median_hold;
  Figure skipped_share;
  Speed speed;
};

/// Scores one run.
/// \throws CallError  where the trace has no row to score.
[[nodiscard]] RunScore score_run(const Truth& truth, const Trace& trace, const ScoreOptions& options = {});

}  // namespace mnemon
