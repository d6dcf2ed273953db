// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/peak_judge.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/track/hold/confidence.hpp>

namespace mnemon {
namespace {

constexpr double kRate = 0.05;  // of what is usual, once enough frames are known

}  // namespace

Peak find_peak(ImageView<const float> response, int radius) {
  Peak peak;
  peak.cell = highest_cell(response);
  peak.offset = peak_offset(response, peak.cell);
  peak.height = response(peak.cell.row, peak.cell.col);
  peak.sidelobe = peak_to_sidelobe(response, peak.cell, radius);
  return peak;
}

double PeakJudge::confidence(const Peak& peak) const noexcept {
  if (!(peak.height > 0) || !(peak.sidelobe > 0)) return 0;
  const double alone = confidence_of(peak.sidelobe, curve_.least_sidelobe, curve_.steepness);
  if (accepted_ == 0) return alone;
  const double share = std::sqrt(peak.height / usual_height_ * (peak.sidelobe / usual_sidelobe_));
  return std::min(alone, confidence_of(share, curve_.half, curve_.steepness));
}

void PeakJudge::accept(const Peak& peak) noexcept {
  if (!(peak.height > 0) || !(peak.sidelobe > 0)) return;
  ++accepted_;
  const double rate = std::max(kRate, 1.0 / accepted_);
  usual_height_ += rate * (peak.height - usual_height_);
  usual_sidelobe_ += rate * (peak.sidelobe - usual_sidelobe_);
}

}  // namespace mnemon
