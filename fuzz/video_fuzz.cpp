// SPDX-License-Identifier: MIT
#include <mnemon/media/video_source.hpp>

#include "target.hpp"

// Frames that come are counted, keep their size and come in time; then there is an end or an error.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  static const fuzz::Desk desk;
  try {
    const auto frames = open_video(desk.put("video", data, size));
    FrameSize first;
    double time_s = 0;
    for (int i = 0; i < 40; ++i) {
      const auto frame = frames->next();
      if (!frame) break;
      if (i == 0) first = frame->size();
      fuzz::require(frame->index == i && frame->size() == first && frame->time_s >= time_s);
      fuzz::require(frame->rgb.channels == 3 && !frame->rgb.empty());
      time_s = frame->time_s;
      if (frame->rgb.size() > 4'000'000) break;
    }
  } catch (const Error&) {
  }
  return 0;
}
