// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>
#include <mnemon/signal/real_transform.hpp>
#include <mnemon/track/corr/stack_filter.hpp>

namespace mnemon {

/// A filter whose response to the patches it has learnt is a narrow Gaussian on the middle sample: the ratio
/// of a running numerator and denominator over the Fourier domain. Learning and responding allocate nothing.
/// Source: Bolme, Beveridge, Draper and Lui, CVPR 2010, sections 3.2 to 3.4; ours adds the regulariser to the
/// denominator.
class LinearFilter final : public StackFilter {
 public:
  /// \param rows, cols    Size of a patch; rows a multiple of 4.
  /// \param goal_sigma  Width of the wanted peak, samples, above 0.
  /// \param regulariser   Added to the power at every frequency; patches of power 1 on average are expected.
  LinearFilter(int rows, int cols, double goal_sigma, double regulariser);

  /// Moves the filter towards one that answers this patch, at a rate from 0 (not at all) to 1 (forget all
  /// else).
  void learn(ImageView<const float> patch, float rate) noexcept override;

  /// The response to a patch; it holds until the next call.
  ImageView<const float> respond(ImageView<const float> patch) noexcept override;

  void keep() noexcept override;
  void go_back() noexcept override;

  /// The filter as a picture: what the patch is correlated with, its middle on the middle sample.
  [[nodiscard]] Image<float> picture() const override;

 private:
  void divide() noexcept;

  RealTransform transform_;
  float regulariser_;
  Image<Complex> goal_;
  Image<Complex> numerator_;
  Image<float> denominator_;
  Image<Complex> kept_numerator_;
  Image<float> kept_denominator_;
  Image<Complex> filter_;    // numerator over denominator, conjugated as the response needs it
  Image<Complex> spectrum_;  // of the patch at hand, then of its response
  Image<float> response_;
};

}  // namespace mnemon
