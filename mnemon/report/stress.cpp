// SPDX-License-Identifier: MIT
#include <mnemon/report/stress.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>
#include <utility>

#include <fmt/format.h>

#include <mnemon/report/palette.hpp>

namespace mnemon {
namespace {

constexpr double kHalf = 0.5;
constexpr double kNever = std::numeric_limits<double>::infinity();

// Infinite where no mean is below one half.
double falling_level(const std::vector<double>& levels, const std::vector<Figure>& means) {
  for (std::size_t i = 0; i < means.size(); ++i) {
    if (!means[i] || reaches(*means[i], kHalf)) continue;
    if (i == 0 || !means[i - 1]) return levels[i];
    const double share = (*means[i - 1] - kHalf) / (*means[i - 1] - *means[i]);
    return levels[i - 1] + share * (levels[i] - levels[i - 1]);
  }
  return kNever;
}

std::vector<Figure> level_means(const std::vector<std::vector<Figure>>& values,
                                std::span<const std::size_t> drawn) {
  std::vector<Figure> means;
  for (const std::vector<Figure>& level : values) {
    std::vector<Figure> taken;
    for (const std::size_t i : drawn) taken.push_back(level[i]);
    means.push_back(mean_of_known(taken).mean);
  }
  return means;
}

void finish(const std::vector<double>& levels, std::size_t randoms, StressCurve& curve) {
  std::vector<std::size_t> all(randoms);
  for (std::size_t i = 0; i < randoms; ++i) all[i] = i;
  curve.means = level_means(curve.values, all);
  const double level = falling_level(levels, curve.means);
  if (level < kNever) curve.falls_at = level;
  curve.interval = bootstrap_interval(randoms, [&](std::span<const std::size_t> drawn) {
    return falling_level(levels, level_means(curve.values, drawn));
  });
}

template <class T>
std::size_t place_of(const std::vector<T>& sorted, const T& value) {
  return static_cast<std::size_t>(std::ranges::lower_bound(sorted, value) - sorted.begin());
}

std::string level_text(double level, const std::vector<double>& levels) {
  if (level <= levels.front()) return "the first";
  return level < kNever ? fmt::format("{:.2f}", level) : fmt::format("beyond {:g}", levels.back());
}

}  // namespace

std::vector<StressResult> stress_results(const Study& study) {
  std::vector<StressResult> results;
  const auto result_of = [&](const StressPoint& point) -> StressResult* {
    for (StressResult& result : results)
      if (result.scene == point.scene && result.knob == point.knob) return &result;
    return nullptr;
  };
  for (const StudySequence& sequence : study.sequences) {
    if (!sequence.stress) continue;
    StressResult* result = result_of(*sequence.stress);
    if (result == nullptr)
      result = &results.emplace_back(StressResult{sequence.stress->scene, sequence.stress->knob, {}, {}, {}});
    result->levels.push_back(sequence.stress->level);
    result->randoms.push_back(sequence.stress->random);
  }
  for (StressResult& result : results) {
    std::ranges::sort(result.levels);
    result.levels.erase(std::unique(result.levels.begin(), result.levels.end()), result.levels.end());
    std::ranges::sort(result.randoms);
    result.randoms.erase(std::unique(result.randoms.begin(), result.randoms.end()), result.randoms.end());
    for (int i = 0; i < static_cast<int>(study.trackers.size()); ++i)
      if (study.trackers[i].sweep.empty() && !study.trackers[i].is_from_elsewhere())
        result.curves.push_back({i,
                                 std::vector<std::vector<Figure>>(result.levels.size(),
                                                                  std::vector<Figure>(result.randoms.size())),
                                 {},
                                 {},
                                 {}});
  }
  for (const StudyRun& run : study.runs) {
    const auto& point = study.sequences[run.sequence].stress;
    if (!point || !run.failure.empty()) continue;
    StressResult& result = *result_of(*point);
    const auto curve = std::ranges::find(result.curves, run.tracker, &StressCurve::tracker);
    if (curve == result.curves.end()) continue;
    curve->values[place_of(result.levels, point->level)][place_of(result.randoms, point->random)] =
        figure_of(run, "success_area");
  }
  for (StressResult& result : results)
    for (StressCurve& curve : result.curves) finish(result.levels, result.randoms.size(), curve);
  return results;
}

ReportFigure stress_figure(const StressResult& result, const Study& study) {
  ReportFigure figure{fmt::format("stress-{}-{}", result.scene, result.knob),
                      fmt::format("{}: success area as {} grows", result.scene, result.knob),
                      result.knob,
                      "mean success area",
                      {},
                      {},
                      false,
                      true};
  for (const StressCurve& curve : result.curves) {
    FigureSeries line{study.trackers[curve.tracker].label,
                      tracker_colour(curve.tracker),
                      result.levels,
                      {},
                      is_tracker_dashed(curve.tracker)};
    line.tracker = curve.tracker;
    for (const Figure& figure_of_level : curve.means)
      line.y.push_back(figure_of_level.value_or(std::numeric_limits<double>::quiet_NaN()));
    figure.lines.push_back(std::move(line));
  }
  return figure;
}

ReportTable stress_table(const StressResult& result, const Study& study) {
  ReportTable table;
  table.columns.push_back(
      {"below half at",
       fmt::format("The level of {} at which the mean success area falls below 0.5.", result.knob)});
  table.columns.push_back({"95 %", "Percentiles of 2000 resamples of the random numbers."});
  for (const double level : result.levels)
    table.columns.push_back({fmt::format("{:g}", level), fmt::format("Mean success area at {:g}.", level)});
  for (const StressCurve& curve : result.curves) {
    ReportTable::Row row{
        study.trackers[curve.tracker].label,
        fmt::format("{} {}", result.scene, result.knob),
        {level_text(curve.falls_at.value_or(kNever), result.levels),
         curve.interval ? fmt::format("{} to {}", level_text(curve.interval->low, result.levels),
                                      level_text(curve.interval->high, result.levels))
                        : "-"},
        "",
        curve.tracker};
    for (const Figure& value : curve.means) row.cells.push_back(cell_text(value, 3));
    table.rows.push_back(std::move(row));
  }
  return table;
}

}  // namespace mnemon
