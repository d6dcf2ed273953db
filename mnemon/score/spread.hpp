// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <span>
#include <utility>
#include <vector>
/// \file
/// Putting values in order by spreading them over as many buckets as there are values: linear in their number where
/// they are spread out, and never slower than sorting by comparison by more than a constant.
namespace mnemon::detail {

inline constexpr std::size_t kFewToInsert = 16;
inline constexpr std::size_t kFewToSpread = 48;

/// Puts values in rising order of `key`, a function to double that is never NaN.
template <class T, class Key>
void order_few(std::span<T> values, const Key& key) {
  if (values.size() > kFewToInsert) {
    std::sort(values.begin(), values.end(), [&key](const T& a, const T& b) { return key(a) < key(b); });
    return;
  }
  for (std::size_t i = 1; i < values.size(); ++i) {
    const T value = values[i];
    std::size_t k = i;
    for (; k > 0 && key(value) < key(values[k - 1]); --k) values[k] = values[k - 1];
    values[k] = value;
  }
}

/// Values in buckets: all of one bucket come before all of the next, in any order among themselves.
template <class T>
struct Spread {
  std::vector<T> values;
  std::vector<std::uint32_t> ends;  ///< Of each bucket: the place behind its last value.
};

template <class T, class Key>
[[nodiscard]] Spread<T> spread_out(std::span<const T> values, const Key& key) {
  Spread<T> spread;
  double low = values.empty() ? 0 : key(values[0]);
  double high = low;
  for (const T& value : values) {
    low = key(value) < low ? key(value) : low;
    high = key(value) > high ? key(value) : high;
  }
  const std::size_t count = std::min<std::size_t>(std::bit_ceil(values.size()), 1 << 16);
  const double scale = static_cast<double>(count - 1) / (high - low);
  // Few, all alike, or too far apart for numbers to tell how far: one bucket.
  if (values.size() <= kFewToSpread || !std::isfinite(scale) || !std::isfinite(high - low)) {
    spread.values.assign(values.begin(), values.end());
    spread.ends.push_back(static_cast<std::uint32_t>(values.size()));
    return spread;
  }
  const auto bucket = [&](const T& value) { return static_cast<std::uint32_t>((key(value) - low) * scale); };
  spread.values.resize(values.size());
  spread.ends.resize(count + 1);
  for (const T& value : values) ++spread.ends[bucket(value) + 1];
  for (std::size_t i = 1; i <= count; ++i) spread.ends[i] += spread.ends[i - 1];
  for (const T& value : values) spread.values[spread.ends[bucket(value)]++] = value;
  spread.ends.pop_back();  // what was the beginning of a bucket is its end by now
  return spread;
}

/// All values in rising order of `key`.
template <class T, class Key>
[[nodiscard]] std::vector<T> in_order(std::span<const T> values, const Key& key) {
  Spread<T> spread = spread_out(values, key);
  std::uint32_t begin = 0;
  for (const std::uint32_t end : spread.ends) {
    if (end - begin > 1) order_few(std::span(spread.values).subspan(begin, end - begin), key);
    begin = end;
  }
  return std::move(spread.values);
}

/// Puts the value that belongs there at a place of a spread, and those of its bucket.
template <class T, class Key>
void order_around(Spread<T>& spread, std::size_t place, const Key& key) {
  const auto end = std::ranges::upper_bound(spread.ends, place);
  const std::size_t begin = end == spread.ends.begin() ? 0 : *(end - 1);
  order_few(std::span(spread.values).subspan(begin, *end - begin), key);
}

}  // namespace mnemon::detail
