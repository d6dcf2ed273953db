// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>

#include <mnemon/track/hold/usual.hpp>

namespace mnemon {

/// What is usual of a target's mask while it is surely held: how like what is known of it, how far its colours stand
/// out, and how large it is.
class UsualMask {
 public:
  UsualMask() = default;
  /// \param contrast  Of the seed's colours to those around it.
  /// \param area      Of the seed's mask, px².
  UsualMask(double contrast, double area) noexcept
      : likeness_(1, 1), contrast_(std::max(kLeastContrast, contrast)), area_(area) {}

  /// In [0, 1].
  [[nodiscard]] double likeness() const noexcept { return likeness_.value(); }
  /// Above 0.
  [[nodiscard]] double contrast() const noexcept { return contrast_; }

  /// How well a mask's size goes with the target's, in [0, 1]; 0 for none.
  /// \param area     px².
  /// \param visible  Share of the target that nothing is before.
  /// \param scale    Of the target, against the seed.
  [[nodiscard]] double sized(double area, double visible, double scale) const noexcept {
    const double expected = area_ * std::max(kLeastVisible, visible) * scale * scale;
    return area > 0 && expected > 0 ? std::min(area / expected, expected / area) : 0;
  }

  /// The scale at which the target's whole mask has that area, px².
  [[nodiscard]] double scale_of(double area) const noexcept { return std::sqrt(area / area_); }

  /// Takes in a mask of a frame that surely shows the target.
  /// \param likeness  To what is known of it.
  /// \param contrast  Of its colours to those around it.
  /// \param area      px².
  /// \param visible   Share of the target that nothing is before.
  /// \param scale     Of the target, against the seed.
  void take(double likeness, double contrast, double area, double visible, double scale) noexcept {
    likeness_.take(likeness);
    contrast_ += Usual::kRate * (std::max(kLeastContrast, contrast) - contrast_);
    const double whole = area / std::max(kLeastVisible, visible);
    area_ += Usual::kRate * (whole / (scale * scale) - area_);
  }

 private:
  static constexpr double kLeastContrast = 0.02;  // so that shares of it stay finite
  static constexpr double kLeastVisible = 0.1;    // share, for the area of the rest to tell anything

  Usual likeness_;
  double contrast_ = 0;
  double area_ = 0;  // px² at scale 1
};

}  // namespace mnemon
