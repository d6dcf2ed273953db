// SPDX-License-Identifier: MIT
// Reading a frame of 1280 x 720 beside copying its memory once.
#include <cstring>
#include <filesystem>
#include <memory>
#include <vector>

#include <benchmark/benchmark.h>
#include <unistd.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/media/video_source.hpp>
#include <mnemon/scene/scene.hpp>

#include "ratio.hpp"

namespace mnemon::bench {
namespace {

constexpr int kFrames = 20;
constexpr const char* kForms[] = {"png", "jpeg", "mp4", "y4m"};

// Frames of one scene in every form, in a folder that goes away with the program.
class Files {
 public:
  Files() : folder_(std::filesystem::temp_directory_path() / ("mnemon-bench-" + std::to_string(::getpid()))) {
    std::filesystem::create_directories(folder_ / "png");
    std::filesystem::create_directories(folder_ / "jpeg");
    const Scene scene(demo_scene("steady"), {{"width", 1280}, {"height", 720}, {"frames", kFrames}}, 1);
    VideoSink mp4(folder_ / "mp4.mp4", 30);
    VideoSink y4m(folder_ / "y4m.y4m", 30);
    for (int i = 0; i < kFrames; ++i) {
      const Image<Byte> frame = scene.render(i);
      write_png(folder_ / "png" / numbered_name("%06d.png", i), frame.view());
      write_file(folder_ / "jpeg" / numbered_name("%06d.jpg", i), jpeg_bytes(frame.view(), 95));
      mp4.add(frame.view(), i / 30.0);
      y4m.add(frame.view(), i / 30.0);
    }
    mp4.finish();
    y4m.finish();
  }
  Files(const Files&) = delete;
  Files& operator=(const Files&) = delete;
  ~Files() { std::filesystem::remove_all(folder_); }

  [[nodiscard]] std::unique_ptr<FrameSource> open(const std::string& form) const {
    if (form == "png" || form == "jpeg") return open_pictures(pictures_in(folder_ / form), 30);
    return open_video(folder_ / (form + "." + form));
  }

 private:
  std::filesystem::path folder_;
};

const Files& files() {
  static const Files made;
  return made;
}

void read_frame(benchmark::State& state) {
  const std::string form = kForms[state.range(0)];
  auto source = files().open(form);
  std::vector<Byte> from(1280 * 720 * 3);
  std::vector<Byte> to(from.size());
  const auto read = [&] {
    auto frame = source->next();
    if (!frame) {
      source = files().open(form);
      frame = source->next();
    }
    benchmark::DoNotOptimize(frame->rgb.data[0]);
  };
  const auto copy = [&] {
    std::memcpy(to.data(), from.data(), from.size());
    benchmark::DoNotOptimize(to[0]);
  };
  measure_ratio(state, read, copy);
  state.SetLabel(form);
}
BENCHMARK(read_frame)->DenseRange(0, 3)->UseManualTime()->Unit(benchmark::kMillisecond);

void scale_frame(benchmark::State& state) {
  const Image<Byte> frame(720, 1280, 3);
  Image<Byte> to(720, 1280, 3);
  const auto scale = [&] { benchmark::DoNotOptimize(resized(frame.view(), 360, 640)(0, 0)); };
  const auto copy = [&] {
    std::memcpy(to.view().data, frame.view().data, frame.elements().size());
    benchmark::DoNotOptimize(to(0, 0));
  };
  measure_ratio(state, scale, copy);
}
BENCHMARK(scale_frame)->UseManualTime()->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace mnemon::bench
