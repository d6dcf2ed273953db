// SPDX-License-Identifier: MIT
#include <mnemon/score/differences.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

constexpr double kCovered = 0.95;
constexpr double kInfinite = std::numeric_limits<double>::infinity();

double mean_of(std::span<const double> values) {
  double sum = 0;
  for (const double value : values) sum += value;
  return sum / static_cast<double>(values.size());
}

std::vector<double> centred(const std::vector<double>& values) {
  const double mean = mean_of(values);
  std::vector<double> rest;
  for (const double value : values) rest.push_back(value - mean);
  return rest;
}

// The squares of a pair's centred differences, summed up.
double spread_of(const std::vector<double>& first, const std::vector<double>& second) {
  double sum = 0;
  for (std::size_t i = 0; i < first.size(); ++i) sum += (first[i] - second[i]) * (first[i] - second[i]);
  return sum;
}

// |t| of a sample of n that has this mean, and whose squares sum up to `squares`.
double t_of(double mean, double squares, double n) {
  const double rest = squares - n * mean * mean;
  // Of sums of squares that cancel: a sample without spread has this much left.
  constexpr double kRounding = 1e-12;
  if (!(rest > kRounding * squares)) return kInfinite;
  return std::abs(mean) * std::sqrt(n * (n - 1) / rest);
}

// The largest |t| over pairs, for each draw of signs. Signs leave a pair's squares as they are, so that a draw costs
// a sum a tracker and a root a pair.
std::vector<double> largest_ts(const std::vector<std::vector<double>>& rests,
                               const std::vector<Difference>& pairs, const std::vector<double>& squares,
                               SignDraws draws) {
  const std::size_t n = rests[0].size();
  Random random(draws.key);
  std::vector<double> signs(n);
  std::vector<double> means(rests.size());
  std::vector<double> largest(static_cast<std::size_t>(draws.draws));
  for (double& most : largest) {
    for (double& sign : signs) sign = random.bits() >> 63 != 0 ? 1.0 : -1.0;
    for (std::size_t a = 0; a < rests.size(); ++a) {
      double sum = 0;
      for (std::size_t i = 0; i < n; ++i) sum += signs[i] * rests[a][i];
      means[a] = sum / static_cast<double>(n);
    }
    for (std::size_t k = 0; k < pairs.size(); ++k)
      if (squares[k] > 0)
        most = std::max(
            most, t_of(means[pairs[k].first] - means[pairs[k].second], squares[k], static_cast<double>(n)));
  }
  return largest;
}

}  // namespace

std::vector<Difference> simultaneous_differences(std::span<const std::vector<double>> values,
                                                 SignDraws draws) {
  std::vector<Difference> pairs;
  if (values.empty() || values[0].size() < 2) return pairs;
  const auto n = static_cast<double>(values[0].size());
  std::vector<std::vector<double>> rests;
  for (const std::vector<double>& row : values) {
    MNEMON_ASSERT(row.size() == values[0].size());
    rests.push_back(centred(row));
  }
  std::vector<double> squares;
  for (int i = 0; i < static_cast<int>(values.size()); ++i)
    for (int k = i + 1; k < static_cast<int>(values.size()); ++k) {
      pairs.push_back({i, k, mean_of(values[i]) - mean_of(values[k]), {}});
      squares.push_back(spread_of(rests[i], rests[k]));
    }
  std::vector<double> largest = largest_ts(rests, pairs, squares, draws);
  const auto at =
      largest.begin() + static_cast<std::ptrdiff_t>(kCovered * static_cast<double>(largest.size() - 1));
  std::ranges::nth_element(largest, at);
  for (std::size_t k = 0; k < pairs.size(); ++k) {
    const double error = std::sqrt(squares[k] / (n - 1) / n);
    const double half = error > 0 ? *at * error : 0;  // trackers that differ alike everywhere
    pairs[k].interval = {pairs[k].mean - half, pairs[k].mean + half};
  }
  return pairs;
}

}  // namespace mnemon
