// SPDX-License-Identifier: MIT
#include <mnemon/report/comparison.hpp>

#include <algorithm>
#include <map>
#include <set>
#include <utility>

#include <fmt/format.h>

#include <mnemon/score/differences.hpp>
#include <mnemon/score/groups.hpp>
#include <mnemon/score/speed.hpp>

namespace mnemon {
namespace {

// Below which a difficulty that is rare is easily missing: docs/scores.md has the figures.
constexpr int kFewSequences = 20;

// Success area, a row a tracker by merit, a place a sequence; null where there is no whole run.
std::vector<std::vector<Figure>> success_areas(const Results& results, int protocol) {
  std::vector<std::vector<Figure>> areas;
  for (const int tracker : results.by_merit(protocol))
    areas.push_back(results.values(tracker, protocol, "success_area"));
  return areas;
}

// The trackers with a score, by merit, and their success areas on the sequences that all of them have.
struct Shared {
  std::vector<int> trackers;
  std::vector<std::vector<double>> areas;
  int sequences = 0;
};

Shared shared_areas(const Results& results, int protocol) {
  Shared shared;
  std::vector<std::vector<Figure>> known;
  for (const int tracker : results.by_merit(protocol)) {
    std::vector<Figure> areas = results.values(tracker, protocol, "success_area");
    if (std::ranges::none_of(areas, [](const Figure& area) { return area.has_value(); })) continue;
    shared.trackers.push_back(tracker);
    known.push_back(std::move(areas));
  }
  shared.areas.resize(known.size());
  for (std::size_t sequence = 0; sequence < results.sequences().size(); ++sequence) {
    if (!std::ranges::all_of(known, [&](const auto& areas) { return areas[sequence].has_value(); })) continue;
    for (std::size_t i = 0; i < known.size(); ++i) shared.areas[i].push_back(*known[i][sequence]);
    ++shared.sequences;
  }
  return shared;
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

// The letters of each tracker that has a score, by its place in the study.
std::map<int, std::string> groups_of(const Results& results, int protocol,
                                     const std::vector<Comparison>& pairs) {
  const std::vector<int> trackers = shared_areas(results, protocol).trackers;
  std::set<std::pair<int, int>> separated;
  for (const Comparison& pair : pairs)
    if (pair.is_separated()) separated.insert(std::minmax(pair.better, pair.worse));
  const std::vector<std::string> letters = group_letters(
      static_cast<int>(trackers.size()),
      [&](int one, int other) { return separated.contains(std::minmax(trackers[one], trackers[other])); });
  std::map<int, std::string> groups;
  for (std::size_t i = 0; i < trackers.size(); ++i) groups[trackers[i]] = letters[i];
  return groups;
}

// Steps a second over all timed steps; nothing where there are none, or where another program measured them.
Figure frames_per_s(const Results& results, int tracker, int protocol) {
  if (results.study().trackers[tracker].is_from_elsewhere()) return std::nullopt;
  return results.pooled_speed(tracker, protocol).frames_per_s;
}

std::string listed(const std::vector<std::string>& names) {
  std::string text;
  for (std::size_t i = 0; i < names.size(); ++i)
    text += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
  return text;
}

std::string speed_sentence(const Results& results, int protocol, const std::vector<int>& trackers) {
  Figure most;
  int fastest = -1;
  for (const int tracker : trackers) {
    const Figure speed = frames_per_s(results, tracker, protocol);
    if (!speed || (most && *speed <= *most)) continue;
    most = speed;
    fastest = tracker;
  }
  if (fastest < 0) return "";
  return trackers.size() == 1 ? fmt::format(" It does {:.0f} frames/s.", *most)
                              : fmt::format(" Of these {} is the fastest ({:.0f} frames/s).",
                                            results.study().trackers[fastest].label, *most);
}

}  // namespace

std::vector<Standing> standings(const Results& results, int protocol, const std::vector<Comparison>& pairs) {
  const auto areas = success_areas(results, protocol);
  const std::vector<Figure> ranks = mean_ranks(areas, results.sequences().size());
  std::map<int, std::string> groups = groups_of(results, protocol, pairs);
  std::vector<Standing> all;
  for (std::size_t i = 0; i < areas.size(); ++i) {
    const int tracker = results.by_merit(protocol)[i];
    const MeanOver over = mean_over(areas[i]);
    all.push_back({tracker, over.known, over.mean, over.interval, groups[tracker],
                   results.mean_by_frames(tracker, protocol, "success_area"), ranks[i]});
  }
  return all;
}

std::vector<Comparison> comparisons(const Results& results, int protocol) {
  const Shared shared = shared_areas(results, protocol);
  std::vector<Comparison> all;
  std::vector<double> p_values;
  for (const Difference& pair : simultaneous_differences(shared.areas)) {
    std::vector<double> differences;
    for (int i = 0; i < shared.sequences; ++i)
      differences.push_back(shared.areas[pair.first][i] - shared.areas[pair.second][i]);
    const SignedRank ranks = signed_rank(differences);
    Comparison one{shared.trackers[pair.first],
                   shared.trackers[pair.second],
                   shared.sequences,
                   pair.mean,
                   pair.interval,
                   ranks.p};
    if (pair.mean < 0) {
      std::swap(one.better, one.worse);
      one.difference = -pair.mean;
      one.interval = {-pair.interval.high, -pair.interval.low};
    }
    p_values.push_back(ranks.p.value_or(1));
    all.push_back(one);
  }
  const std::vector<double> corrected = holm_corrected(p_values);
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].p) all[i].p = corrected[i];
  return all;
}

