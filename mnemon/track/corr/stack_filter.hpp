// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// A filter that answers a stack of features with a response whose peak is where the target is; the middle cell
/// stands for no motion. Learning, responding and going back allocate nothing.
class StackFilter {
 public:
  StackFilter() = default;
  StackFilter& operator=(const StackFilter&) = delete;
  virtual ~StackFilter() = default;

  /// Tells a filter that keeps to the target's shape which cells are likely the target's, before it learns a stack: the
  /// likelihood of each cell by its colours, rows x cols, in [0, 1], and the share of the window's sides that the target takes.
  virtual void take_likelihood(ImageView<const float> /*likelihood*/, Point /*share*/) noexcept {}

  /// Moves the filter towards one that answers this stack, at a rate from 0 (not at all) to 1 (forget all else).
  virtual void learn(ImageView<const float> stack, float rate) noexcept = 0;

  /// The response to a stack; it holds until the next call.
  virtual ImageView<const float> respond(ImageView<const float> stack) noexcept = 0;

  /// Keeps the filter as it is now for `go_back`.
  virtual void keep() noexcept = 0;

  /// Makes the filter what it was at the last call of `keep`.
  virtual void go_back() noexcept = 0;

  /// The filter as a picture: the strength of what each place is correlated with, the target in the middle.
  [[nodiscard]] virtual Image<float> picture() const = 0;

 protected:
  StackFilter(const StackFilter&) = default;
};

}  // namespace mnemon
