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
  Help help = Help::unaided;          ///< What was done for the tracker once it was lost.
  int seed_frame = 0;                 ///< On which the tracker was given the target.
  int scored_frames = 0;              ///< After that, with truth, but for those that settle.
  int present_frames = 0;             ///< Of the scored ones, those with the target there.
  int absent_frames = 0;              ///< Those without it.
  int found_frames = 0;               ///< Present ones on which the tracker claims the target.
  int missing_frames = 0;             ///< Scored ones without a row in the trace.
  std::vector<double> overlap_curve;  ///< Share of present frames with overlap > t, for t = 0, 0.01, ..., 1.
  /// The area under the share of frames with overlap > t, over all t in [0, 1]: exactly the mean of the overlaps.
  /// Source: Čehovin, Leonardis and Kristan, TIP 2016.
  Figure success_area;
  Figure success_at_half;            ///< Share of present frames with overlap > 0.5.
  Figure success_at_three_quarters;  ///< The same above 0.75.
  /// Share of present frames with centre error <= d px, for whole d from 0.
  std::vector<double> centre_curve;
  Figure hit_rate_20;                         ///< The same at 20 px.
  std::vector<double> relative_centre_curve;  ///< The same over the target's size, for shares from 0 to 0.5.
  Figure relative_centre_area;                ///< Under it, in [0, 1].
  Figure median_centre_error;                 ///< Px; infinite where most frames were not found.
  Figure found_share;                         ///< Found over present frames.
  int angle_frames = 0;                       ///< Found ones on which both boxes are turned.
  Figure angle_error_mean;                    ///< Over these, degrees.
  Figure angle_error_median;                  ///< Over these, degrees.
  HoldPoint holds;                            ///< At all claims.
  std::vector<HoldPoint> hold_curve;          ///< By rising confidence.
  Figure best_f;                              ///< The highest on that curve.
  Figure absence_rate;                        ///< Share of absent frames on which the tracker says so.
  int position_frames = 0;                    ///< Found present frames whose position is known both ways.
  Figure position_error_median;  ///< Of their distance from the true place, as a share of that one's range.
  int mask_frames = 0;  ///< Present frames with a true mask that were not found or have one of the tracker's.
  Figure mean_mask_overlap;             ///< Over these; 0 where not found.
  LossSummary losses;                   ///< Only meaningful unaided.
  std::vector<Return> returns;          ///< One for each time that the target comes back.
  Figure returned_share;                ///< Those after which it was found in time.
  Figure frames_to_return;              ///< Median over these.
  int restarts = 0;                     ///< This and the next five only meaningful under restart.
  Figure restarts_per_1000;             ///< Over 1000 scored frames.
  Figure held_overlap;                  ///< Mean overlap over scored present frames.
  std::vector<Stretch> stretches;       ///< In order.
  std::vector<SurvivalPoint> survival;  ///< Of these; docs/scores.md.
  Figure median_hold;                   ///< The length that half of the stretches outlast, frames.
  Figure skipped_share;                 ///< Under `live`: frames that passed while a step was busy, over all.
  Speed speed;                          ///< Of the steps.
};

/// Scores one run.
/// \throws CallError  where the trace has no row to score.
[[nodiscard]] RunScore score_run(const Truth& truth, const Trace& trace, const ScoreOptions& options = {});

}  // namespace mnemon
