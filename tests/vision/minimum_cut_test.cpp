// SPDX-License-Identifier: MIT
#include <mnemon/vision/minimum_cut.hpp>

#include <algorithm>
#include <limits>
#include <queue>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

#include "support/allocations.hpp"

namespace mnemon {
namespace {

struct Grid {
  Image<std::int32_t> gain, right, down;
  Image<Byte> fixed;

  Grid(int rows, int cols) : gain(rows, cols), right(rows, cols), down(rows, cols) {}
  [[nodiscard]] int rows() const { return gain.rows(); }
  [[nodiscard]] int cols() const { return gain.cols(); }
  [[nodiscard]] CutProblem problem() const { return {gain.view(), right.view(), down.view(), fixed.view()}; }
};

Grid random_grid(Random& random, int rows, int cols, int most_gain, int most_edge) {
  Grid grid(rows, cols);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      grid.gain(r, c) = static_cast<int>(random.uniform(-most_gain, most_gain));
      grid.right(r, c) = static_cast<int>(random.uniform(0, most_edge));
      grid.down(r, c) = static_cast<int>(random.uniform(0, most_edge));
    }
  return grid;
}

// What a labelling costs, where a cell that is not target costs what it would have gained.
std::int64_t cost_of(const Grid& grid, ImageView<const Byte> labels) {
  std::int64_t cost = 0;
  for (int r = 0; r < grid.rows(); ++r)
    for (int c = 0; c < grid.cols(); ++c) {
      const bool target = labels(r, c) != 0;
      cost += target ? std::max(0, -grid.gain(r, c)) : std::max(0, grid.gain(r, c));
      if (c + 1 < grid.cols() && (labels(r, c + 1) != 0) != target) cost += grid.right(r, c);
      if (r + 1 < grid.rows() && (labels(r + 1, c) != 0) != target) cost += grid.down(r, c);
    }
  return cost;
}

// The least cost of all labellings, one by one.
std::int64_t least_cost(const Grid& grid) {
  const int cells = grid.rows() * grid.cols();
  std::int64_t least = std::numeric_limits<std::int64_t>::max();
  Image<Byte> labels(grid.rows(), grid.cols());
  for (int set = 0; set < 1 << cells; ++set) {
    for (int i = 0; i < cells; ++i) labels.elements()[i] = static_cast<Byte>(set >> i & 1);
    least = std::min(least, cost_of(grid, labels.view()));
  }
  return least;
}

// Maximum flow by shortest paths, one at a time, over a table of all pairs that have an edge.
class SlowFlow {
 public:
  explicit SlowFlow(const Grid& grid) : cells_(grid.rows() * grid.cols()), edges_(cells_ + 2) {
    for (int r = 0; r < grid.rows(); ++r)
      for (int c = 0; c < grid.cols(); ++c) {
        const int at = r * grid.cols() + c;
        if (grid.gain(r, c) > 0) join(cells_, at, grid.gain(r, c), 0);
        if (grid.gain(r, c) < 0) join(at, cells_ + 1, -grid.gain(r, c), 0);
        if (c + 1 < grid.cols()) join(at, at + 1, grid.right(r, c), grid.right(r, c));
        if (r + 1 < grid.rows()) join(at, at + grid.cols(), grid.down(r, c), grid.down(r, c));
      }
  }
  std::int64_t flow() {
    std::int64_t sum = 0;
    for (std::int64_t more = send(); more > 0; more = send()) sum += more;
    return sum;
  }

 private:
  struct Edge {
    int to;
    std::int64_t room;
    int back;  // its place among the edges of `to`
  };
  void join(int a, int b, int there, int back) {
    edges_[a].push_back({b, there, static_cast<int>(edges_[b].size())});
    edges_[b].push_back({a, back, static_cast<int>(edges_[a].size()) - 1});
  }
  std::int64_t send() {
    std::vector<std::pair<int, int>> from(edges_.size(), {-1, -1});
    std::queue<int> next;
    next.push(cells_);
    from[cells_] = {cells_, -1};
    while (!next.empty() && from[cells_ + 1].first < 0) {
      const int at = next.front();
      next.pop();
      for (int e = 0; e < static_cast<int>(edges_[at].size()); ++e) {
        const Edge& edge = edges_[at][e];
        if (edge.room == 0 || from[edge.to].first >= 0) continue;
        from[edge.to] = {at, e};
        next.push(edge.to);
      }
    }
    if (from[cells_ + 1].first < 0) return 0;
    std::int64_t amount = std::numeric_limits<std::int64_t>::max();
    for (int at = cells_ + 1; at != cells_; at = from[at].first)
      amount = std::min(amount, edges_[from[at].first][from[at].second].room);
    for (int at = cells_ + 1; at != cells_; at = from[at].first) {
      Edge& edge = edges_[from[at].first][from[at].second];
      edge.room -= amount;
      edges_[at][edge.back].room += amount;
    }
    return amount;
  }

