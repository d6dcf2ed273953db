// SPDX-License-Identifier: MIT
#include <mnemon/vision/minimum_cut.hpp>

#include <algorithm>

namespace mnemon {
namespace {

enum Tree : std::uint8_t { kFree, kSource, kSink };
constexpr std::uint8_t kTerminal = 4;  // parents that are no direction
constexpr std::uint8_t kNone = 5;

}  // namespace

MinimumCut::MinimumCut(int most_rows, int most_cols) {
  const auto cells = static_cast<std::size_t>(most_rows + 2) * (most_cols + 2);
  cells_.resize(cells);
  active_.resize(cells);
  orphans_.reserve(cells);
}

std::int64_t MinimumCut::cut(const CutProblem& problem, ImageView<Byte> labels) noexcept {
  const int rows = problem.gain.rows;
  const int cols = problem.gain.cols;
  MNEMON_ASSERT(static_cast<std::size_t>(rows + 2) * (cols + 2) <= cells_.size());
  width_ = cols + 2;
  step_ = {1, -1, width_, -width_};
  lay_out(problem);
  if (!problem.fixed.empty()) fix_neighbours(problem);
  std::int64_t flow = flow_between_neighbours(rows, cols);
  plant(rows, cols);
  flow += grow();
  for (int r = 0; r < rows; ++r) {
    const Cell* cell = &cells_[place_of(r, 0)];
    Byte* const label = labels.row(r);
    for (int c = 0; c < cols; ++c)
      label[c] = cell[c].open != 0 ? static_cast<Byte>(cell[c].tree == kSource) : problem.fixed(r, c);
  }
  return flow;
}

// The border has no room to flow to or from, so that no step needs to ask where the grid ends.
void MinimumCut::lay_out(const CutProblem& problem) noexcept {
  const int rows = problem.gain.rows;
  const int cols = problem.gain.cols;
  const bool all_open = problem.fixed.empty();
  std::fill_n(cells_.begin(), static_cast<std::size_t>(rows + 2) * width_,
              Cell{{0, 0, 0, 0}, 0, 0, 0, kFree, kNone, 0, 0});
  for (int r = 0; r < rows; ++r) {
    Cell* const cell = &cells_[place_of(r, 0)];
    const std::int32_t* const gain = problem.gain.row(r);
    const std::int32_t* const right = problem.right.row(r);
    const std::int32_t* const down = problem.down.row(r);
    for (int c = 0; c < cols; ++c) {
      cell[c].source = gain[c];
      cell[c].open = static_cast<std::uint8_t>(all_open || problem.fixed(r, c) == CutProblem::kOpen);
      if (c + 1 < cols) cell[c].room[0] = cell[c + 1].room[1] = right[c];
      if (r + 1 < rows) cell[c].room[2] = cell[c + width_].room[3] = down[c];
    }
  }
}

// A neighbour whose label is known is as good as a gain or a loss.
void MinimumCut::fix_neighbours(const CutProblem& problem) noexcept {
  const int rows = problem.gain.rows;
  const int cols = problem.gain.cols;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      const std::size_t at = place_of(r, c);
      if (cells_[at].open != 0) continue;
      const int sign = problem.fixed(r, c) == CutProblem::kTarget ? 1 : -1;
      for (int d = 0; d < kDirections; ++d) {
        Cell& there = cells_[at + step_[d]];
        if (there.open != 0) there.source += sign * cells_[at].room[d];
        there.room[d ^ 1] = cells_[at].room[d] = 0;
      }
      cells_[at].source = 0;
    }
}

// Most flow goes no further than to the next cell: cheaper sent before there are trees.
std::int64_t MinimumCut::flow_between_neighbours(int rows, int cols) noexcept {
  std::int64_t flow = 0;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      Cell& cell = cells_[place_of(r, c)];
      for (int d = 0; d < kDirections && cell.source > 0; ++d) {
        Cell& there = *(&cell + step_[d]);
        if (there.source >= 0) continue;
        const std::int32_t amount = std::min({cell.source, cell.room[d], -there.source});
        cell.source -= amount;
        cell.room[d] -= amount;
        there.source += amount;
        there.room[d ^ 1] += amount;
        flow += amount;
      }
    }
  return flow;
}

void MinimumCut::plant(int rows, int cols) noexcept {
  now_ = 0;
  active_first_ = active_count_ = 0;
  orphans_.clear();
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      Cell& cell = cells_[place_of(r, c)];
      if (cell.source == 0) continue;
      cell.tree = cell.source > 0 ? kSource : kSink;
      cell.parent = kTerminal;
      cell.distance = 1;
    }
  // Cells among their own kind have nowhere to grow to; they are woken when a neighbour leaves their tree.
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      const auto at = static_cast<std::int32_t>(place_of(r, c));
      const Cell& cell = cells_[at];
      const auto differs = [&](std::int32_t step) { return cells_[at + step].tree != cell.tree; };
      if (cell.tree != kFree && std::ranges::any_of(step_, differs)) push_active(at);
    }
}

void MinimumCut::push_active(std::int32_t at) noexcept {
  if (cells_[at].queued != 0) return;
  cells_[at].queued = 1;
  std::size_t place = active_first_ + active_count_++;
  if (place >= active_.size()) place -= active_.size();
  active_[place] = at;
}

std::int64_t MinimumCut::grow() noexcept {
  std::int64_t flow = 0;
  while (active_count_ > 0) {
    const std::int32_t at = active_[active_first_];
    if (++active_first_ == active_.size()) active_first_ = 0;
    --active_count_;
    cells_[at].queued = 0;
    std::int32_t source_end = 0;
    int direction = 0;
    while (cells_[at].tree != kFree && grow_from(at, source_end, direction)) {
      ++now_;
      flow += flow_through(source_end, direction);
      adopt();
    }
  }
  return flow;
}

