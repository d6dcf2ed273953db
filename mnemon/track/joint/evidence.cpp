// SPDX-License-Identifier: MIT
#include <mnemon/track/joint/evidence.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

// Of a confidence: one that is certain would outweigh all other evidence.
constexpr double kLeastDoubt = 0.001;

double log_odds(double probability) noexcept {
  const double p = std::clamp(probability, kLeastDoubt, 1 - kLeastDoubt);
  return std::log(p / (1 - p));
}

}  // namespace

double EvidenceWeights::belief(const Evidence& evidence) const noexcept {
  const double odds = none + confidence * log_odds(evidence.confidence) + contrast * evidence.contrast +
                      (evidence.agrees ? agreement : 0) + (evidence.was_lost ? loss : 0) +
                      size_change * evidence.size_change;
  return 1 / (1 + std::exp(-odds));
}

double SinceAgreed::size_change(const Box& box) const noexcept {
  return std::abs(std::log(box.w * box.h / agreed_area_));
}

}  // namespace mnemon
