// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/cell_samples.hpp>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/lanes.hpp>
#include <mnemon/track/mask/cell_map.hpp>

namespace mnemon {
namespace {

// A cell's channels lie side by side.
static_assert(kPatchChannels == 4);

// Where rows of samples go.
struct Rows {
  std::array<float*, kPatchChannels> channel;
  float* taken;
  float* in_picture;
};

// Middles of cells from place to place, in cells of the patch.
struct Line {
  float x, y;            // of the first
  float step_x, step_y;  // from one to the next
};

struct Limits {
  float left, top, right, bottom;
};

Limits limits_of(const TargetPatch::Extent& extent) noexcept {
  return {static_cast<float>(extent.left), static_cast<float>(extent.top), static_cast<float>(extent.right),
          static_cast<float>(extent.bottom)};
}

MNEMON_CLONES void mark_within(const Line& line, const Limits& limits, int count,
                               float* __restrict marks) noexcept {
  for (int i = 0; i < count; ++i) {
    const float x = line.x + static_cast<float>(i) * line.step_x;
    const float y = line.y + static_cast<float>(i) * line.step_y;
    const bool across = (x >= limits.left) & (x < limits.right);
    const bool down = (y >= limits.top) & (y < limits.bottom);
    marks[i] = across & down ? 1.0f : 0.0f;
  }
}

// A run of cells; four at a time are turned round from cells to channels. Cells that are not to be taken give those of the
// first cell, which are as good as any.
MNEMON_CLONES void take_run(ImageView<const float> mixed, const Line& line, int first,
                            const Rows& rows) noexcept {
  std::array<int, kCellLanes> at;
  std::array<float, kCellLanes> across;
  std::array<float, kCellLanes> down;
  const Line from = line;
  const auto stride = static_cast<int>(mixed.stride);
  const float* const taken = rows.taken + first;
  for (int k = 0; k < kCellLanes; ++k) {
    const auto i = static_cast<float>(first + k);
    const float x = taken[k] * (from.x + i * from.step_x);
    const float y = taken[k] * (from.y + i * from.step_y);
    const int left = static_cast<int>(x);
    const int top = static_cast<int>(y);
    across[k] = x - static_cast<float>(left);
    down[k] = y - static_cast<float>(top);
    at[k] = top * stride + kPatchChannels * left;
  }
  const std::array<float*, kPatchChannels> to = rows.channel;
  for (int i = 0; i < kCellLanes; i += 4) {
    Four cells[4];
    for (int k = 0; k < 4; ++k) {
      const float* const p = mixed.data + at[i + k];
      const float* const q = p + stride;
      const Four upper = load_four(p) + across[i + k] * (load_four(p + kPatchChannels) - load_four(p));
      const Four lower = load_four(q) + across[i + k] * (load_four(q + kPatchChannels) - load_four(q));
      cells[k] = upper + down[i + k] * (lower - upper);
    }
    transpose(cells);
    for (int k = 0; k < kPatchChannels; ++k) store(cells[k], to[k] + first + i);
  }
}

}  // namespace

CellSamples::CellSamples(int rows, int cols) : taken_(rows, cols), in_picture_(rows, cols) {
  for (CellPlane& channel : channels_) channel = CellPlane(rows, cols);
}

void CellSamples::take(const TargetPatch& patch, const Appearance& appearance,
                       const TargetPose& pose) noexcept {
  const CellMap map = map_of(patch, appearance, pose);
  const Limits in_patch = limits_of(patch.in_picture());
  const Limits picture = limits_of(patch.picture());
  const ImageView<const float> mixed = patch.mixed();
  for (int r = 0; r < taken_.rows(); ++r) {
    const Line line{static_cast<float>(map.x(r, 0)), static_cast<float>(map.y(r, 0)),
                    static_cast<float>(map.col.x), static_cast<float>(map.col.y)};
    Rows rows{{}, taken_.view().row(r), in_picture_.view().row(r)};
    for (int k = 0; k < kPatchChannels; ++k) rows.channel[k] = channels_[k].view().row(r);
    const int count = padded(taken_.cols());
    mark_within(line, in_patch, count, rows.taken);
    mark_within(line, picture, count, rows.in_picture);
    for (int first = 0; first < count; first += kCellLanes) take_run(mixed, line, first, rows);
  }
}

}  // namespace mnemon
