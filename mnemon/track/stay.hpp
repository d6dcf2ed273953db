// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// What `stay` goes by: nothing.
struct StayParams {
  static void describe(auto& /*schema*/) {}
};

/// Its box never moves, and it is always as sure as can be: what any tracker must do better than. It shows what a
/// sequence gives for nothing, and what the harness itself costs.
class Stay final : public Tracker {
 public:
  /// Seeding comes next.
  explicit Stay(const StayParams& /*params*/) {}

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override { return std::make_unique<Stay>(*this); }

  Box box_;
};

}  // namespace mnemon
