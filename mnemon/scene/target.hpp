// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <memory>
#include <vector>

#include <mnemon/scene/paint.hpp>
#include <mnemon/scene/pose.hpp>
#include <mnemon/scene/scene_spec.hpp>

namespace mnemon {

/// What is followed, or one like it: how it looks in any pose. Drawing changes only the picture and the tile given,
/// so that threads may share a target.
class Target {
 public:
  Target() = default;
  Target(const Target&) = delete;
  Target& operator=(const Target&) = delete;
  virtual ~Target() = default;

  /// The edge of the part that truth speaks of, px.
  [[nodiscard]] virtual Polygon outline(const Pose& pose) const = 0;

  /// Draws all of it, with lines and tails, onto an RGB picture of grey levels.
  virtual void draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const = 0;

  /// Its colours, for what is to be like it.
  [[nodiscard]] virtual std::vector<Tint> colours() const = 0;
};

/// A target whose colours come from `key`, each moved towards those of another one by `strangeness` in [0, 1].
[[nodiscard]] std::unique_ptr<const Target> make_target(TargetKind kind, std::uint64_t key,
                                                        double strangeness = 0);

/// What truth calls it.
[[nodiscard]] const char* target_label(TargetKind kind) noexcept;

/// Where its tail is tied on, in own units; only a kite has one.
[[nodiscard]] Point tail_place(TargetKind kind) noexcept;

/// The colours of cloth: four of a set, drawn by `key`.
[[nodiscard]] std::vector<Tint> cloth_colours(std::uint64_t key, double strangeness);

}  // namespace mnemon
