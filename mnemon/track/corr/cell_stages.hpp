// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/track/corr/cell_features.hpp>
#include <mnemon/track/corr/filter_follower.hpp>

namespace mnemon {

/// The inner pictures that every follower by a filter of many channels shows: `patch`, `channels`, `filter`, `response`.
/// Keeps those that are made for it.
class CellStages {
 public:
  /// The stages of a filter over cells; they hold until the next call.
  [[nodiscard]] std::vector<Stage> of(const CellFeatures& features, const StackFilter& filter,
                                      const FilterFollower& follower);

 private:
  Image<float> channels_;
  Image<float> filter_;
};

}  // namespace mnemon
