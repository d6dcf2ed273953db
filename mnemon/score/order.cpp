// SPDX-License-Identifier: MIT
#include <mnemon/score/order.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace mnemon {

Figure mean(std::span<const double> values) noexcept {
  return ratio(std::accumulate(values.begin(), values.end(), 0.0), static_cast<double>(values.size()));
}

Figure percentile(std::span<const double> values, double share) {
  if (values.empty()) return std::nullopt;
  std::vector<double> sorted(values.begin(), values.end());
  std::ranges::sort(sorted);
  const double place = share * static_cast<double>(sorted.size() - 1);
  const auto below = static_cast<std::size_t>(place);
  const double above_share = place - std::floor(place);
  if (above_share == 0 || sorted[below] == sorted[below + 1]) return sorted[below];  // infinities, too
  return sorted[below] + above_share * (sorted[below + 1] - sorted[below]);
}

Figure median(std::span<const double> values) { return percentile(values, 0.5); }

Figure ratio(double part, double whole) noexcept {
  if (whole == 0) return std::nullopt;
  return part / whole;
}

KnownMean mean_of_known(std::span<const Figure> figures) {
  std::vector<double> known;
  for (const Figure& figure : figures)
    if (figure) known.push_back(*figure);
  return {mean(known), static_cast<int>(known.size())};
}

}  // namespace mnemon
