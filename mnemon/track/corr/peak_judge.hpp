// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>
#include <mnemon/signal/peak.hpp>

namespace mnemon {

/// A response's highest cell and what it is worth.
struct Peak {
  Cell cell;            ///< The highest.
  Point offset;         ///< Of the peak from the cell's middle, cells.
  double height = 0;    ///< Of the peak.
  double sidelobe = 0;  ///< Height over the rest of the response, in its standard deviations.
};

/// \param radius  Of the square around the peak that is not the rest, cells.
[[nodiscard]] Peak find_peak(ImageView<const float> response, int radius);

/// Turns peaks into confidence. How high a peak is depends on the target, its size and the filter, so each is taken
/// as a share of what the same target gave while it was surely held: the geometric mean of the shares of height and
/// of peak-to-sidelobe ratio, then a logistic curve.
class PeakJudge {
 public:
  /// From shares to confidence.
  struct Curve {
    double half = 0.4;     ///< The share that means confidence 0.5, above 0.
    double steepness = 6;  ///< Of the curve, in logarithms of the share.
    double least_sidelobe =
        4;  ///< A peak-to-sidelobe ratio that means confidence 0.5 whatever the target gave.
  };

  PeakJudge() = default;
  /// Nothing is usual yet.
  explicit PeakJudge(const Curve& curve) : curve_(curve) {}

  /// Judges by another curve from now on; what is usual stays.
  void retune(const Curve& curve) noexcept { curve_ = curve; }

  /// In [0, 1]; 0 for a response without a peak.
  [[nodiscard]] double confidence(const Peak& peak) const noexcept;

  /// How high peaks are while the target is surely held; 0 before any.
  [[nodiscard]] double usual_height() const noexcept { return usual_height_; }

  /// Takes a peak of a frame that the target was surely held in as a measure for later ones.
  void accept(const Peak& peak) noexcept;

 private:
  Curve curve_;
  double usual_height_ = 0;
  double usual_sidelobe_ = 0;
  int accepted_ = 0;
};

}  // namespace mnemon
