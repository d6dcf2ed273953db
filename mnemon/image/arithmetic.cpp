// SPDX-License-Identifier: MIT
#include <mnemon/image/arithmetic.hpp>

#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <numeric>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kLanes = 16;

// log(v) for v >= 1: v = 2^e m with m in [0.75, 1.5), then the series of log((1 + s) / (1 - s)) with
// s = (m - 1) / (m + 1), |s| <= 0.2, whose first term left out is below 1e-7.
inline float log_of(float v) noexcept {
  const std::uint32_t bits = std::bit_cast<std::uint32_t>(v) - 0x3f400000U;
  const float exponent = static_cast<float>(static_cast<std::int32_t>(bits) >> 23);
  const float m = std::bit_cast<float>((bits & 0x007fffffU) + 0x3f400000U);
  const float s = (m - 1.0f) / (m + 1.0f);
  const float t = s * s;
  const float series = 2.0f + t * (0.66666667f + t * (0.4f + t * (0.28571429f + t * 0.22222222f)));
  return exponent * 0.69314718f + s * series;
}

MNEMON_CLONES void log1p_all(float* values, std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) values[i] = log_of(1.0f + values[i]);
}

MNEMON_CLONES void shift_scale_taper(float* __restrict values, const float* __restrict taper, float shift,
                                     float scale, std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) values[i] = (values[i] - shift) * scale * taper[i];
}

MNEMON_CLONES float sum_of_squares_about(const float* values, float middle, std::size_t count) noexcept {
  std::array<float, kLanes> lane{};
  std::size_t i = 0;
  for (; i + kLanes <= count; i += kLanes)
    for (std::size_t k = 0; k < kLanes; ++k) {
      const float v = values[i + k] - middle;
      lane[k] += v * v;
    }
  float tail = 0;
  for (; i < count; ++i) tail += (values[i] - middle) * (values[i] - middle);
  return std::accumulate(lane.begin(), lane.end(), tail);
}

MNEMON_CLONES float sum_of_products(const float* __restrict a, const float* __restrict b,
                                    std::size_t count) noexcept {
  std::array<float, kLanes> lane{};
  std::size_t i = 0;
  for (; i + kLanes <= count; i += kLanes)
    for (std::size_t k = 0; k < kLanes; ++k) lane[k] += a[i + k] * b[i + k];
  float tail = 0;
  for (; i < count; ++i) tail += a[i] * b[i];
  return std::accumulate(lane.begin(), lane.end(), tail);
}

MNEMON_CLONES float plain_sum(const float* values, std::size_t count) noexcept {
  std::array<float, kLanes> lane{};
  std::size_t i = 0;
  for (; i + kLanes <= count; i += kLanes)
    for (std::size_t k = 0; k < kLanes; ++k) lane[k] += values[i + k];
  float tail = 0;
  for (; i < count; ++i) tail += values[i];
  return std::accumulate(lane.begin(), lane.end(), tail);
}

MNEMON_CLONES void blend_all(const float* __restrict from, float rate, float* __restrict to,
                             std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) to[i] += rate * (from[i] - to[i]);
}

}  // namespace

float sum_of(std::span<const float> values) noexcept { return plain_sum(values.data(), values.size()); }

float sum_of_squares(std::span<const float> values) noexcept {
  return sum_of_squares_about(values.data(), 0.0f, values.size());
}

float dot(std::span<const float> a, std::span<const float> b) noexcept {
  MNEMON_ASSERT(a.size() == b.size());
  return sum_of_products(a.data(), b.data(), a.size());
}

void blend_towards(std::span<const float> from, float rate, std::span<float> to) noexcept {
  MNEMON_ASSERT(from.size() == to.size());
  blend_all(from.data(), rate, to.data(), to.size());
}

void log1p_in_place(std::span<float> values) noexcept { log1p_all(values.data(), values.size()); }

void normalise_and_taper(std::span<float> values, std::span<const float> taper) noexcept {
  MNEMON_ASSERT(values.size() == taper.size());
  if (values.empty()) return;
  const float mean = sum_of(values) / static_cast<float>(values.size());
  const float norm = std::sqrt(sum_of_squares_about(values.data(), mean, values.size()));
  // Rounding of the mean alone leaves a flat patch with a norm of about 1e-7 of its level.
  const float least = 1e-5f * (1.0f + std::abs(mean)) * std::sqrt(static_cast<float>(values.size()));
  const float scale = norm > least ? 1.0f / norm : 0.0f;
  shift_scale_taper(values.data(), taper.data(), mean, scale, values.size());
}

}  // namespace mnemon
