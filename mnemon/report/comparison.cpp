// SPDX-License-Identifier: MIT
#include <mnemon/report/comparison.hpp>

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace mnemon {
namespace {

// Success area, a row a tracker, a place a sequence; null where there is no whole run.
std::vector<std::vector<Figure>> success_areas(const Results& results, int protocol) {
  std::vector<std::vector<Figure>> areas;
  for (const int tracker : results.trackers(protocol))
    areas.push_back(results.values(tracker, protocol, "success_area"));
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

}  // namespace

std::vector<Standing> standings(const Results& results, int protocol) {
  const auto areas = success_areas(results, protocol);
  const std::vector<Figure> ranks = mean_ranks(areas, results.sequences().size());
  std::vector<Standing> all;
  for (std::size_t i = 0; i < areas.size(); ++i) {
    const int tracker = results.trackers(protocol)[i];
    const MeanOver over = mean_over(areas[i]);
    all.push_back({tracker, over.known, over.mean, over.interval,
                   results.mean_by_frames(tracker, protocol, "success_area"), ranks[i]});
  }
  return all;
}

std::vector<Comparison> comparisons(const Results& results, int protocol) {
  const auto areas = success_areas(results, protocol);
  std::vector<Comparison> all;
  std::vector<double> p_values;
  for (int i = 0; i < static_cast<int>(areas.size()); ++i)
    for (int k = i + 1; k < static_cast<int>(areas.size()); ++k) {
      Comparison comparison{results.trackers(protocol)[i],
                            results.trackers(protocol)[k],
                            paired_difference(areas[i], areas[k]),
                            {}};
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

ReportTable standing_table(const Results& results, int protocol) {
  ReportTable table;
  table.columns = {
      {"success area", "Mean over the sequences, each with the same weight."},
      {"95 % over sequences", "Percentiles of the means of 2000 resamples of the sequences."},
      {"by frames", "The mean weighted by each sequence's present frames."},
      {"mean rank",
       "Mean over the sequences of the place among the trackers, from 1 for the largest success area."}};
  for (const Standing& standing : standings(results, protocol))
    table.rows.push_back({results.study().trackers[standing.tracker].label,
                          fmt::format("mean of {}", standing.sequences),
                          {cell_text(standing.mean, 3), interval_text(standing.interval),
                           cell_text(standing.by_frames, 3), cell_text(standing.mean_rank, 2)},
                          "",
                          standing.tracker});
  return table;
}

std::string verdict(const Study& study, const Comparison& comparison) {
  const std::string& better = study.trackers[comparison.better].label;
  const std::string& worse = study.trackers[comparison.worse].label;
  const PairedDifference& difference = comparison.difference;
  const std::string figures =
      fmt::format("{} ({}) over {} sequences, p = {}", cell_text(difference.mean, 3),
                  interval_text(difference.interval), difference.sequences, cell_text(comparison.p, 4));
  if (!difference.is_told_apart())
    return fmt::format("the data do not separate {} and {}: they differ by {}", better, worse, figures);
  constexpr double kRare = 0.05;
  // A mean may be lifted by a few sequences.
  const bool is_open = comparison.p.value_or(1) >= kRare;
  return fmt::format("{} is better than {} by {}{}", better, worse, figures,
                     is_open ? ": the ranks leave it open" : "");
}

std::string comparison_text(const Results& results, int protocol) {
  if (results.trackers(protocol).size() < 2) return "";
  std::string text = table_text(standing_table(results, protocol));
  for (const Comparison& comparison : comparisons(results, protocol))
    text += verdict(results.study(), comparison) + "\n";
  return text;
}

}  // namespace mnemon