ReportTable standing_table(const Results& results, int protocol, const std::vector<Comparison>& pairs) {
  ReportTable table;
  table.columns = {
      {"success area", "Mean over the sequences, each with the same weight."},
      {"group", "Trackers that share a letter are not separated by these sequences."},
      {"95 % over sequences", "Percentiles of the means of 2000 resamples of the sequences."},
      {"by frames", "The mean weighted by each sequence's present frames."},
      {"mean rank",
       "Mean over the sequences of the place among the trackers, from 1 for the largest success area."}};
  for (const Standing& standing : standings(results, protocol, pairs))
    table.rows.push_back({results.study().trackers[standing.tracker].label,
                          fmt::format("mean of {}", standing.sequences),
                          {cell_text(standing.mean, 3), standing.group.empty() ? "-" : standing.group,
                           interval_text(standing.interval), cell_text(standing.by_frames, 3),
                           cell_text(standing.mean_rank, 2)},
                          "",
                          standing.tracker});
  return table;
}

ReportTable merit_table(const Results& results, int protocol, const std::vector<Comparison>& pairs) {
  const ReportTable standing = standing_table(results, protocol, pairs);
  ReportTable table = summary_table(results, protocol);
  constexpr std::ptrdiff_t kStanding = 3;  // area, group and interval take the place of the area alone
  table.columns.erase(table.columns.begin());
  table.columns.insert(table.columns.begin(), standing.columns.begin(), standing.columns.begin() + kStanding);
  table.columns.push_back(standing.columns.back());
  for (const std::string& set : results.sets())
    table.columns.push_back({set, fmt::format("Mean success area over the sequences of the set {}.", set)});
  for (ReportTable::Row& row : table.rows) {
    const auto same = std::ranges::find(standing.rows, row.tracker_place, &ReportTable::Row::tracker_place);
    if (row.cells.empty()) continue;
    row.cells.erase(row.cells.begin());
    const bool is_known = same != standing.rows.end();
    for (std::ptrdiff_t i = 0; i < kStanding; ++i)
      row.cells.insert(row.cells.begin() + i, is_known ? same->cells[static_cast<std::size_t>(i)] : "-");
    row.cells.push_back(is_known ? same->cells.back() : "-");
    for (const std::string& set : results.sets())
      row.cells.push_back(cell_text(
          mean_over(results.values_in_set(row.tracker_place, protocol, "success_area", set)).mean, 3));
  }
  return table;
}

std::string verdict(const Study& study, const Comparison& comparison) {
  const std::string& better = study.trackers[comparison.better].label;
  const std::string& worse = study.trackers[comparison.worse].label;
  const std::string figures = fmt::format("{:.3f} ({}) over {} sequences", comparison.difference,
                                          interval_text(comparison.interval), comparison.sequences);
  return comparison.is_separated() ? fmt::format("{} is better than {} by {}", better, worse, figures)
                                   : fmt::format("{} and {} are not separated: {}", better, worse, figures);
}

std::string answer_text(const Results& results, int protocol, const std::vector<Comparison>& pairs) {
  const Study& study = results.study();
  std::vector<int> ranked;
  for (const int tracker : shared_areas(results, protocol).trackers)
    if (!study.trackers[tracker].is_floor()) ranked.push_back(tracker);
  if (ranked.empty()) return "";
  const int best = ranked.front();
  const KnownMean over = mean_of_known(results.values(best, protocol, "success_area"));
  std::vector<int> top{best};
  std::vector<std::string> others;
  for (const Comparison& pair : pairs) {
    if (pair.is_separated() || (pair.better != best && pair.worse != best)) continue;
    const int other = pair.better == best ? pair.worse : pair.better;
    if (study.trackers[other].is_floor()) continue;
    top.push_back(other);
    others.push_back(study.trackers[other].label);
  }
  std::string text =
      fmt::format("{} is the most accurate: success area {} over {} sequence{}", study.trackers[best].label,
                  cell_text(over.mean, 3), over.count, over.count == 1 ? "" : "s");
  if (!others.empty())
    text += fmt::format("; {} {} not separated from it", listed(others), others.size() == 1 ? "is" : "are");
  text += "." + speed_sentence(results, protocol, top);
  if (over.count < kFewSequences)
    text += fmt::format(
        " Of difficulties that {} not have, this says nothing.",
        over.count == 1 ? "this one sequence does" : fmt::format("these {} sequences do", over.count));
  return text;
}

}  // namespace mnemon
