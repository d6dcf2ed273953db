// SPDX-License-Identifier: MIT
#pragma once

namespace mnemon {

/// Forecasts a number that changes at a nearly constant rate, and how sure the forecast is: a Kalman filter over the
/// number and its rate. `start`, then for each frame `advance` and, where the number was seen, `correct`.
/// Source: Kalman 1960; Bar-Shalom, Li and Kirubarajan 2001, section 6.2.2 (white noise acceleration).
class MotionFilter {
 public:
  MotionFilter() = default;
  /// \param seen_noise    Standard deviation of a sighting, above 0.
  /// \param change_noise  Standard deviation of the rate's change from a frame to the next, above 0.
  MotionFilter(double seen_noise, double change_noise) noexcept
      : seen_(seen_noise * seen_noise), change_(change_noise * change_noise) {}

  /// Starts from a number that was seen, with an unknown rate of about `rate_noise`.
  void start(double seen, double rate_noise) noexcept {
    value_ = seen;
    rate_ = 0;
    vv_ = seen_;
    vr_ = 0;
    rr_ = rate_noise * rate_noise;
  }

  /// A frame later: the number as it should be now, less sure than before.
  void advance() noexcept {
    value_ += rate_;
    vv_ += 2 * vr_ + rr_ + change_ / 4;
    vr_ += rr_ + change_ / 2;
    rr_ += change_;
  }

  /// Takes a sighting in.
  void correct(double seen) noexcept {
    const double gain = vv_ / (vv_ + seen_);
    const double rate_gain = vr_ / (vv_ + seen_);
    const double surprise = seen - value_;
    value_ += gain * surprise;
    rate_ += rate_gain * surprise;
    rr_ -= rate_gain * vr_;
    vr_ -= gain * vr_;
    vv_ -= gain * vv_;
  }

  /// Lets the rate die down by a factor, as that of a target that cannot be seen is less and less to be relied on.
  void slow(double factor) noexcept { rate_ *= factor; }

  /// What is followed, as it is held to be.
  [[nodiscard]] double value() const noexcept { return value_; }
  /// Its change a frame.
  [[nodiscard]] double rate() const noexcept { return rate_; }
  [[nodiscard]] double variance() const noexcept { return vv_; }  ///< Of the number.

 private:
  double seen_ = 1;
  double change_ = 1;
  double value_ = 0;
  double rate_ = 0;
  double vv_ = 1, vr_ = 0, rr_ = 1;  // variances of number and rate
};

}  // namespace mnemon
