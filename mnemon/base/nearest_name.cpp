// SPDX-License-Identifier: MIT
#include <mnemon/base/nearest_name.hpp>

#include <algorithm>
#include <array>
#include <vector>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace mnemon {
namespace {

std::size_t letters_apart(std::string_view a, std::string_view b) {
  std::vector<std::vector<std::size_t>> cost(a.size() + 1, std::vector<std::size_t>(b.size() + 1));
  for (std::size_t i = 0; i <= a.size(); ++i) cost[i][0] = i;
  for (std::size_t j = 0; j <= b.size(); ++j) cost[0][j] = j;
  for (std::size_t i = 1; i <= a.size(); ++i)
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t change = cost[i - 1][j - 1] + (a[i - 1] != b[j - 1] ? 1 : 0);
      cost[i][j] = std::min({change, cost[i - 1][j] + 1, cost[i][j - 1] + 1});
      const bool swapped = i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1];
      if (swapped) cost[i][j] = std::min(cost[i][j], cost[i - 2][j - 2] + 1);
    }
  return cost[a.size()][b.size()];
}

// Names of parameters, trackers and figures that files of earlier versions may hold, and those that stand for the
// same now.
constexpr std::array<std::array<std::string_view, 2>, 8> kRenamed{{{"mask-cut", "mask-plain"},
                                                                   {"template_px", "window_samples"},
                                                                   {"max_iterations", "max_shifts"},
                                                                   {"epsilon_px", "min_shift_px"},
                                                                   {"curve", "gamma"},
                                                                   {"curve_gamma", "gamma"},
                                                                   {"success_curve", "overlap_curve"},
                                                                   {"mean_overlap", "success_area"}}};

}  // namespace

std::string nearest_name(std::string_view word, std::span<const std::string> known) {
  std::string best;
  std::size_t least = std::max<std::size_t>(2, word.size() / 3) + 1;
  for (const std::string& name : known) {
    const std::size_t apart = letters_apart(word, name);
    if (apart < least) {
      least = apart;
      best = name;
    }
  }
  return best;
}

std::string newer_name(std::string_view word, std::span<const std::string> known) {
  for (const auto& [before, now] : kRenamed)
    if (word == before && std::ranges::find(known, now) != known.end()) return std::string(now);
  return "";
}

std::string name_hint(std::string_view word, std::span<const std::string> known) {
  if (const std::string now = newer_name(word, known); !now.empty())
    return fmt::format("; it is called '{}' now", now);
  const std::string nearest = nearest_name(word, known);
  if (!nearest.empty()) return fmt::format("; did you mean '{}'?", nearest);
  return fmt::format("; known are {}", fmt::join(known, ", "));
}

}  // namespace mnemon