  int cells_;
  std::vector<std::vector<Edge>> edges_;
};

TEST(MinimumCut, LabelsEachCellByItsOwnGainWhereNeighboursCostNothing) {
  Grid grid(2, 3);
  const int gains[] = {5, -3, 0, -1, 7, 2};
  for (int i = 0; i < 6; ++i) grid.gain.elements()[i] = gains[i];
  Image<Byte> labels(2, 3);
  MinimumCut cut(2, 3);
  EXPECT_EQ(cut.cut(grid.problem(), labels.view()), 0);
  const int expected[] = {1, 0, 0, 0, 1, 1};
  for (int i = 0; i < 6; ++i) EXPECT_EQ(labels.elements()[i], expected[i]) << i;
}

TEST(MinimumCut, FillsAHoleThatCostsLessThanItsRim) {
  Grid grid(3, 3);
  for (auto* edges : {&grid.right, &grid.down})
    for (auto& edge : edges->elements()) edge = 2;
  for (auto& gain : grid.gain.elements()) gain = 10;
  grid.gain(1, 1) = -7;  // less than its four edges, 8
  Image<Byte> labels(3, 3);
  MinimumCut cut(3, 3);
  EXPECT_EQ(cut.cut(grid.problem(), labels.view()), 7);
  EXPECT_EQ(labels(1, 1), 1);
  grid.gain(1, 1) = -9;
  EXPECT_EQ(cut.cut(grid.problem(), labels.view()), 8);
  EXPECT_EQ(labels(1, 1), 0);
}

TEST(MinimumCut, CostsLeastOfAllLabellings) {
  Random random(11);
  MinimumCut cut(4, 4);
  for (int i = 0; i < 150; ++i) {
    const int rows = 1 + i % 4;
    const int cols = 1 + i / 4 % 4;
    const Grid grid = random_grid(random, rows, cols, 20, 1 + i % 25);
    Image<Byte> labels(rows, cols);
    const std::int64_t flow = cut.cut(grid.problem(), labels.view());
    EXPECT_EQ(flow, least_cost(grid)) << rows << " x " << cols;
    EXPECT_EQ(cost_of(grid, labels.view()), flow);
  }
}

// Grids whose labels depend on cells far away: many ways to the same flow, long paths, many orphans.
TEST(MinimumCut, SendsAsMuchAsASlowFlow) {
  Random random(12);
  MinimumCut cut(33, 33);
  for (const int side : {1, 2, 15, 16, 17, 33})
    for (const int edge : {1, 3, 12, 60, 300}) {
      const int cols = std::max(1, side - 3);
      const Grid grid = random_grid(random, side, cols, 40, edge);
      Image<Byte> labels(side, cols);
      const std::int64_t flow = cut.cut(grid.problem(), labels.view());
      EXPECT_EQ(flow, SlowFlow(grid).flow()) << side << ", " << edge;
      EXPECT_EQ(cost_of(grid, labels.view()), flow);
    }
}

TEST(MinimumCut, SolvesABandAsTheWholeWithTheRestHeld) {
  Random random(13);
  MinimumCut cut(24, 24);
  for (int i = 0; i < 40; ++i) {
    Grid grid = random_grid(random, 24, 24, 40, 5 + 4 * i);
    grid.fixed = Image<Byte>(24, 24);
    for (int r = 0; r < 24; ++r)
      for (int c = 0; c < 24; ++c) {
        const int from = std::max(std::abs(r - 12), std::abs(c - 12));
        grid.fixed(r, c) = from < 4   ? CutProblem::kTarget
                           : from > 8 ? CutProblem::kAround
                                      : CutProblem::kOpen;
      }
    Image<Byte> band(24, 24), whole(24, 24);
    cut.cut(grid.problem(), band.view());
    Grid held = random_grid(random, 24, 24, 1, 1);
    held.right = copy_of(std::as_const(grid.right).view());
    held.down = copy_of(std::as_const(grid.down).view());
    for (int k = 0; k < 24 * 24; ++k) {
      const Byte fixed = grid.fixed.elements()[k];
      held.gain.elements()[k] = fixed == CutProblem::kOpen     ? grid.gain.elements()[k]
                                : fixed == CutProblem::kTarget ? 1 << 20
                                                               : -(1 << 20);
    }
    const std::int64_t flow = cut.cut(held.problem(), whole.view());
    EXPECT_EQ(cost_of(held, band.view()), flow);
    EXPECT_EQ(cost_of(held, whole.view()), flow);
  }
}

TEST(MinimumCut, AllocatesNothing) {
  Random random(14);
  MinimumCut cut(40, 40);
  const Grid grid = random_grid(random, 40, 40, 40, 30);
  Image<Byte> labels(40, 40);
  const long before = test::allocation_count();
  cut.cut(grid.problem(), labels.view());
  EXPECT_EQ(test::allocation_count(), before);
}

}  // namespace
}  // namespace mnemon
