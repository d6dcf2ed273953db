// SPDX-License-Identifier: MIT
#include <mnemon/media/camera.hpp>

#include <map>
#include <utility>
#include <vector>

#include <gtest/gtest.h>
#include <linux/videodev2.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

// What a camera has, seen from outside while somebody else holds its settings.
struct Scripted {
  std::map<std::uint32_t, int> values;
  std::vector<std::uint32_t> refused = {};                  // settings that cannot be changed
  std::map<std::uint32_t, int> after_automatic = {};        // what values become once they are set by hand
  std::vector<std::pair<std::uint32_t, int>> was_set = {};  // in order
};

class ScriptedSettings final : public CameraSettings {
 public:
  explicit ScriptedSettings(Scripted& camera) : camera_(camera) {}
  std::optional<int> get(std::uint32_t setting) override {
    const auto at = camera_.values.find(setting);
    return at == camera_.values.end() ? std::nullopt : std::optional(at->second);
  }
  bool set(std::uint32_t setting, int value) override {
    if (!camera_.values.contains(setting)) return false;
    for (const std::uint32_t refused : camera_.refused)
      if (refused == setting) return false;
    camera_.was_set.emplace_back(setting, value);
    camera_.values[setting] = value;
    if (setting == V4L2_CID_EXPOSURE_AUTO)
      for (const auto& [other, changed] : camera_.after_automatic) camera_.values[other] = changed;
    return true;
  }

 private:
  Scripted& camera_;
};

const std::map<std::uint32_t, int> kAll{{V4L2_CID_EXPOSURE_AUTO, V4L2_EXPOSURE_APERTURE_PRIORITY},
                                        {V4L2_CID_EXPOSURE_ABSOLUTE, 156},
                                        {V4L2_CID_AUTOGAIN, 1},
                                        {V4L2_CID_GAIN, 12},
                                        {V4L2_CID_AUTO_WHITE_BALANCE, 1},
                                        {V4L2_CID_WHITE_BALANCE_TEMPERATURE, 4600}};

// Ten frames a second, on which what the camera finds by itself drifts.
class DriftingFrames final : public FrameSource {
 public:
  explicit DriftingFrames(Scripted& camera) : camera_(camera), picture_(4, 6, 3) {}

 private:
  std::optional<Frame> do_next() override {
    if (at_ == 30) return std::nullopt;
    if (camera_.values[V4L2_CID_AUTO_WHITE_BALANCE] == 1)
      camera_.values[V4L2_CID_WHITE_BALANCE_TEMPERATURE] = 4000 + 10 * at_;
    const int index = at_++;
    return Frame{std::as_const(picture_).view(), index, index / 10.0};
  }
  bool do_skip() override { return do_next().has_value(); }
  [[nodiscard]] std::optional<int> do_total() const override { return std::nullopt; }
  [[nodiscard]] std::optional<double> do_rate_hz() const override { return 10; }

  Scripted& camera_;
  Image<Byte> picture_;
  int at_ = 0;
};

}  // namespace

TEST(HeldCamera, HoldsWhatItFoundAndLetsGo) {
  // Set by hand, this camera goes to an exposure of its own.
  Scripted camera{kAll, {}, {{V4L2_CID_EXPOSURE_ABSOLUTE, 300}}};
  {
    const HeldCamera held(std::make_unique<ScriptedSettings>(camera));
    EXPECT_EQ(held.remark(), "exposure 156 held, gain 12 held, white balance 4600 held");
    EXPECT_EQ(camera.values[V4L2_CID_EXPOSURE_AUTO], V4L2_EXPOSURE_MANUAL);
    EXPECT_EQ(camera.values[V4L2_CID_EXPOSURE_ABSOLUTE], 156);
    EXPECT_EQ(camera.values[V4L2_CID_AUTOGAIN], 0);
    EXPECT_EQ(camera.values[V4L2_CID_AUTO_WHITE_BALANCE], 0);
  }
  EXPECT_EQ(camera.values[V4L2_CID_EXPOSURE_AUTO], V4L2_EXPOSURE_APERTURE_PRIORITY);
  EXPECT_EQ(camera.values[V4L2_CID_AUTOGAIN], 1);
  EXPECT_EQ(camera.values[V4L2_CID_AUTO_WHITE_BALANCE], 1);
}

