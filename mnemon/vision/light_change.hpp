// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <vector>

#include <mnemon/image/frame.hpp>
#include <mnemon/vision/colour_index.hpp>

namespace mnemon {

/// How all of the light of a picture has changed since what is known of colours was learnt: a camera that sets its exposure or
/// white balance anew multiplies each channel of every pixel by some number. From frame to frame that is the median over
/// places of the ratio of what is seen there; where the camera is still it is also told from a frame of longer ago, so
/// that a slow change adds up. Where the camera moves, slow changes are left to learning, and nothing is told where
/// places change by more than they do alike. Allocates nothing once made.
/// Source: von Kries 1902 for a gain a channel.
class LightChange {
 public:
  LightChange() noexcept { set_levels(); }
  /// Starts from a picture, with nothing changed. Three channels.
  explicit LightChange(ImageView<const Byte> rgb);

  /// Takes the next picture, of the same size.
  void follow(ImageView<const Byte> rgb) noexcept;

  /// Says that what is known was learnt anew from the last picture, as it would be without the change, at a rate from 0 to
  /// 1: by so much the change is no longer one.
  void learnt(double rate) noexcept;

  /// True where there is nothing to take back.
  [[nodiscard]] bool is_none() const noexcept { return gains_ == std::array<float, 3>{1, 1, 1}; }

  /// By how much each channel is brighter now, as a factor.
  [[nodiscard]] const std::array<float, 3>& gains() const noexcept { return gains_; }

  /// What each level of a channel would be without the change.
  [[nodiscard]] const std::array<Byte, 256>& levels(int channel) const noexcept { return levels_[channel]; }

  /// Takes the change back from pixels, three bytes each.
  void take_back(Byte* rgb, int pixels) const noexcept {
    for (int i = 0; i < pixels; ++i, rgb += 3)
      for (int k = 0; k < 3; ++k) rgb[k] = levels_[k][rgb[k]];
  }

  /// Makes of a table of all colours one for colours as they are now.
  void bring_in(const float* table, float* changed) const noexcept;

 private:
  void look(ImageView<const Byte> rgb, std::vector<float>& seen) const noexcept;
  enum class Finding { same, changed, unclear };
  [[nodiscard]] bool may_have_changed(const std::vector<float>& from) const noexcept;
  Finding tell(const std::vector<float>& from, const std::array<float, 3>& gains, float more) noexcept;
  void set_levels() noexcept;
  [[nodiscard]] static float median_of(std::vector<float>& numbers) noexcept;

  std::vector<float> before_, now_;  // means about places of a grid, three channels each
  std::vector<float> reference_;     // of the last picture that changed at once or looked unlike it
  std::vector<float> ratios_;
  std::array<float, 3> gains_{1, 1, 1};
  std::array<float, 3> reference_gains_{1, 1, 1};
  std::array<std::array<Byte, 256>, 3> levels_{};
};

}  // namespace mnemon
