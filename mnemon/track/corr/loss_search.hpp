// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Where to look for a lost target, a place at a time: outwards from where it should be, until the whole picture has
/// been seen, and then again. All memory is taken when it is made.
class LossSearch {
 public:
  LossSearch() = default;
  /// \param size            Of the frames.
  /// \param step_w, step_h  How far apart the places are, px; at least 1.
  LossSearch(FrameSize size, double step_w, double step_h);

  /// Starts afresh, outwards from `from`.
  void start(Point from);

  /// The next place to look.
  [[nodiscard]] Point next() noexcept;

 private:
  std::vector<Point> places_;
  std::size_t at_ = 0;
};

}  // namespace mnemon