// Takes free neighbours into the cell's tree. \returns  Whether it met the other tree: `met` is the cell of the
// source's tree, `direction` where the sink's cell lies from it.
bool MinimumCut::grow_from(std::int32_t at, std::int32_t& met, int& direction) noexcept {
  const Cell& cell = cells_[at];
  const bool from_source = cell.tree == kSource;
  for (int d = 0; d < kDirections; ++d) {
    const std::int32_t next = at + step_[d];
    Cell& there = cells_[next];
    if ((from_source ? cell.room[d] : there.room[d ^ 1]) == 0) continue;
    if (there.tree == kFree) {
      there.tree = cell.tree;
      there.parent = static_cast<std::uint8_t>(d ^ 1);
      there.seen = cell.seen;
      there.distance = cell.distance + 1;
      push_active(next);
    } else if (there.tree != cell.tree) {
      met = from_source ? at : next;
      direction = from_source ? d : d ^ 1;
      return true;
    } else if (there.seen <= cell.seen && there.distance > cell.distance + 1) {
      there.parent = static_cast<std::uint8_t>(d ^ 1);  // a shorter way to the root
      there.seen = cell.seen;
      there.distance = cell.distance + 1;
    }
  }
  return false;
}

// Sends all that fits along the path through the two cells; cells cut off from their tree become orphans.
std::int32_t MinimumCut::flow_through(std::int32_t source_end, int direction) noexcept {
  const std::int32_t sink_end = source_end + step_[direction];
  std::int32_t amount = cells_[source_end].room[direction];
  std::int32_t at = source_end;
  for (; cells_[at].parent != kTerminal; at += step_[cells_[at].parent]) {
    const int d = cells_[at].parent;
    amount = std::min(amount, cells_[at + step_[d]].room[d ^ 1]);
  }
  amount = std::min(amount, cells_[at].source);
  for (at = sink_end; cells_[at].parent != kTerminal; at += step_[cells_[at].parent])
    amount = std::min(amount, cells_[at].room[cells_[at].parent]);
  amount = std::min(amount, -cells_[at].source);

  cells_[source_end].room[direction] -= amount;
  cells_[sink_end].room[direction ^ 1] += amount;
  at = source_end;
  while (cells_[at].parent != kTerminal) {
    const int d = cells_[at].parent;
    const std::int32_t up = at + step_[d];
    cells_[at].room[d] += amount;
    if ((cells_[up].room[d ^ 1] -= amount) == 0) orphan(at);
    at = up;
  }
  if ((cells_[at].source -= amount) == 0) orphan(at);
  at = sink_end;
  while (cells_[at].parent != kTerminal) {
    const int d = cells_[at].parent;
    const std::int32_t up = at + step_[d];
    cells_[up].room[d ^ 1] += amount;
    if ((cells_[at].room[d] -= amount) == 0) orphan(at);
    at = up;
  }
  if ((cells_[at].source += amount) == 0) orphan(at);
  return amount;
}

// The walk along the path still needs the parent: it is forgotten when the orphan's turn comes.
void MinimumCut::orphan(std::int32_t at) noexcept { orphans_.push_back(at); }

void MinimumCut::adopt() noexcept {
  for (const std::int32_t at : orphans_) cells_[at].parent = kNone;
  while (!orphans_.empty()) {
    const std::int32_t at = orphans_.back();
    orphans_.pop_back();
    adopt(at);
  }
}

// Steps to the root along parents; 0 where an orphan lies on the way. What was seen now is not walked again.
int MinimumCut::distance_to_root(std::int32_t at) noexcept {
  int steps = 0;
  std::int32_t up = at;
  while (true) {
    const Cell& cell = cells_[up];
    if (cell.seen == now_) {
      steps += cell.distance;
      break;
    }
    ++steps;
    if (cell.parent == kTerminal) {
      cells_[up].seen = now_;
      cells_[up].distance = 1;
      break;
    }
    if (cell.parent == kNone) return 0;
    up += step_[cell.parent];
  }
  const int found = steps;
  for (; cells_[at].seen != now_; at += step_[cells_[at].parent]) {
    cells_[at].seen = now_;
    cells_[at].distance = steps--;
  }
  return found;
}

// Looks for a new parent nearest to a root; a cell without one leaves its tree, and its children are orphans.
void MinimumCut::adopt(std::int32_t at) noexcept {
  Cell& cell = cells_[at];
  const bool of_source = cell.tree == kSource;
  int nearest = 0;
  std::uint8_t parent = kNone;  // not set before all are looked at: the cell's own children would lead to it
  for (int d = 0; d < kDirections; ++d) {
    const Cell& there = cells_[at + step_[d]];
    if (there.tree != cell.tree || (of_source ? there.room[d ^ 1] : cell.room[d]) == 0 ||
        there.parent == kNone)
      continue;
    const int distance = distance_to_root(at + step_[d]);
    if (distance == 0 || (nearest != 0 && distance >= nearest)) continue;
    nearest = distance;
    parent = static_cast<std::uint8_t>(d);
  }
  if (nearest != 0) {
    cell.parent = parent;
    cell.seen = now_;
    cell.distance = nearest + 1;
    return;
  }
  for (int d = 0; d < kDirections; ++d) {
    const std::int32_t next = at + step_[d];
    Cell& there = cells_[next];
    if (there.tree != cell.tree) continue;
    if ((of_source ? there.room[d ^ 1] : cell.room[d]) > 0) push_active(next);
    if (there.parent == (d ^ 1)) {
      there.parent = kNone;
      orphan(next);
    }
  }
  cell.tree = kFree;
}

}  // namespace mnemon
