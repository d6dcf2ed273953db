// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/track/hold/usual.hpp>

namespace mnemon {

/// How alike what lies in the middle of a window is to the target: the correlation of its features over the target's
/// cells, each channel about its mean there, with what the target's were. A response's peak only says that one place
/// is better than those around it; this says whether it is good. Allocates nothing once started.
class Likeness {
 public:
  static constexpr int kRemembered = 5;  ///< Looks of the target that are kept.

  /// Starts from what the target looks like.
  /// \param stack  Features of a window with the target in its middle.
  /// \param share  Of the window's sides that the target takes.
  void start(ImageView<const float> stack, Point share);

  /// Of a stack of the same shape, in [-1, 1]: the highest over what is remembered.
  [[nodiscard]] double of(ImageView<const float> stack) noexcept;

  /// A likeness over what is usual of the target.
  [[nodiscard]] double quality(double likeness) const noexcept { return likeness / usual_.value(); }

  /// Counts a frame that held the target.
  void held() noexcept { ++frames_since_remembered_; }

  /// Takes the likeness of a frame that surely held the target into what is usual. Its stack, which was compared last, is
  /// remembered beside the seed's in the place of the oldest one, where it is as alike as `remembered_from`, and none
  /// of the last few frames' was.
  void learn(double likeness, double remembered_from) noexcept;

 private:
  void remember() noexcept;
  void take(ImageView<const float> stack) noexcept;
  void add_up(ImageView<const float> stack) noexcept;
  template <class Use>
  void for_each_cell(ImageView<const float> stack, Use use) noexcept;

  int left_ = 0, top_ = 0, right_ = 0, bottom_ = 0;  // cells of the target
  std::vector<float> weights_;                       // of those cells: what their features are multiplied by
  std::vector<float> squares_;                       // of these
  float all_ = 0;                                    // and their sum
  std::vector<float> means_;                         // of the channels
  std::vector<float> now_;                           // features of those cells, of norm 1
  std::array<std::vector<float>, kRemembered> memory_;  // the seed's first
  int remembered_ = 0;
  int next_ = 1;
  int frames_since_remembered_ = 0;
  Usual usual_;
};

}  // namespace mnemon
