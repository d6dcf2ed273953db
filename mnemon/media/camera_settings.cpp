// SPDX-License-Identifier: MIT
#include <mnemon/media/camera_settings.hpp>

#include <algorithm>
#include <cctype>
#include <cerrno>
#include <fstream>
#include <utility>
#include <vector>

#include <fcntl.h>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <linux/videodev2.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

// Something that a camera changes by itself: the setting that says so, what ends that, and the value itself.
struct Automatic {
  const char* name;
  std::uint32_t automatic;
  int by_hand;
  std::uint32_t value;
};
constexpr std::array<Automatic, 3> kAutomatics{
    {{"exposure", V4L2_CID_EXPOSURE_AUTO, V4L2_EXPOSURE_MANUAL, V4L2_CID_EXPOSURE_ABSOLUTE},
     {"gain", V4L2_CID_AUTOGAIN, 0, V4L2_CID_GAIN},
     {"white balance", V4L2_CID_AUTO_WHITE_BALANCE, 0, V4L2_CID_WHITE_BALANCE_TEMPERATURE}}};

class DeviceSettings final : public CameraSettings {
 public:
  explicit DeviceSettings(const std::string& device)
      : file_(::open(device.c_str(), O_RDWR | O_NONBLOCK | O_CLOEXEC)) {}
  ~DeviceSettings() override {
    if (file_ >= 0) ::close(file_);
  }

  std::optional<int> get(std::uint32_t setting) override {
    v4l2_control control{setting, 0};
    return ask(VIDIOC_G_CTRL, control) ? std::optional(control.value) : std::nullopt;
  }
  bool set(std::uint32_t setting, int value) override {
    v4l2_control control{setting, value};
    return ask(VIDIOC_S_CTRL, control);
  }

 private:
  bool ask(unsigned long what, v4l2_control& control) const {
    int code = -1;
    do {
      code = ::ioctl(file_, what, &control);
    } while (code < 0 && errno == EINTR);
    return code == 0;
  }

  int file_;
};

std::string lower(std::string text) {
  for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return text;
}

std::string first_line(const fs::path& file) {
  std::ifstream in(file);
  std::string line;
  std::getline(in, line);
  return line;
}

struct Listed {
  std::string device, name;
};

// A camera may have further devices beside that of its pictures, which is its first.
std::vector<Listed> cameras_in(const fs::path& folder) {
  std::vector<Listed> cameras;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const std::string index = first_line(entry.path() / "index");
    if (!index.empty() && index != "0") continue;
    cameras.push_back({"/dev/" + entry.path().filename().string(), first_line(entry.path() / "name")});
  }
  std::ranges::sort(cameras, {}, [](const Listed& one) { return std::pair(one.device.size(), one.device); });
  return cameras;
}

}  // namespace

std::unique_ptr<CameraSettings> settings_of_device(const std::string& device) {
  return std::make_unique<DeviceSettings>(device);
}

// The value is read while the camera still finds it by itself, and set again once it does not, as some then go back to one of their own.
HeldCamera::HeldCamera(std::unique_ptr<CameraSettings> settings) : settings_(std::move(settings)) {
  static_assert(kAutomatics.size() == kCount);
  for (std::size_t i = 0; i < kCount; ++i) {
    const Automatic& one = kAutomatics[i];
    const std::optional<int> was = settings_->get(one.automatic);
    const std::optional<int> value = settings_->get(one.value);
    bool is_held = was == one.by_hand;
    if (was && !is_held && settings_->set(one.automatic, one.by_hand)) {
      automatic_[i] = was;
      is_held = settings_->get(one.automatic) == one.by_hand;
    }
    if (is_held && value) is_held = settings_->set(one.value, *value) || settings_->get(one.value) == value;
    remark_ += fmt::format("{}{}{} {}", remark_.empty() ? "" : ", ", one.name,
                           value && is_held ? fmt::format(" {}", *value) : "", is_held ? "held" : "not held");
  }
}

HeldCamera::~HeldCamera() {
  for (std::size_t i = 0; i < kCount; ++i)
    if (automatic_[i]) settings_->set(kAutomatics[i].automatic, *automatic_[i]);
}

std::string camera_device(const std::string& name, const fs::path& listed) {
  if (name.find('/') != std::string::npos) return name;
  if (!name.empty() && std::ranges::all_of(name, [](unsigned char c) { return std::isdigit(c) != 0; }))
    return "/dev/video" + name;
  const std::vector<Listed> cameras = cameras_in(listed);
  std::vector<Listed> meant;
  for (const Listed& one : cameras)
    if (lower(one.name) == lower(name)) meant.push_back(one);
  if (meant.empty())
    for (const Listed& one : cameras)
      if (lower(one.name).find(lower(name)) != std::string::npos) meant.push_back(one);
  if (meant.size() == 1) return meant.front().device;
  std::vector<std::string> known;
  for (const Listed& one : meant.empty() ? cameras : meant)
    known.push_back(fmt::format("'{}' ({})", one.name, one.device));
  if (meant.size() > 1)
    throw CallError(fmt::format("camera:{}: is any of {}; name its device", name, fmt::join(known, ", ")));
  throw CallError(
      fmt::format("camera:{}: there is no camera of that name; {}", name,
                  known.empty() ? "none is connected" : fmt::format("there is {}", fmt::join(known, ", "))));
}

}  // namespace mnemon
