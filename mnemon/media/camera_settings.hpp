// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>

namespace mnemon {

/// The settings of a camera, by the numbers that Video4Linux gives them.
class CameraSettings {
 public:
  CameraSettings() = default;
  CameraSettings(const CameraSettings&) = delete;
  CameraSettings& operator=(const CameraSettings&) = delete;
  virtual ~CameraSettings() = default;

  /// Nothing where the camera has no such setting, or does not tell it.
  [[nodiscard]] virtual std::optional<int> get(std::uint32_t setting) = 0;
  /// \returns  False where the camera has no such setting, or refuses the value.
  virtual bool set(std::uint32_t setting, int value) = 0;
};

/// Those of a capture device, such as `/dev/video0`. Of what is no such device all settings are missing.
[[nodiscard]] std::unique_ptr<CameraSettings> settings_of_device(const std::string& device);

/// Holds what a camera changes by itself as it is at that moment, for as long as it lives: exposure, gain and white balance. A colour
/// model is worthless within seconds where they drift. At its end the camera goes by itself again.
class HeldCamera {
 public:
  /// Holds what can be held, and lets it go again at the end.
  explicit HeldCamera(std::unique_ptr<CameraSettings> settings);
  HeldCamera(const HeldCamera&) = delete;
  HeldCamera& operator=(const HeldCamera&) = delete;
  ~HeldCamera();

  /// What is held and at which value, and what cannot be held, such as `exposure 156 held, gain not held`.
  [[nodiscard]] const std::string& remark() const noexcept { return remark_; }

 private:
  static constexpr std::size_t kCount = 3;
  std::unique_ptr<CameraSettings> settings_;
  std::array<std::optional<int>, kCount> automatic_;  // what was there before, of those that were changed
  std::string remark_;
};

/// The device of a camera that is named by its path (`/dev/video0`), its number (`0`), or by its name or a part of it that no other camera
/// has, in any case (`webcam`).
/// \param listed  Where the system lists its cameras.
/// \throws CallError  where there is no such camera, naming those that there are, or where several are meant.
[[nodiscard]] std::string camera_device(const std::string& name,
                                        const std::filesystem::path& listed = "/sys/class/video4linux");

}  // namespace mnemon
