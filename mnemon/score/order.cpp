// SPDX-License-Identifier: MIT
#include <mnemon/score/order.hpp>

#include <algorithm>
#include <cmath>
#include <functional>
#include <numeric>

#include <mnemon/score/spread.hpp>

namespace mnemon {

Figure mean(std::span<const double> values) noexcept {
  return ratio(std::accumulate(values.begin(), values.end(), 0.0), static_cast<double>(values.size()));
}

Figure percentile(std::span<const double> values, double share) {
  return percentiles(values, std::span(&share, 1)).front();
}

std::vector<Figure> percentiles(std::span<const double> values, std::span<const double> shares) {
  if (values.empty()) return std::vector<Figure>(shares.size());
  const double last = static_cast<double>(values.size() - 1);
  detail::Spread<double> spread = detail::spread_out(values, std::identity());
  const std::vector<double>& ordered = spread.values;  // where it has been asked for
  std::vector<Figure> found;
  for (const double share : shares) {
    const double place = share * last;
    const auto below = static_cast<std::size_t>(place);
    const double above_share = place - std::floor(place);
    detail::order_around(spread, below, std::identity());
    if (above_share == 0) {
      found.emplace_back(ordered[below]);
      continue;
    }
    detail::order_around(spread, below + 1, std::identity());
    const bool is_between = ordered[below] != ordered[below + 1];  // infinities may be alike
    found.emplace_back(is_between ? ordered[below] + above_share * (ordered[below + 1] - ordered[below])
                                  : ordered[below]);
  }
  return found;
}

Figure median(std::span<const double> values) { return percentile(values, 0.5); }

KnownMean mean_of_known(std::span<const Figure> figures) {
  std::vector<double> known;
  for (const Figure& figure : figures)
    if (figure) known.push_back(*figure);
  return {mean(known), static_cast<int>(known.size())};
}

}  // namespace mnemon
