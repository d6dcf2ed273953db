// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <map>
#include <string>
#include <vector>

#include <mnemon/image/levels.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// A stage as bytes, and what black and white stand for.
struct ShownStage {
  std::string name;   ///< As the tracker has it.
  Levels levels;      ///< What black and white stand for.
  int rows = 0;       ///< Of the stage itself, which may be larger than what is shown of it.
  int cols = 0;       ///< Likewise.
  Image<Byte> bytes;  ///< One channel, or three.
};

/// A stage as it is shown.
[[nodiscard]] ShownStage shown_stage(const Stage& stage);

/// What stages showed on the frames that somebody went through. Once it takes more memory than allowed, the frames are dropped
/// that are the furthest from the newest one.
class StageFilm {
 public:
  /// \param most_bytes  Of its pictures; those of the newest frame are kept however large.
  explicit StageFilm(std::size_t most_bytes) : most_bytes_(most_bytes) {}

  /// Takes a stage of a frame, which has none of that name yet.
  void add(int frame, ShownStage stage);

  /// Null where it has none of that name on that frame.
  [[nodiscard]] const ShownStage* find(int frame, const std::string& name) const;

  /// Drops everything.
  void clear() noexcept;

 private:
  std::size_t most_bytes_;
  std::size_t bytes_ = 0;
  std::map<int, std::vector<ShownStage>> frames_;
};

}  // namespace mnemon
