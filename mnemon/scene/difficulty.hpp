// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <vector>

#include <mnemon/base/frame_span.hpp>
#include <mnemon/scene/pose.hpp>
#include <mnemon/scene/scene_spec.hpp>

namespace mnemon {

/// Changes a flight by the difficulties that lie in how the target moves and looks: scale, small, rotation, aspect,
/// deformation, fast and out_of_view. The first pose stays where it is.
void make_harder(const SceneParams& params, std::uint64_t key, std::vector<Pose>& poses);

/// The ways of others like the target, one pose a frame each, none where `lookalike` is 0. They start away from
/// `middle` and cross it again and again, the closer the higher the level.
/// \param middle  The target's own way, without what takes it out of their company: darting and leaving.
[[nodiscard]] std::vector<std::vector<Pose>> lookalike_poses(const SceneParams& params, std::uint64_t key,
                                                             const std::vector<Pose>& middle);

/// When banks of cloud are to hide the target: by `hidden_frames` and by `occlusion`.
[[nodiscard]] std::vector<FrameSpan> hidden_spans(const SceneParams& params);

}  // namespace mnemon
