// SPDX-License-Identifier: MIT
#include <mnemon/media/camera.hpp>

#include <utility>

#include <mnemon/media/video_source.hpp>

namespace mnemon {
namespace {

constexpr double kSettling = 1;  // s

class HeldFrames final : public FrameSource {
 public:
  HeldFrames(std::unique_ptr<FrameSource> frames, std::unique_ptr<CameraSettings> settings)
      : frames_(std::move(frames)), settings_(std::move(settings)) {}

 private:
  std::optional<Frame> do_next() override {
    std::optional<Frame> frame = frames_->next();
    if (!held_) {
      while (frame && frame->time_s < kSettling) frame = frames_->next();
      if (!frame) return frame;
      held_.emplace(std::move(settings_));
      first_ = frame->index;
      begin_s_ = frame->time_s;
    }
    if (frame) frame = Frame{frame->rgb, frame->index - first_, frame->time_s - begin_s_};
    return frame;
  }
  bool do_skip() override { return next().has_value(); }
  [[nodiscard]] std::optional<int> do_total() const override { return std::nullopt; }
  [[nodiscard]] std::optional<double> do_rate_hz() const override { return frames_->rate_hz(); }
  [[nodiscard]] std::string do_remark() const override { return held_ ? held_->remark() : std::string(); }

  std::unique_ptr<FrameSource> frames_;
  std::unique_ptr<CameraSettings> settings_;
  std::optional<HeldCamera> held_;  // once the camera has settled
  int first_ = 0;
  double begin_s_ = 0;
};

}  // namespace

std::unique_ptr<FrameSource> held_frames(std::unique_ptr<FrameSource> frames,
                                         std::unique_ptr<CameraSettings> settings) {
  return std::make_unique<HeldFrames>(std::move(frames), std::move(settings));
}

std::unique_ptr<FrameSource> open_camera(const std::string& name, const Interrupt& interrupt) {
  const std::string device = camera_device(name);
  auto frames = open_capture_device(device, interrupt);
  return held_frames(std::move(frames), settings_of_device(device));
}

}  // namespace mnemon
