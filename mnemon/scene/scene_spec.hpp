// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/params.hpp>

namespace mnemon {

/// The knobs of a scene: what can be set from outside on any of them. Those from `occlusion` to `noise` are the
/// difficulties, each named as its tag and at a level from 0 to 1, independent of the others.
struct SceneParams {
  int frames = 150;
  int width = 640;
  int height = 360;
  double rate_hz = 30;
  double size_px = 62;
  double gust = 0.3;
  int hidden_frames = 0;
  double hidden_at = 0.5;
  double thicket = 0;
  double night = 0;
  double rain = 0;
  double haze = 0;
  double compression = 0;
  double shutter = 0.25;
  double readout = 0.3;
  double occlusion = 0;
  double out_of_view = 0;
  double scale = 0;
  double rotation = 0;
  double aspect = 0;
  double deformation = 0;
  double blur = 0;
  double fast = 0;
  double light = 0;
  double lookalike = 0;
  double clutter = 0;
  double small = 0;
  double camera_motion = 0;
  double noise = 0;

  static void describe(auto& schema) {
    using P = SceneParams;
    schema.field("frames", &P::frames, {2, 100000}, "frames", "Length of the sequence.");
    schema.field("width", &P::width, {64, 4096}, "px", "Width of the picture.");
    schema.field("height", &P::height, {64, 4096}, "px", "Height of the picture.");
    schema.field("rate_hz", &P::rate_hz, {1, 1000}, "Hz",
                 "Frames a second; at a lower rate the target goes further from frame to frame.");
    schema.field("size_px", &P::size_px, {2, 1000}, "px", "Height of the target on a picture 360 high.");
    schema.field("gust", &P::gust, {0, 1}, "",
                 "Strength of the wind; raising it makes the target sway and roll more.");
    schema.field("hidden_frames", &P::hidden_frames, {0, 10000}, "frames",
                 "How long one bank of cloud hides the target entirely; 0 for none.");
    schema.field("hidden_at", &P::hidden_at, {0, 1}, "of the sequence",
                 "When that bank hides the target: the middle of it.");
    schema.field("thicket", &P::thicket, {0, 1}, "",
                 "How dense a thicket stands in front, away from where the target is first.");
    schema.field("night", &P::night, {0, 1}, "", "How dark it is, evenly through the sequence.");
    schema.field("rain", &P::rain, {0, 1}, "", "How much rain falls between camera and target.");
    schema.field("haze", &P::haze, {0, 1}, "", "How much the air dulls what is far.");
    schema.field("compression", &P::compression, {0, 1}, "",
                 "How coarsely each frame is compressed, as a camera of little bandwidth does.");
    schema.field("shutter", &P::shutter, {0, 1}, "of a frame",
                 "How long the shutter is open; what moves meanwhile smears.");
    schema.field("readout", &P::readout, {0, 1}, "of a frame",
                 "How much later the last row is exposed than the first; what moves meanwhile leans.");
    schema.field("occlusion", &P::occlusion, {0, 1}, "",
                 "Share of the time that banks of cloud hide the target.");
    schema.field("out_of_view", &P::out_of_view, {0, 1}, "",
                 "Share of the time that the target is out of the picture, to return elsewhere.");
    schema.field("scale", &P::scale, {0, 1}, "",
                 "How much and how fast the target's size changes, up to 5 times either way.");
    schema.field("rotation", &P::rotation, {0, 1}, "",
                 "How fast the target turns in the picture, up to 3 turns a second.");
    schema.field("aspect", &P::aspect, {0, 1}, "",
                 "How far the target turns away from the camera, up to edge on.");
    schema.field("deformation", &P::deformation, {0, 1}, "",
                 "How far waves bend the target, up to half its size.");
    schema.field("blur", &P::blur, {0, 1}, "",
                 "How far the focus wanders and how much longer the shutter is open.");
    schema.field("fast", &P::fast, {0, 1}, "",
                 "How far the target goes in one frame of a squall, up to 2.5 times its size.");
    schema.field("light", &P::light, {0, 1}, "",
                 "How dark it gets, how the white balance drifts and how the light flickers.");
    schema.field("lookalike", &P::lookalike, {0, 1}, "",
                 "How many others like the target cross behind it, how close and how alike.");
    schema.field("clutter", &P::clutter, {0, 1}, "",
                 "How much bunting in the target's colours is strung across the sky.");
    schema.field("small", &P::small, {0, 1}, "", "How far away the target is: smaller by up to 25 times.");
    schema.field("camera_motion", &P::camera_motion, {0, 1}, "",
                 "How much the hand that holds the camera shakes.");
    schema.field("noise", &P::noise, {0, 1}, "",
                 "How few photons the sensor gets, at full level one for five pixels.");
  }

  /// \throws CallError  where the hiding does not fit into the frames.
  void check() const;
};

/// Where the target is steered to at a moment.
struct FlightKey {
  double at = 0;    ///< Share of the sequence, in [0, 1].
  double x = 0.5;   ///< Share of the picture's width.
  double y = 0.5;   ///< Share of the picture's height.
  double size = 1;  ///< Factor on the target's size.
};

/// What is followed.
enum class TargetKind { kite, streamer, balloon, beacon };

/// A sequence that can be rendered, as data.
struct SceneSpec {
  std::string name;                      ///< As `mnemon scene` has it.
  std::string title;                     ///< In a few words.
  TargetKind target = TargetKind::kite;  ///< What is followed.
  std::vector<std::string> tags;         ///< Besides those of its knobs.
  std::vector<FlightKey> keys;           ///< By rising time, at least one; none for a balloon.
  ParamSet set;                          ///< Values of SceneParams that differ from the defaults.
};

/// Reads scenes from TOML text; `file` is what messages call it.
/// \throws DataError  naming file, line and column.
[[nodiscard]] std::vector<SceneSpec> parse_scenes(std::string_view text, const std::filesystem::path& file);

/// The demo scenario's scenes, in their order.
[[nodiscard]] const std::vector<SceneSpec>& demo_scenes();

/// The demo scene of that name.
/// \throws CallError  where there is none, naming the nearest.
[[nodiscard]] const SceneSpec& demo_scene(std::string_view name);

/// The tags of the difficulties whose level is above 0, in their order.
[[nodiscard]] std::vector<std::string> knob_tags(const SceneParams& params);

}  // namespace mnemon
