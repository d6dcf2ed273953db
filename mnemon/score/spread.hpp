// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <functional>
#include <span>
#include <vector>
/// \file
/// Putting values in order by spreading them over as many buckets as there are values: linear in their number where
/// they are spread out, and never slower than sorting by comparison by more than a constant.
namespace mnemon::detail {

inline constexpr std::size_t kFewToInsert = 16;
inline constexpr std::size_t kFewToSpread = 48;
inline constexpr int kDeepestSpread = 4;

/// Puts a handful of values in rising order of `key`.
template <class T, class Key>
void insert_into_order(std::span<T> values, const Key& key) {
  for (std::size_t i = 1; i < values.size(); ++i) {
    const T value = values[i];
    std::size_t k = i;
    for (; k > 0 && key(value) < key(values[k - 1]); --k) values[k] = values[k - 1];
    values[k] = value;
  }
}

/// Puts `values` in rising order of `key`, at least in those parts that are wanted.
/// \param scratch  As long as `values`.
/// \param wanted   Asked for the places from one to before another: whether their order matters.
/// \param first    The place of the first of `values` among all.
template <class T, class Key, class Wanted>
void spread_into_order(std::span<T> values, std::span<T> scratch, std::size_t first, int depth,
                       const Key& key, const Wanted& wanted) {
  const auto compare = [&key](const T& a, const T& b) { return key(a) < key(b); };
  if (values.size() <= kFewToInsert) {
    insert_into_order(values, key);
    return;
  }
  if (values.size() <= kFewToSpread || depth == kDeepestSpread) {
    std::sort(values.begin(), values.end(), compare);
    return;
  }
  double low = key(values[0]);
  double high = low;
  for (const T& value : values) {
    low = key(value) < low ? key(value) : low;
    high = key(value) > high ? key(value) : high;
  }
  if (low == high) return;
  const std::size_t count = std::min<std::size_t>(std::bit_ceil(values.size()), 1 << 14);
  const double scale = static_cast<double>(count - 1) / (high - low);
  if (!std::isfinite(scale) || !std::isfinite(high - low)) {
    std::sort(values.begin(), values.end(), compare);
    return;
  }
  const auto bucket = [&](const T& value) { return static_cast<std::uint32_t>((key(value) - low) * scale); };
  std::vector<std::uint32_t> ends(count + 1, 0);
  for (const T& value : values) ++ends[bucket(value) + 1];
  for (std::size_t i = 1; i <= count; ++i) ends[i] += ends[i - 1];
  for (const T& value : values) scratch[ends[bucket(value)]++] = value;
  std::copy(scratch.begin(), scratch.end(), values.begin());
  // By now ends[i] is the end of bucket i.
  for (std::size_t i = 0, begin = 0; i < count; begin = ends[i++]) {
    const std::size_t size = ends[i] - begin;
    if (size < 2 || !wanted(first + begin, first + ends[i])) continue;
    spread_into_order(values.subspan(begin, size), scratch.subspan(begin, size), first + begin, depth + 1,
                      key, wanted);
  }
}

/// Puts all of `values` in rising order of `key`, a function to double that is never NaN.
template <class T, class Key>
void spread_sort(std::vector<T>& values, const Key& key) {
  std::vector<T> scratch(values.size());
  spread_into_order(std::span<T>(values), std::span<T>(scratch), 0, 0, key,
                    [](std::size_t, std::size_t) { return true; });
}

}  // namespace mnemon::detail
