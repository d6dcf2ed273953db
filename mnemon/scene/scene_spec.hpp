// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/params.hpp>

namespace mnemon {

/// The knobs of a scene: what can be set from outside on any of them.
struct SceneParams {
  int frames = 150;
  int width = 640;
  int height = 360;
  double rate_hz = 30;
  double size_px = 62;
  double gust = 0.3;
  double noise = 1.5;
  int hidden_frames = 0;
  double hidden_at = 0.5;

  static void describe(auto& schema) {
    using P = SceneParams;
    schema.field("frames", &P::frames, {2, 100000}, "frames", "Length of the sequence.");
    schema.field("width", &P::width, {64, 4096}, "px", "Width of the picture.");
    schema.field("height", &P::height, {64, 4096}, "px", "Height of the picture.");
    schema.field("rate_hz", &P::rate_hz, {1, 1000}, "Hz",
                 "Frames a second; at a lower rate the kite goes further from frame to frame.");
    schema.field("size_px", &P::size_px, {8, 1000}, "px", "Height of the kite's sail on a picture 360 high.");
    schema.field("gust", &P::gust, {0, 1}, "",
                 "Strength of the gusts; raising it makes the kite sway, roll and hurry more.");
    schema.field("noise", &P::noise, {0, 40}, "grey levels", "Standard deviation of the sensor's noise.");
    schema.field("hidden_frames", &P::hidden_frames, {0, 10000}, "frames",
                 "How long a bank of cloud hides the kite entirely; 0 for no cloud.");
    schema.field("hidden_at", &P::hidden_at, {0, 1}, "of the sequence",
                 "When the kite is hidden: the middle of it.");
  }

  /// \throws CallError  where the hiding does not fit into the frames.
  void check() const;
};

/// Where the kite is steered to at a moment.
struct FlightKey {
  double at = 0;    ///< Share of the sequence, in [0, 1].
  double x = 0.5;   ///< Share of the picture's width.
  double y = 0.5;   ///< Share of the picture's height.
  double size = 1;  ///< Factor on the kite's size.
};

/// A sequence that can be rendered, as data.
struct SceneSpec {
  std::string name;
  std::string title;
  std::vector<std::string> tags;
  std::vector<FlightKey> keys;  ///< By rising time, at least one.
  ParamSet set;                 ///< Values of SceneParams that differ from the defaults.
};

/// Reads scenes from TOML text; `file` is what messages call it.
/// \throws DataError  naming file, line and column.
[[nodiscard]] std::vector<SceneSpec> parse_scenes(std::string_view text, const std::filesystem::path& file);

/// The demo scenario's scenes, in their order.
[[nodiscard]] const std::vector<SceneSpec>& demo_scenes();

/// The demo scene of that name.
/// \throws CallError  where there is none, naming the nearest.
[[nodiscard]] const SceneSpec& demo_scene(std::string_view name);

}  // namespace mnemon
