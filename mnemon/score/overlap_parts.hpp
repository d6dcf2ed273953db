// SPDX-License-Identifier: MIT
#pragma once
#include <span>

#include <mnemon/score/frame_score.hpp>
/// \file
/// What a box loses of its overlap, and to what. Mnemon's own.
namespace mnemon {

/// One less the overlap, in three parts that add up to it. A part may be a little below 0, as the right area does not
/// always help a box of the wrong shape.
struct OverlapParts {
  double offset = 0;   ///< What moving the box onto the truth's centre gains.
  double size = 0;     ///< What giving it the truth's area then gains.
  double shape = 0;    ///< The rest.
  double covered = 0;  ///< Not one of the parts: the share of the truth's area inside the box.
};

/// Of one frame; both boxes are proper.
[[nodiscard]] OverlapParts overlap_parts(const OrientedBox& truth, const OrientedBox& estimate) noexcept;

/// Means over frames that are present and found.
struct OverlapPartMeans {
  Figure offset;   ///< As in OverlapParts; null where no frame counts.
  Figure size;     ///< Likewise.
  Figure shape;    ///< Likewise.
  Figure covered;  ///< Likewise.
};

/// \param frames  Scored frames.
/// \param truth   Of the sequence.
/// \param trace   What was answered.
[[nodiscard]] OverlapPartMeans mean_overlap_parts(std::span<const FrameScore> frames, const Truth& truth,
                                                  const Trace& trace);

}  // namespace mnemon
