// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cstdint>
#include <vector>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// A labelling of a grid's cells as target or not, to be found: what each cell gains by being target, and what it costs
/// two neighbours to be labelled apart. All pictures are of one shape and one channel.
struct CutProblem {
  ImageView<const std::int32_t>
      gain;  ///< Of being target; below 0 what being target costs. Up to 2^20 either way.
  ImageView<const std::int32_t> right;  ///< Cost between a cell and the one to its right, 0 to 2^20.
  ImageView<const std::int32_t> down;   ///< Cost between a cell and the one below it, 0 to 2^20.
  /// Which cells are to be labelled: those of `kOpen`; the others are target (`kTarget`) or not (`kAround`) already.
  /// Empty where all are open.
  ImageView<const Byte> fixed = {};
  static constexpr Byte kAround = 0;  ///< A cell that is none of the target's, whatever it looks like.
  static constexpr Byte kTarget = 1;  ///< A cell that is the target's, whatever it looks like.
  static constexpr Byte kOpen = 2;    ///< A cell that the cut decides on.
};

/// Finds the labelling of a grid that costs least, as a minimum cut by maximum flow: two trees of paths grow from the
/// cells that gain and from those that lose until they meet, and are mended rather than grown anew after each flow.
/// Allocates nothing once made. Not to be shared by threads.
/// Source: Boykov and Kolmogorov, TPAMI 2004, section 3; Greig, Porteous and Seheult 1989 for the problem. Ours keeps
/// the grid's four edges beside each cell, with no lists of them, and sends flow between neighbours first.
class MinimumCut {
 public:
  MinimumCut() = default;
  /// \param most_rows, most_cols  Of any problem.
  MinimumCut(int most_rows, int most_cols);

  /// Writes 1 for target and 0 for the rest into `labels`, of the problem's shape. Of several best labellings the one
  /// with the fewest cells of the target.
  /// \returns  The flow: the cost of the labelling, where not being target costs a cell what it would have gained.
  std::int64_t cut(const CutProblem& problem, ImageView<Byte> labels) noexcept;

 private:
  static constexpr int kDirections = 4;  // right, left, down, up: the opposite differs in the lowest bit
  struct Cell {
    std::array<std::int32_t, kDirections> room;  // what can still flow to each neighbour
    std::int32_t source;    // what can still flow from the source, or below 0 to the sink
    std::int32_t seen;      // when its distance was last known to be right
    std::int32_t distance;  // to the root of its tree, in steps
    std::uint8_t tree;
    std::uint8_t parent;  // a direction, or one of the two below
    std::uint8_t queued;
    std::uint8_t open;
  };

  [[nodiscard]] std::size_t place_of(int r, int c) const noexcept {
    return static_cast<std::size_t>(r + 1) * width_ + c + 1;
  }
  void lay_out(const CutProblem& problem) noexcept;
  void fix_neighbours(const CutProblem& problem) noexcept;
  std::int64_t flow_between_neighbours(int rows, int cols) noexcept;
  void plant(int rows, int cols) noexcept;
  std::int64_t grow() noexcept;
  [[nodiscard]] bool grow_from(std::int32_t at, std::int32_t& met, int& direction) noexcept;
  std::int32_t flow_through(std::int32_t source_end, int direction) noexcept;
  void adopt() noexcept;
  void adopt(std::int32_t at) noexcept;
  [[nodiscard]] int distance_to_root(std::int32_t at) noexcept;
  void push_active(std::int32_t at) noexcept;
  void orphan(std::int32_t at) noexcept;

  int width_ = 0;  // of a row of cells with a border of one
  std::array<std::int32_t, kDirections> step_{};
  std::vector<Cell> cells_;
  std::vector<std::int32_t> active_;  // a ring
  std::size_t active_first_ = 0;
  std::size_t active_count_ = 0;
  std::vector<std::int32_t> orphans_;
  std::int32_t now_ = 0;
};

}  // namespace mnemon
