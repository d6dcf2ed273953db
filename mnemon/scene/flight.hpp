// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <vector>

#include <mnemon/scene/pose.hpp>
#include <mnemon/scene/scene_spec.hpp>

namespace mnemon {

/// Flies a target: a mass on a spring to the place it is steered to, pushed about by smooth gusts, with a roll that
/// swings after its sideways pull.
/// \returns  One pose a frame, without tails.
[[nodiscard]] std::vector<Pose> fly(const SceneParams& params, const std::vector<FlightKey>& keys,
                                    std::uint64_t key);

/// Another path of the same kind: shifted, perhaps mirrored, and bent a little, so that the target stays in the sky.
[[nodiscard]] std::vector<FlightKey> other_path(const std::vector<FlightKey>& keys, std::uint64_t key);

/// What a scene's camera and balloon measure.
inline constexpr double kBalloonDiameterMm = 1200;
/// Focal length in pixels of a picture that is `height` px high.
[[nodiscard]] double focal_px(int height) noexcept;

/// Tows a balloon along an eight that lies level, one loop behind the other, so that it comes near and goes far; gusts
/// push it about.
[[nodiscard]] std::vector<Pose> tow(const SceneParams& params, std::uint64_t key);

/// Hangs a tail of joined links on every pose, which hangs, trails and flutters.
/// \param tied  Where it is tied on, in own units.
void hang_tails(const SceneParams& params, Point tied, std::uint64_t key, std::vector<Pose>& poses);

}  // namespace mnemon
