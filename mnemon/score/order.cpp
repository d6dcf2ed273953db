// SPDX-License-Identifier: MIT
#include <mnemon/score/order.hpp>

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <numeric>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kFew = 48;  // that sorting by comparison is as quick for
constexpr std::size_t kMostBuckets = 1 << 16;
constexpr std::size_t kFewInBucket = 12;

struct Range {
  double low;
  double high;
};

// Eight smallest and largest ones at a time; `count` is a multiple of eight.
MNEMON_CLONES void widen(const double* __restrict values, std::size_t count, double* __restrict low,
                         double* __restrict high) noexcept {
  for (std::size_t i = 0; i < count; i += 8)
    for (std::size_t k = 0; k < 8; ++k) {
      low[k] = values[i + k] < low[k] ? values[i + k] : low[k];
      high[k] = values[i + k] > high[k] ? values[i + k] : high[k];
    }
}

Range range_of(std::span<const double> values) noexcept {
  std::array<double, 8> low;
  std::array<double, 8> high;
  low.fill(values[0]);
  high.fill(values[0]);
  const std::size_t whole = values.size() / 8 * 8;
  widen(values.data(), whole, low.data(), high.data());
  Range range{*std::ranges::min_element(low), *std::ranges::max_element(high)};
  for (const double value : values.subspan(whole))
    range = {std::min(range.low, value), std::max(range.high, value)};
  return range;
}

MNEMON_CLONES void buckets_into(const double* __restrict values, std::size_t count, double low, double scale,
                                std::int32_t* __restrict bucket) noexcept {
  for (std::size_t i = 0; i < count; ++i) bucket[i] = static_cast<std::int32_t>((values[i] - low) * scale);
}

// Values spread over buckets: all of one bucket come before all of the next. Linear in their number.
struct Buckets {
  std::vector<std::int32_t> of;       // each value
  std::vector<std::uint32_t> starts;  // each bucket's first place among the values in order, and their number
};

// None where the values are few, all alike, or too far apart for numbers to tell how far.
// \param a_value  Buckets for each value: the more, the fewer share one.
std::optional<Buckets> spread_out(std::span<const double> values, std::size_t a_value) {
  if (values.size() <= kFew) return std::nullopt;
  const Range range = range_of(values);
  const std::size_t count = std::min(a_value * std::bit_ceil(values.size()), kMostBuckets);
  const double scale = static_cast<double>(count - 1) / (range.high - range.low);
  if (!std::isfinite(scale) || !std::isfinite(range.high - range.low)) return std::nullopt;
  Buckets buckets{std::vector<std::int32_t>(values.size()), std::vector<std::uint32_t>(count + 1)};
  buckets_into(values.data(), values.size(), range.low, scale, buckets.of.data());
  for (const std::int32_t bucket : buckets.of) ++buckets.starts[static_cast<std::size_t>(bucket) + 1];
  std::inclusive_scan(buckets.starts.begin(), buckets.starts.end(), buckets.starts.begin());
  return buckets;
}

// Puts places in order whose values' buckets already are; most of them are alone in theirs.
// \param ends  Of each bucket: the place behind its last value.
void order_within(std::span<const double> values, std::span<const std::uint32_t> ends,
                  std::span<std::uint32_t> order) {
  const auto is_less = [values](std::uint32_t a, std::uint32_t b) { return values[a] < values[b]; };
  std::uint32_t begin = 0;
  for (const std::uint32_t end : ends) {
    if (end - begin > kFewInBucket) std::sort(order.begin() + begin, order.begin() + end, is_less);
    begin = end;
  }
  for (std::size_t i = 1; i < order.size(); ++i) {
    const std::uint32_t place = order[i];
    std::size_t k = i;
    for (; k > 0 && is_less(place, order[k - 1]); --k) order[k] = order[k - 1];
    order[k] = place;
  }
}

// The values at some places of the order of all, each taken to be asked for by `at`, which rises.
std::vector<double> values_at(std::span<const double> values, std::span<const std::size_t> at) {
  std::vector<double> few(values.begin(), values.end());
  std::vector<std::size_t> before(at.size());  // of the values left out, those that come first
  if (const std::optional<Buckets> buckets = spread_out(values, 1)) {
    std::vector<char> is_wanted(buckets->starts.size() - 1);
    std::size_t left_out = 0;
    std::size_t known = 0;  // places whose buckets have been counted
    for (std::size_t i = 0; i < at.size(); ++i) {
      const auto end = std::ranges::upper_bound(buckets->starts, at[i]);
      const auto bucket = static_cast<std::size_t>(end - buckets->starts.begin()) - 1;
      if (!is_wanted[bucket]) {
        left_out += buckets->starts[bucket] - known;
        known = *end;
      }
      is_wanted[bucket] = 1;
      before[i] = left_out;
    }
    std::size_t count = 0;
    for (std::size_t i = 0; i < values.size(); ++i) {
      few[count] = values[i];
      count += is_wanted[static_cast<std::size_t>(buckets->of[i])] ? 1 : 0;
    }
    few.resize(count);
  }
  std::ranges::sort(few);
  std::vector<double> found;
  for (std::size_t i = 0; i < at.size(); ++i) found.push_back(few[at[i] - before[i]]);
  return found;
}

}  // namespace

Figure mean(std::span<const double> values) noexcept {
  return ratio(std::accumulate(values.begin(), values.end(), 0.0), static_cast<double>(values.size()));
}

std::vector<std::uint32_t> rising_order(std::span<const double> values) {
  std::vector<std::uint32_t> order(values.size());
  std::optional<Buckets> buckets = spread_out(values, 2);
  if (!buckets) {
    std::iota(order.begin(), order.end(), 0U);
    std::ranges::sort(order, {}, [values](std::uint32_t i) { return values[i]; });
    return order;
  }
  for (std::size_t i = 0; i < values.size(); ++i)
    order[buckets->starts[static_cast<std::size_t>(buckets->of[i])]++] = static_cast<std::uint32_t>(i);
  order_within(values, buckets->starts, order);  // what was the beginning of a bucket is its end by now
  return order;
}

Figure percentile(std::span<const double> values, double share) {
  return percentiles(values, std::span(&share, 1)).front();
}

std::vector<Figure> percentiles(std::span<const double> values, std::span<const double> shares) {
  if (values.empty()) return std::vector<Figure>(shares.size());
  const std::size_t last = values.size() - 1;
  std::vector<std::size_t> at;
  for (const double share : shares) {
    const auto below = static_cast<std::size_t>(share * static_cast<double>(last));
    at.push_back(below);
    at.push_back(std::min(below + 1, last));
  }
  std::ranges::sort(at);
  const std::vector<double> found = values_at(values, at);
  const auto value_at = [&](std::size_t place) {
    return found[static_cast<std::size_t>(std::ranges::lower_bound(at, place) - at.begin())];
  };
  std::vector<Figure> figures;
  for (const double share : shares) {
    const double place = share * static_cast<double>(last);
    const auto below = static_cast<std::size_t>(place);
    const double low = value_at(below);
    const double high = value_at(std::min(below + 1, last));
    const double above_share = place - std::floor(place);
    const bool is_between = above_share > 0 && low != high;  // infinities may be alike
    figures.emplace_back(is_between ? low + above_share * (high - low) : low);
  }
  return figures;
}

Figure median(std::span<const double> values) { return percentile(values, 0.5); }

KnownMean mean_of_known(std::span<const Figure> figures) {
  std::vector<double> known;
  for (const Figure& figure : figures)
    if (figure) known.push_back(*figure);
  return {mean(known), static_cast<int>(known.size())};
}

}  // namespace mnemon
