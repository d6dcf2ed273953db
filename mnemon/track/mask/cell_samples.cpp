// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/cell_samples.hpp>

#include <cstring>

#include <mnemon/base/clones.hpp>
#include <mnemon/track/mask/cell_map.hpp>

namespace mnemon {
namespace {

// A cell's channels side by side.
using Four = float __attribute__((vector_size(16)));
using FourIndices = int __attribute__((vector_size(16)));
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

// Four at a time, which are then turned round from cells to channels. Cells that are not to be taken give those of the first
// cell, which are as good as any.
MNEMON_CLONES void take_row(ImageView<const float> mixed, const Line& line, int count,
                            const Rows& rows) noexcept {
  for (int i = 0; i < count; i += 4) {
    Four taken[4];
    for (int k = 0; k < 4; ++k) {
      const auto at = static_cast<float>(i + k);
      const bool within = rows.taken[i + k] != 0;
      const float x = within ? line.x + at * line.step_x : 0.0f;
      const float y = within ? line.y + at * line.step_y : 0.0f;
      const int left = static_cast<int>(x);
      const int top = static_cast<int>(y);
      const float across = x - static_cast<float>(left);
      const float down = y - static_cast<float>(top);
      const float* const p = mixed.data + top * mixed.stride + kPatchChannels * left;
      Four corner[4];
      std::memcpy(&corner[0], p, 2 * sizeof(Four));
      std::memcpy(&corner[2], p + mixed.stride, 2 * sizeof(Four));
      const Four upper = corner[0] + across * (corner[1] - corner[0]);
      const Four lower = corner[2] + across * (corner[3] - corner[2]);
      taken[k] = upper + down * (lower - upper);
    }
    constexpr FourIndices kFirst{0, 4, 1, 5};
    constexpr FourIndices kLast{2, 6, 3, 7};
    const Four ab = __builtin_shuffle(taken[0], taken[2], kFirst);
    const Four cd = __builtin_shuffle(taken[1], taken[3], kFirst);
    const Four ef = __builtin_shuffle(taken[0], taken[2], kLast);
    const Four gh = __builtin_shuffle(taken[1], taken[3], kLast);
    const Four turned[4] = {__builtin_shuffle(ab, cd, kFirst), __builtin_shuffle(ab, cd, kLast),
                            __builtin_shuffle(ef, gh, kFirst), __builtin_shuffle(ef, gh, kLast)};
    for (int k = 0; k < kPatchChannels; ++k) std::memcpy(rows.channel[k] + i, &turned[k], sizeof(Four));
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
    take_row(mixed, line, count, rows);
  }
}

}  // namespace mnemon
