// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/report/figures.hpp>
#include <mnemon/report/table.hpp>

namespace mnemon {

/// How one tracker does as a difficulty grows.
struct StressCurve {
  int tracker = 0;                          ///< Place in Study::trackers.
  std::vector<std::vector<Figure>> values;  ///< Success area, a row a level, a place a random number.
  std::vector<Figure> means;                ///< A level.
  /// The lowest level at which the mean is below one half, linearly between levels; null where there is none.
  Figure falls_at;
  /// 95 % over random numbers; infinite where it does not fall within the levels.
  std::optional<Interval> interval;
};

/// One [[stress]] of a plan.
struct StressResult {
  std::string scene;                ///< Whose knob was turned.
  std::string knob;                 ///< Which one.
  std::vector<double> levels;       ///< Rising.
  std::vector<int> randoms;         ///< The random numbers at each level.
  std::vector<StressCurve> curves;  ///< A tracker; variations of sweeps are left out.
};

[[nodiscard]] std::vector<StressResult> stress_results(const Study& study);

/// Mean success area against the level.
[[nodiscard]] ReportFigure stress_figure(const StressResult& result, const Study& study);

/// A row a tracker: the mean at each level, and where it falls below one half.
[[nodiscard]] ReportTable stress_table(const StressResult& result, const Study& study);

}  // namespace mnemon
