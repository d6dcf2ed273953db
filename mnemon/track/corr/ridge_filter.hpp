// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/spectra.hpp>
#include <mnemon/track/corr/stack_filter.hpp>

namespace mnemon {

/// A linear filter of many channels whose response to the stacks it has learnt is a narrow Gaussian on the middle
/// cell: running numerators a channel, and one running denominator, the power of all channels together.
/// Source: Danelljan, Häger, Khan and Felsberg, TPAMI 2017, section 3.2.
class RidgeFilter final : public StackFilter {
 public:
  /// \param rows, cols, channels  Shape of a stack; channels a multiple of 8.
  /// \param goal_sigma   Width of the wanted peak, cells, above 0.
  /// \param regulariser  Added to the power at every frequency, as a share of the mean power of the first stack.
  RidgeFilter(int rows, int cols, int channels, double goal_sigma, double regulariser);

  void learn(ImageView<const float> stack, float rate) noexcept override;
  ImageView<const float> respond(ImageView<const float> stack) noexcept override;
  void keep() noexcept override;
  void go_back() noexcept override;
  [[nodiscard]] Image<float> picture() const override;

 private:
  PairTransform transform_;
  double regulariser_;
  float added_ = 0;  // the regulariser in units of power; 0 before the first stack
  Image<Complex> goal_;
  Image<Complex> spectrum_;
  Image<Complex> numerator_;
  Image<Complex> kept_numerator_;
  Image<float> power_;
  Image<float> work_;
  Image<float> denominator_;
  Image<float> kept_denominator_;
  ResponseMaker response_;
};

/// The strength of a filter of paired channels at each place: the root of the sum of its squares over the channels.
/// \param kernel  The filter in space, the target in its middle.
[[nodiscard]] Image<float> strength_picture(const Image<float>& kernel);

}  // namespace mnemon
