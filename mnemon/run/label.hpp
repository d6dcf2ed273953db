// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <string>
#include <vector>

#include <mnemon/run/protocol.hpp>
#include <mnemon/sequence/marks.hpp>
/// \file
/// Labels for the frames between key frames that a person marked: a tracker is run forwards from each and backwards from the
/// next. Mnemon's own.
namespace mnemon {

/// What a frame came to.
struct Label {
  Mark mark;             ///< Where the target is, and who says so.
  double sure = 1;       ///< From 0 to 1: 1 on key frames.
  std::string why = {};  ///< What a person should look at it for; empty where nothing is odd.
  MaskRuns mask = {};    ///< Of the direction that counted more, where the tracker has masks; empty for none.
};

/// Visits frames of a range, both ends included, in rising or falling order.
using VisitFrames = std::function<void(int from, int to, const std::function<void(const Frame&)>& use)>;

/// Frames of a sequence by range. Backwards they are read in pieces, so that memory does not grow with the range.
/// \param open  Opens the frames from the first.
[[nodiscard]] VisitFrames visits_of(OpenFrames open);

/// Labels every frame from 0 to `count` - 1. Between two key frames the answers of both directions are weighted by their confidence, by
/// how near their key frame is, and by how well each direction ends on the other key frame. Where they lie apart the
/// weightier one is taken; otherwise a box between them. Where neither is to be trusted the box is interpolated, and where both say that
/// the target is lost and one of them holds it again on its key frame, the target is absent. Before
/// the first and after the last key frame one direction alone counts. A key frame on which the target is absent ends a
/// stretch, and begins none.
/// \param marks  By rising frame, at least one with the target present, each below `count`.
/// \param count  Frames of the sequence.
/// \param make   Makes a fresh tracker for each direction.
/// \param visit  Reads the frames.
/// \param progress  Called with frames followed and to follow; what it throws ends the work. May be empty.
/// \throws CallError  where no mark has the target, or one lies beyond the last frame; Error  as the tracker and the frames do.
[[nodiscard]] std::vector<Label> label_frames(const std::vector<Mark>& marks, int count,
                                              const MakeTracker& make, const VisitFrames& visit,
                                              const std::function<void(int, int)>& progress);

/// Where every frame brings its box, cuts the target out of each of them: what a tracker makes of the box as its seed.
/// \param truth     The boxes.
/// \param make      Makes a tracker that answers masks.
/// \param visit     Reads the frames.
/// \param progress  Called with frames done and to do; what it throws ends the work. May be empty.
/// \throws CallError  where there is no box, or the tracker answers no masks; Error  as the tracker and the frames do.
[[nodiscard]] std::vector<Label> cut_masks(const Truth& truth, const MakeTracker& make,
                                           const VisitFrames& visit,
                                           const std::function<void(int, int)>& progress);

/// The box a share of the way from one to the other: centres evenly, sizes by their ratio, angles the shorter way.
[[nodiscard]] OrientedBox box_between(const OrientedBox& a, const OrientedBox& b, double share) noexcept;

}  // namespace mnemon
