// SPDX-License-Identifier: MIT
#include <mnemon/sequence/input.hpp>

#include <string_view>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/media/camera.hpp>
#include <mnemon/media/read_ahead.hpp>
#include <mnemon/media/video_source.hpp>

namespace mnemon {
namespace {

constexpr std::string_view kCamera = "camera:";
constexpr std::string_view kSimulated = "camera:sim:";

Input stream(std::string name, std::unique_ptr<FrameSource> frames) {
  Input input;
  input.sequence.name = name;
  input.sequence.title = std::move(name);
  input.sequence.rate_hz = frames->rate_hz().value_or(input.sequence.rate_hz);
  input.frames = std::move(frames);
  input.is_stream = true;
  return input;
}

}  // namespace

Input open_input(const std::string& name, const Interrupt& interrupt) {
  if (name == "-") return stream("standard input", open_standard_input(interrupt));
  if (name.starts_with(kSimulated)) {
    const std::string played = name.substr(kSimulated.size());
    Input input;
    input.sequence = read_sequence(played);
    input.frames = newest_only(paced(open_frames(input.sequence)), interrupt);
    input.is_stream = true;
    return input;
  }
  if (name.starts_with(kCamera)) {
    const std::string device = name.substr(kCamera.size());
    if (device.empty())
      throw CallError(
          "camera: names no device; write one such as camera:/dev/video0 or camera:webcam, or "
          "camera:sim:SEQUENCE");
    return stream(name, newest_only(open_camera(device, interrupt), interrupt));
  }
  Input input;
  input.sequence = read_sequence(name);
  input.frames = open_frames(input.sequence);
  return input;
}

}  // namespace mnemon
