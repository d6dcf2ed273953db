// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <vector>

#include <mnemon/geometry/polygon.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/scene/scene_spec.hpp>
#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// A scene ready to be rendered, with its truth. The same spec, parameters and random number give the same
/// bits in any order of frames and on any number of threads, which may share a scene.
class Scene {
 public:
  /// \param spec    What flies where.
  /// \param set     Parameters that override those of the spec.
  /// \param random  Draws the landscape, the colours, the wind and all else that is left to chance.
  /// \throws CallError  naming the parameter that does not exist or is out of range.
  Scene(const SceneSpec& spec, const ParamSet& set, std::uint64_t random);
  Scene(Scene&&) noexcept;
  ~Scene();

  /// As they were set, or are by default.
  [[nodiscard]] const SceneParams& params() const noexcept;

  /// Truth of every frame, at the middle of its exposure. The box is the smallest around the target's outline,
  /// wherever it lies; `visible` is the share of the outline's area that is in the picture, lit and not hidden; the
  /// target is present where that is not 0.
  [[nodiscard]] const Truth& truth() const noexcept;

  /// The target's outline at the middle of a frame's exposure, px, hidden or not.
  [[nodiscard]] const Polygon& outline(int frame) const noexcept;

  /// An RGB picture of the frame.
  [[nodiscard]] Image<Byte> render(int frame) const;

  /// 255 where at least half of a pixel shows the target, 0 elsewhere; one channel.
  [[nodiscard]] Image<Byte> mask(int frame) const;

  /// Everything of the sequence but its pictures; file names are those that render_sequence uses.
  [[nodiscard]] Sequence describe() const;

 private:
  struct Parts;
  std::unique_ptr<const Parts> parts_;
};

/// Called with the number of frames done and of all frames.
using Progress = std::function<void(int, int)>;

/// How a sequence's frames are kept: as JPEG of high quality in full colour, as most data sets have theirs, in a
/// tenth of the room; or as PNG, to the last bit.
enum class FrameForm { jpeg, png };

/// Renders all frames, masks, truth and the description into a new folder, whole or not at all.
/// \param jobs  Threads; 0: as many as cores. The files are the same on any number.
/// \param progress  May be empty; called from any thread, one at a time. What it throws ends the work.
/// \param overwrite  Whether a sequence that was rendered before may be replaced.
/// \throws CallError  where the folder is there and not empty; DataError  where writing fails.
void render_sequence(const Scene& scene, const std::filesystem::path& folder, int jobs,
                     const Progress& progress, FrameForm form = FrameForm::jpeg, bool overwrite = false);

}  // namespace mnemon
