// SPDX-License-Identifier: MIT
#pragma once
#include <span>

#include <mnemon/score/frame_score.hpp>
/// \file
/// How an estimate trembles about the truth and how far behind it runs. Both figures are Mnemon's own.
namespace mnemon {

/// The largest shift that is looked for between estimate and truth, frames.
inline constexpr int kMostLag = 10;

/// How a trace wobbles beside the truth's own motion.
struct Steadiness {
  /// Median length of the second difference of the centre's error, target sizes: over every three frames in a row that
  /// are present and found. A box that is off by the same everywhere does not tremble.
  Figure jitter;
  /// By how many frames the estimate's path runs behind the truth's, from -10 to 10, with a parabola between: the shift
  /// at which the mean squared distance of the two is least. Null where there are fewer than 30 frames to compare at every
  /// shift, or where the truth's path is shorter than its own size, so that every shift fits.
  Figure lag;
};

/// \param frames  Scored frames, by rising frame.
/// \param truth   Of the sequence.
/// \param trace   What was answered.
[[nodiscard]] Steadiness steadiness(std::span<const FrameScore> frames, const Truth& truth,
                                    const Trace& trace);

}  // namespace mnemon
