// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/scene/scene.hpp>

namespace mnemon::test {

/// Renders a demo scene of a few frames into `folder/kites/name`.
inline void render_small(const std::filesystem::path& folder, const std::string& name, int frames,
                         int hidden = 0) {
  const ParamSet set{{"frames", frames}, {"hidden_frames", hidden}};
  render_sequence(Scene(demo_scene(name), set, 1), folder / "kites" / name, 0, {});
}

/// A plan over every sequence in `folder/kites`. \returns  Its file.
inline std::filesystem::path write_plan(const std::filesystem::path& folder, const std::string& trackers) {
  write_file(folder / "plan.toml",
             "format = \"mnemon-plan/1\"\ntitle = \"a small plan\"\nsequences = [\"kites/*\"]\n" + trackers);
  return folder / "plan.toml";
}

inline constexpr const char* kOneTracker = "[[tracker]]\nname = \"corr-plain\"\n";

}  // namespace mnemon::test
