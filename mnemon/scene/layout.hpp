// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include <mnemon/scene/backdrop.hpp>
#include <mnemon/scene/camera.hpp>
#include <mnemon/scene/cloud_bank.hpp>
#include <mnemon/scene/scene_spec.hpp>
#include <mnemon/scene/target.hpp>
#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// How much of a target is to be seen on a frame.
struct Seen {
  double area = 0;    ///< Of its outline, px².
  double inside = 0;  ///< Of that within the picture.
  double shown = 0;   ///< Of that lit and not hidden.
};

/// Where everything of a scene is on every frame, and what is true of it. Threads may share one.
class Layout {
 public:
  /// \throws CallError  naming the parameter that does not exist or is out of range.
  Layout(const SceneSpec& scene_spec, const ParamSet& set, std::uint64_t random);

  SceneSpec spec;                         ///< What was asked for.
  SceneParams params;                     ///< With what was set.
  std::uint64_t key;                      ///< Differs between scenes of one random number.
  Camera camera;                          ///< Where it looks on each frame.
  std::unique_ptr<const Target> target;   ///< The target as a shape.
  std::vector<Pose> poses;                ///< Of the target, one a frame.
  std::unique_ptr<const Target> other;    ///< How those look that are like the target.
  std::vector<std::vector<Pose>> others;  ///< Of each of those that look like it, one a frame.
  std::vector<Polygon> outlines;          ///< Of the target, px.
  Backdrop backdrop;                      ///< What is behind.
  std::vector<CloudBank> banks;           ///< What passes before the target.
  std::vector<Seen> seen;                 ///< What is to be seen of the target, one a frame.
  Truth truth;                            ///< What is right.

  /// A frame's time, s.
  [[nodiscard]] double time_of(int frame) const noexcept { return frame / params.rate_hz; }

  /// From a place in the picture to one in the backdrop, which has margins.
  [[nodiscard]] Affine to_backdrop(double time_s) const;

  /// The pose at a moment between frames.
  [[nodiscard]] static Pose pose_at(const std::vector<Pose>& way, double frame);

  /// Called with row, column, the share of the pixel that the target covers, and the share of that which is hidden.
  using OnPixel = std::function<void(int, int, float, float)>;

  /// Goes over the pixels of the picture that the target reaches into.
  void for_each_pixel(int frame, const OnPixel& use) const;

  /// Frames on which something hides the target or it reaches out of the picture; short gaps are closed.
  [[nodiscard]] std::vector<TagSpan> spans() const;

  /// Those of the spec, of the knobs, and of what hides the target.
  [[nodiscard]] std::vector<std::string> tags() const;

 private:
  void fly_all();
  void set_views(std::vector<Pose>& way) const;
  void furnish();
  [[nodiscard]] float hidden_share(int frame, const Affine& to_world, int r, int c) const;
  [[nodiscard]] Seen look_at(int frame) const;
  [[nodiscard]] TruthRow true_row(int frame) const;
  [[nodiscard]] PositionMm position(int frame) const;
  [[nodiscard]] std::vector<TagSpan> spans_where(const char* tag,
                                                 const std::function<bool(int)>& holds) const;
};

}  // namespace mnemon
