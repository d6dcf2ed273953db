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
  std::vector<double> ordered(values.begin(), values.end());
  std::vector<double> scratch(values.size());
  // Only the values at these places, and those that follow them, need be where they belong.
  const auto is_wanted = [&](std::size_t begin, std::size_t end) {
    return std::ranges::any_of(shares, [=](double share) {
      const auto place = static_cast<std::size_t>(share * last);
      return place + 1 >= begin && place < end;
    });
  };
  detail::spread_into_order(std::span(ordered), std::span(scratch), 0, 0, std::identity(), is_wanted);
  std::vector<Figure> found;
  for (const double share : shares) {
    const double place = share * last;
    const auto below = static_cast<std::size_t>(place);
    const double above_share = place - std::floor(place);
    const bool is_between =
        above_share != 0 && ordered[below] != ordered[below + 1];  // infinities may be alike
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
