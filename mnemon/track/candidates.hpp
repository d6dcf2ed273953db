// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <span>
#include <string_view>

#include <mnemon/geometry/box.hpp>

namespace mnemon {

/// Something that a tracker looked at in a step, and what became of it.
struct Candidate {
  Box box;                ///< Where it lies, px.
  double confidence = 0;  ///< How sure it was of it, in [0, 1].
  double quality = 0;  ///< How like the target it is, as a share of what is usual; 0 where that is not told.
  std::string_view outcome;  ///< `taken`, or why it was refused. A literal.
};

/// The candidates of one step, those that matter most first. Allocates nothing.
class Candidates {
 public:
  static constexpr std::size_t kMost = 4;  ///< That are kept of a step.

  /// Forgets those of the step before.
  void start() noexcept { count_ = 0; }

  /// Takes note of one; beyond the most there is room for, none.
  void add(const Candidate& candidate) noexcept {
    if (count_ < kMost) all_[count_++] = candidate;
  }

  /// In the order in which they were looked at.
  [[nodiscard]] std::span<const Candidate> all() const noexcept { return {all_.data(), count_}; }

 private:
  std::array<Candidate, kMost> all_;
  std::size_t count_ = 0;
};

}  // namespace mnemon
