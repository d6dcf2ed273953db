// SPDX-License-Identifier: MIT
#include <mnemon/sequence/input.hpp>

#include <algorithm>
#include <array>
#include <string_view>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/media/camera.hpp>
#include <mnemon/media/read_ahead.hpp>
#include <mnemon/media/video_source.hpp>

namespace mnemon {
namespace {

Input stream(std::string name, std::unique_ptr<FrameSource> frames) {
  Input input;
  input.sequence.name = name;
  input.sequence.title = std::move(name);
  input.sequence.rate_hz = frames->rate_hz().value_or(input.sequence.rate_hz);
  input.frames = std::move(frames);
  input.is_stream = true;
  return input;
}

Input standard_input(const std::string& /*rest*/, const Interrupt& interrupt) {
  return stream("standard input", open_standard_input(interrupt));
}

Input simulated_camera(const std::string& played, const Interrupt& interrupt) {
  Input input;
  input.sequence = read_sequence(played);
  input.frames = newest_only(paced(open_frames(input.sequence)), interrupt);
  input.is_stream = true;
  return input;
}

Input camera(const std::string& device, const Interrupt& interrupt) {
  if (device.empty())
    throw CallError(
        "camera: names no device; write one such as camera:/dev/video0 or camera:webcam, or "
        "camera:sim:SEQUENCE");
  return stream("camera:" + device, newest_only(open_camera(device, interrupt), interrupt));
}

Input files(const std::string& path, const Interrupt& /*interrupt*/) {
  Input input;
  input.sequence = read_sequence(path);
  input.frames = open_frames(input.sequence);
  return input;
}

// How a name says where its frames come from.
struct InputKind {
  std::string_view begin;  // of such names
  bool is_whole;           // whether nothing follows it
  Input (*open)(const std::string& rest, const Interrupt& interrupt);
};

// The first that fits is taken. Another kind of input is a line more; another kind of file one in frame_files.cpp.
constexpr std::array<InputKind, 4> kInputKinds{{{"-", true, standard_input},
                                                {"camera:sim:", false, simulated_camera},
                                                {"camera:", false, camera},
                                                {"", false, files}}};

}  // namespace

Input open_input(const std::string& name, const Interrupt& interrupt) {
  const auto* kind = std::ranges::find_if(kInputKinds, [&](const InputKind& one) {
    return one.is_whole ? name == one.begin : name.starts_with(one.begin);
  });
  return kind->open(name.substr(kind->begin.size()), interrupt);
}

}  // namespace mnemon