TEST(HeldCamera, SaysWhatItCannotHold) {
  Scripted camera{kAll, {V4L2_CID_AUTO_WHITE_BALANCE}};
  camera.values.erase(V4L2_CID_AUTOGAIN);
  camera.values.erase(V4L2_CID_GAIN);
  EXPECT_EQ(HeldCamera(std::make_unique<ScriptedSettings>(camera)).remark(),
            "exposure 156 held, gain not held, white balance not held");
  // A value that cannot be set may drift as before.
  Scripted stubborn{kAll, {V4L2_CID_EXPOSURE_ABSOLUTE}, {{V4L2_CID_EXPOSURE_ABSOLUTE, 300}}};
  EXPECT_EQ(HeldCamera(std::make_unique<ScriptedSettings>(stubborn)).remark(),
            "exposure not held, gain 12 held, white balance 4600 held");
}

// What somebody set by hand before is theirs, and stays.
TEST(HeldCamera, LeavesWhatIsSetByHand) {
  Scripted camera{kAll};
  camera.values[V4L2_CID_AUTOGAIN] = 0;
  { const HeldCamera held(std::make_unique<ScriptedSettings>(camera)); }
  EXPECT_EQ(camera.values[V4L2_CID_AUTOGAIN], 0);
}

TEST(HeldCamera, HoldsNothingOfWhatIsNoCamera) {
  for (const char* device : {"/dev/null", "/dev/no-camera"})
    EXPECT_EQ(HeldCamera(settings_of_device(device)).remark(),
              "exposure not held, gain not held, white balance not held");
}

TEST(HeldFrames, BeginOnceTheCameraHasSettled) {
  Scripted camera{kAll};
  {
    const auto frames =
        held_frames(std::make_unique<DriftingFrames>(camera), std::make_unique<ScriptedSettings>(camera));
    EXPECT_EQ(frames->remark(), "");
    for (int i = 0; i < 20; ++i) {
      const auto frame = frames->next();
      ASSERT_TRUE(frame);
      EXPECT_EQ(frame->index, i);
      EXPECT_NEAR(frame->time_s, i / 10.0, 1e-12);
      // Held as it was after a second, on frame 10.
      EXPECT_EQ(camera.values[V4L2_CID_WHITE_BALANCE_TEMPERATURE], 4100);
    }
    EXPECT_FALSE(frames->next());
    EXPECT_EQ(frames->remark(), "exposure 156 held, gain 12 held, white balance 4100 held");
  }
  EXPECT_EQ(camera.values[V4L2_CID_AUTO_WHITE_BALANCE], 1);
}

TEST(CameraDevice, IsFoundByPathNumberAndName) {
  const test::TempFolder listed;
  const auto camera = [&](const std::string& number, const std::string& name, const std::string& index) {
    write_file(listed / ("video" + number) / "name", name + "\n");
    write_file(listed / ("video" + number) / "index", index + "\n");
  };
  camera("0", "Field Camera: Field", "0");
  camera("1", "Field Camera: Field", "1");  // of the same camera, and not of its pictures
  camera("10", "Shed webcam", "0");
  camera("2", "Barn webcam", "0");
  EXPECT_EQ(camera_device("/dev/video7", listed.path()), "/dev/video7");
  EXPECT_EQ(camera_device("3", listed.path()), "/dev/video3");
  EXPECT_EQ(camera_device("field", listed.path()), "/dev/video0");
  EXPECT_EQ(camera_device("shed WEBCAM", listed.path()), "/dev/video10");
  const auto refusal = [&](const char* name, const std::filesystem::path& folder) {
    return test::message_of<CallError>([&] { (void)camera_device(name, folder); });
  };
  test::expect_parts(refusal("webcam", listed.path()),
                     {"any of 'Barn webcam' (/dev/video2), 'Shed webcam' (/dev/video10)"});
  test::expect_parts(refusal("kite", listed.path()), {"camera:kite", "'Field Camera: Field' (/dev/video0)"});
  test::expect_parts(refusal("kite", listed / "none"), {"none is connected"});
}

}  // namespace mnemon
