// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <string>

#include <mnemon/media/camera_settings.hpp>
#include <mnemon/media/frame_source.hpp>
#include <mnemon/media/interrupt.hpp>

namespace mnemon {

/// A camera's frames as they come. The first second is left to the camera, to find exposure, gain and white balance; then these are held,
/// and the frames begin. `remark` says what is held.
/// \param name       As camera_device takes it.
/// \param interrupt  Ends the frames; must outlive them.
/// \throws CallError  where there is no such camera; DataError  where the device cannot be opened.
[[nodiscard]] std::unique_ptr<FrameSource> open_camera(const std::string& name, const Interrupt& interrupt);

/// The same of any frames, whose camera has these settings.
[[nodiscard]] std::unique_ptr<FrameSource> held_frames(std::unique_ptr<FrameSource> frames,
                                                       std::unique_ptr<CameraSettings> settings);

}  // namespace mnemon
