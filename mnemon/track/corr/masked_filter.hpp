// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/track/corr/spectra.hpp>
#include <mnemon/track/corr/stack_filter.hpp>

namespace mnemon {

/// A filter that is 0 outside the target: each channel solves a ridge regression under the constraint of a mask, by
/// alternating between the frequencies, where the regression is easy, and space, where the mask is. Channels count by
/// the height of the peak they make in learning, and by how alone their highest peak stood in answering.
/// Source: Lukežič, Vojíř, Čehovin Zajc, Matas and Kristan, IJCV 2018, sections 3.2 and 3.3. Ours measures both
/// weights from one transform of all channels.
class MaskedFilter final : public StackFilter {
 public:
  /// What it is made by.
  struct Options {
    double goal_sigma = 1;  ///< Width of the wanted peak, cells, above 0.
    double regulariser =
        0.01;            ///< Added to the power of a channel, as a share of the mean over all channels.
    int iterations = 4;  ///< Alternations after the first regression and masking, from 0.
    double channel_rate = 0.02;  ///< How fast the channels' weights follow what is measured, in [0, 1].
  };

  /// For stacks of that shape, its channels a multiple of 8 and at most 64.
  MaskedFilter(int rows, int cols, int channels, const Options& options);

  /// Where the target is: rows x cols, each in [0, 1]. To be written before learning; all 1 at first.
  [[nodiscard]] ImageView<float> mask() noexcept { return mask_.view(); }

  void take_likelihood(ImageView<const float> likelihood, Point share) noexcept override;
  void learn(ImageView<const float> stack, float rate) noexcept override;
  ImageView<const float> respond(ImageView<const float> stack) noexcept override;
  void keep() noexcept override;
  void go_back() noexcept override;
  [[nodiscard]] Image<float> picture() const override;

  /// What each channel counts for; they add up to 1.
  [[nodiscard]] std::span<const float> channel_weights() const noexcept { return weights_; }

 private:
  void roll_mask() noexcept;
  void solve() noexcept;
  void weigh_channels(float rate) noexcept;
  void respond_by_channel(const Image<Complex>& filter) noexcept;

  PairTransform transform_;
  Options options_;
  float added_ = 0;  // the regulariser in units of power; 0 before the first stack
  Image<Complex> goal_;
  Image<Complex> spectrum_;
  Image<Complex> filter_;
  Image<Complex> kept_filter_;
  Image<Complex> fresh_;       // the filter being solved for
  Image<Complex> multiplier_;  // of the constraint
  Image<Complex> free_;        // the solution without the mask
  Image<Complex> products_;    // of channels and filters
  Image<float> power_;         // of each channel
  Image<float> stack_;
  Image<float> mask_;
  Image<float> rolled_;  // the mask about the first cell, scaled for the inverse transform
  Image<float> response_;
  std::vector<float> weights_;
  std::vector<float> kept_weights_;
  std::vector<float> learning_;   // running weights: of peaks in learning,
  std::vector<float> answering_;  // and of how alone they stood in answering
  std::vector<float> alone_;      // the latter in the last answer
  bool seeded_ = false;
};

}  // namespace mnemon
