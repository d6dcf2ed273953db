// SPDX-License-Identifier: MIT
#pragma once
#include <functional>

#include <mnemon/base/json.hpp>
#include <mnemon/media/frame_shelf.hpp>
#include <mnemon/run/session.hpp>
#include <mnemon/sequence/truth.hpp>
#include <mnemon/study/settings.hpp>

namespace mnemon {

/// Which parameters matter here: each number is halved and doubled, each switch turned, each word exchanged, one at a time, and the tracker
/// follows again from a mark.
/// \param catalogue  Has the tracker.
/// \param settings   What is varied about.
/// \param keep_out   Areas that are never the target, px.
/// \param frames     The frames.
/// \param mark       Where it begins.
/// \param last       The last frame.
/// \param truth      Where it is known on these frames, results are mean overlaps, and mean confidences otherwise.
/// \param progress   Called with runs done and to do; what it throws ends the work.
/// \returns  {measure, base, rows: [{name, value, result}]}, by how far the result is from the base, the furthest first. A value
///           that is not allowed, or with which the tracker fails, is left out.
[[nodiscard]] Json vary_parameters(const Catalogue& catalogue, const TrackerSettings& settings,
                                   const std::vector<Polygon>& keep_out, FrameShelf& frames,
                                   const SessionMark& mark, int last, const Truth& truth,
                                   const std::function<void(int, int)>& progress);

}  // namespace mnemon
