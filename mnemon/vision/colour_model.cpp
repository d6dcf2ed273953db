// SPDX-License-Identifier: MIT
#include <mnemon/vision/colour_model.hpp>

#include <algorithm>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>

namespace mnemon {
namespace {

// One colour in 4096 of a histogram that knows nothing: what keeps the ratio at a half where nothing was seen.
constexpr float kUnseenColour = 2e-5f;

// Blurs along one axis of the cube of colours, by a quarter, a half, a quarter. In lines of `step` colours.
MNEMON_CLONES void blur_axis(const float* __restrict in, int step, float* __restrict out) noexcept {
  const int line = kColourLevels * step;
  for (int block = 0; block < kColours; block += line)
    for (int level = 0; level < kColourLevels; ++level) {
      const float* here = in + block + level * step;
      const float* before = level > 0 ? here - step : here;
      const float* after = level + 1 < kColourLevels ? here + step : here;
      float* to = out + block + level * step;
      for (int i = 0; i < step; ++i) to[i] = 0.25f * before[i] + 0.5f * here[i] + 0.25f * after[i];
    }
}

// The same along lines of neighbours, all in one loop, and the two ends of each line put right afterwards.
MNEMON_CLONES void blur_lines(const float* __restrict in, float* __restrict out) noexcept {
  for (int i = 1; i + 1 < kColours; ++i) out[i] = 0.25f * in[i - 1] + 0.5f * in[i] + 0.25f * in[i + 1];
  for (int line = 0; line < kColours; line += kColourLevels) {
    const int last = line + kColourLevels - 1;
    out[line] = 0.25f * in[line] + 0.5f * in[line] + 0.25f * in[line + 1];
    out[last] = 0.25f * in[last - 1] + 0.5f * in[last] + 0.25f * in[last];
  }
}

MNEMON_CLONES void blend_towards(const float* __restrict counts, float scale, float rate,
                                 float* __restrict model) noexcept {
  for (int i = 0; i < kColours; ++i) model[i] += rate * (scale * counts[i] - model[i]);
}

MNEMON_CLONES void ratio_of(const float* __restrict target, const float* __restrict around,
                            float* __restrict likelihood) noexcept {
  for (int i = 0; i < kColours; ++i)
    likelihood[i] = (target[i] + kUnseenColour) / (target[i] + around[i] + 2 * kUnseenColour);
}

MNEMON_CLONES void add_halves(float* __restrict counts) noexcept {
  for (int i = 0; i < kColours; ++i) counts[i] += counts[i + kColours];
}

// Brings the smoothed counts into the model, and empties them.
void take_in(std::vector<float>& counts, std::vector<float>& work, float rate,
             std::vector<float>& model) noexcept {
  add_halves(counts.data());
  const float sum = sum_of({counts.data(), kColours});
  if (!(sum > 0)) return;
  blur_lines(counts.data(), work.data());
  blur_axis(work.data(), kColourLevels, counts.data());
  blur_axis(counts.data(), kColourLevels * kColourLevels, work.data());
  blend_towards(work.data(), 1 / sum, rate, model.data());
  std::ranges::fill(counts, 0.0f);
}

}  // namespace

ColourModel::ColourModel()
    : target_count_(2 * kColours),
      around_count_(2 * kColours),
      target_(kColours),
      around_(kColours),
      work_(kColours),
      likelihood_(kColours, 0.5f) {}

// Neighbours are often of one colour, and a count would wait for the one before it: they go to two tables in turn.
void ColourModel::count(const Byte* rgb, const Byte* is_target, int pixels) noexcept {
  float* const tables[2][2] = {{around_count_.data(), around_count_.data() + kColours},
                               {target_count_.data(), target_count_.data() + kColours}};
  for (int i = 0; i < pixels; ++i) tables[is_target[i]][i & 1][colour_index(rgb + 3 * i)] += 1;
}

void ColourModel::learn(double rate) noexcept {
  take_in(target_count_, work_, static_cast<float>(rate), target_);
  take_in(around_count_, work_, static_cast<float>(rate), around_);
  ratio_of(target_.data(), around_.data(), likelihood_.data());
}

}  // namespace mnemon
