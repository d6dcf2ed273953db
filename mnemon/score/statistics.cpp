// SPDX-License-Identifier: MIT
#include <mnemon/score/statistics.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/score/differences.hpp>

namespace mnemon {
namespace {

constexpr int kMostExactPairs = 25;

// A whole number below `count`, all alike: the high half of a product of 64 bits.
std::size_t draw_below(Random& random, std::size_t count) {
  return static_cast<std::size_t>((random.bits() >> 32) * count >> 32);
}

// Ranks from 1 for the smallest, doubled so that the mean rank of ties is a whole number.
std::vector<int> doubled_ranks(const std::vector<double>& sorted) {
  std::vector<int> ranks(sorted.size());
  for (std::size_t i = 0; i < sorted.size();) {
    std::size_t end = i + 1;
    while (end < sorted.size() && sorted[end] - sorted[end - 1] <= kThresholdSlack) ++end;
    for (std::size_t k = i; k < end; ++k) ranks[k] = static_cast<int>(i + 1 + end);
    i = end;
  }
  return ranks;
}

// The share of all ways to give signs whose sum of positive ranks is as far from the middle as `sum` or further.
double exact_p(const std::vector<int>& doubled, int sum) {
  const int total = std::accumulate(doubled.begin(), doubled.end(), 0);
  std::vector<double> ways(static_cast<std::size_t>(total) + 1, 0.0);
  ways[0] = 1;
  int reached = 0;
  for (const int rank : doubled) {
    reached += rank;
    for (int s = reached; s >= rank; --s) ways[s] += ways[s - rank];
  }
  double far = 0;
  for (int s = 0; s <= total; ++s)
    if (std::abs(2 * s - total) >= std::abs(2 * sum - total)) far += ways[s];
  return std::min(1.0, far * std::ldexp(1.0, -static_cast<int>(doubled.size())));
}

double normal_p(const std::vector<int>& doubled, int sum) {
  double squares = 0;  // the variance of the sum of positive ranks is a quarter of the sum of squared ranks
  double total = 0;
  for (const int rank : doubled) {
    squares += 0.25 * rank * rank;
    total += 0.5 * rank;
  }
  const double z = (0.5 * sum - total / 2) / std::sqrt(squares / 4);
  return std::erfc(std::abs(z) / std::sqrt(2.0));
}

}  // namespace

std::optional<Interval> mean_interval(std::span<const double> values, Bootstrap bootstrap) {
  const auto mean_of = [&](std::span<const std::size_t> drawn) {
    double sum = 0;
    for (const std::size_t i : drawn) sum += values[i];
    return sum / static_cast<double>(values.size());
  };
  return bootstrap_interval(values.size(), mean_of, bootstrap);
}

std::optional<Interval> bootstrap_interval(
    std::size_t sample, const std::function<double(std::span<const std::size_t>)>& figure_of,
    Bootstrap bootstrap) {
  if (sample < 2) return std::nullopt;
  Random random(bootstrap.key);
  std::vector<std::size_t> drawn(sample);
  std::vector<double> figures(static_cast<std::size_t>(bootstrap.resamples));
  for (double& figure : figures) {
    for (std::size_t& place : drawn) place = draw_below(random, sample);
    figure = figure_of(drawn);
  }
  return Interval{*percentile(figures, 0.025), *percentile(figures, 0.975)};
}

SignedRank signed_rank(std::span<const double> differences) {
  std::vector<double> kept;
  for (const double d : differences)
    if (std::abs(d) > kThresholdSlack) kept.push_back(d);
  std::ranges::sort(kept, {}, [](double d) { return std::abs(d); });
  std::vector<double> sizes;
  for (const double d : kept) sizes.push_back(std::abs(d));
  const std::vector<int> doubled = doubled_ranks(sizes);
  int sum = 0;
  for (std::size_t i = 0; i < kept.size(); ++i) sum += kept[i] > 0 ? doubled[i] : 0;
  SignedRank result{static_cast<int>(kept.size()), 0.5 * sum, {}};
  if (kept.empty()) return result;
  result.p = result.pairs <= kMostExactPairs ? exact_p(doubled, sum) : normal_p(doubled, sum);
  return result;
}

std::vector<double> holm_corrected(std::span<const double> p_values) {
  std::vector<std::size_t> order(p_values.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::ranges::stable_sort(order, {}, [&](std::size_t i) { return p_values[i]; });
  std::vector<double> corrected(p_values.size());
  double highest = 0;
  for (std::size_t i = 0; i < order.size(); ++i) {
    highest = std::max(highest, std::min(1.0, static_cast<double>(order.size() - i) * p_values[order[i]]));
    corrected[order[i]] = highest;
  }
  return corrected;
}

std::vector<double> ranks_from_largest(std::span<const double> values) {
  std::vector<std::size_t> order(values.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::ranges::stable_sort(order, {}, [&](std::size_t i) { return -values[i]; });
  std::vector<double> sorted;
  for (const std::size_t i : order) sorted.push_back(-values[i]);
  const std::vector<int> doubled = doubled_ranks(sorted);
  std::vector<double> ranks(values.size());
  for (std::size_t i = 0; i < order.size(); ++i) ranks[order[i]] = 0.5 * doubled[i];
  return ranks;
}

PairedDifference paired_difference(std::span<const Figure> first, std::span<const Figure> second) {
  MNEMON_ASSERT(first.size() == second.size());
  std::array<std::vector<double>, 2> known;
  std::vector<double> differences;
  for (std::size_t i = 0; i < first.size(); ++i)
    if (first[i] && second[i]) {
      known[0].push_back(*first[i]);
      known[1].push_back(*second[i]);
      differences.push_back(*first[i] - *second[i]);
    }
  PairedDifference result;
  result.sequences = static_cast<int>(differences.size());
  result.mean = mean(differences);
  for (const Difference& pair : simultaneous_differences(known))
    if (std::isfinite(pair.interval.low)) result.interval = pair.interval;
  result.test = signed_rank(differences);
  return result;
}

}  // namespace mnemon
