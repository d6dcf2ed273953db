// SPDX-License-Identifier: MIT
#include <mnemon/report/comparison.hpp>

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace mnemon {
namespace {

// Success area, a row a tracker, a place a sequence; null where there is no whole run.
std::vector<std::vector<Figure>> success_areas(const Study& study) {
  std::vector<std::vector<Figure>> areas(study.trackers.size(), std::vector<Figure>(study.sequences.size()));
  for (const StudyRun& run : study.runs)
    if (run.failure.empty()) areas[run.tracker][run.sequence] = run.score.success_area;
  return areas;
}

std::vector<Figure> mean_ranks(const std::vector<std::vector<Figure>>& areas, std::size_t sequences) {
  std::vector<double> sums(areas.size(), 0.0);
  int shared = 0;
  for (std::size_t sequence = 0; sequence < sequences; ++sequence) {
    std::vector<double> values;
    for (const auto& row : areas)
      if (row[sequence]) values.push_back(*row[sequence]);
    if (values.size() < areas.size()) continue;
    ++shared;
    const std::vector<double> ranks = ranks_from_largest(values);
    for (std::size_t i = 0; i < sums.size(); ++i) sums[i] += ranks[i];
  }
  std::vector<Figure> means;
  for (const double sum : sums) means.push_back(ratio(sum, shared));
  return means;
}

std::string number(const Figure& figure, int decimals) {
  return figure ? fmt::format("{:.{}f}", *figure, decimals) : "-";
}

std::string span_text(const std::optional<Interval>& interval) {
  return interval ? fmt::format("{:.3f} to {:.3f}", interval->low, interval->high) : "-";
}

}  // namespace

std::vector<Standing> standings(const Study& study) {
  const auto areas = success_areas(study);
  const std::vector<Figure> ranks = mean_ranks(areas, study.sequences.size());
  std::vector<Standing> all;
  for (std::size_t i = 0; i < areas.size(); ++i) {
    std::vector<double> known;
    for (const Figure& area : areas[i])
      if (area) known.push_back(*area);
    all.push_back(
        {static_cast<int>(i), static_cast<int>(known.size()), mean(known), mean_interval(known), ranks[i]});
  }
  return all;
}

std::vector<Comparison> comparisons(const Study& study) {
  const auto areas = success_areas(study);
  std::vector<Comparison> all;
  std::vector<double> p_values;
  for (int i = 0; i < static_cast<int>(areas.size()); ++i)
    for (int k = i + 1; k < static_cast<int>(areas.size()); ++k) {
      Comparison comparison{i, k, paired_difference(areas[i], areas[k]), {}};
      if (comparison.difference.mean && *comparison.difference.mean < 0) {
        std::swap(comparison.better, comparison.worse);
        comparison.difference = paired_difference(areas[k], areas[i]);
      }
      p_values.push_back(comparison.difference.test.p.value_or(1));
      all.push_back(comparison);
    }
  const std::vector<double> corrected = holm_corrected(p_values);
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].difference.test.p) all[i].p = corrected[i];
  return all;
}

std::array<std::string, 3> cells_of(const Standing& standing) {
  return {number(standing.mean, 3), span_text(standing.interval), number(standing.mean_rank, 2)};
}

std::string verdict(const Study& study, const Comparison& comparison) {
  const std::string& better = study.trackers[comparison.better].label;
  const std::string& worse = study.trackers[comparison.worse].label;
  const PairedDifference& difference = comparison.difference;
  const std::string figures =
      fmt::format("{} ({}) over {} sequences, p = {}", number(difference.mean, 3),
                  span_text(difference.interval), difference.sequences, number(comparison.p, 4));
  if (!difference.is_told_apart())
    return fmt::format("the data do not separate {} and {}: they differ by {}", better, worse, figures);
  return fmt::format("{} is better than {} by {}", better, worse, figures);
}

std::string comparison_text(const Study& study) {
  if (study.trackers.size() < 2) return "";
  std::size_t width = std::string_view("tracker").size();
  for (const StudyTracker& tracker : study.trackers) width = std::max(width, tracker.label.size());
  std::string text = fmt::format("{:<{}}  success area  95 % over sequences  mean rank\n", "tracker", width);
  for (const Standing& standing : standings(study)) {
    const auto [mean, interval, rank] = cells_of(standing);
    text += fmt::format("{:<{}}  {:>12}  {:>19}  {:>9}\n", study.trackers[standing.tracker].label, width,
                        mean, interval, rank);
  }
  for (const Comparison& comparison : comparisons(study)) text += verdict(study, comparison) + "\n";
  return text;
}

}  // namespace mnemon
