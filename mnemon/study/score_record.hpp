// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/json.hpp>
#include <mnemon/score/run_score.hpp>

namespace mnemon {

/// Which way a figure is better.
enum class Better { higher, lower, neither };

/// A figure of a run that is a single number.
struct ScalarMeasure {
  std::string_view name;  ///< As JSON, study and exports call it.
  /// Its value in a score.
  Figure (*of)(const RunScore& score);
  Better better = Better::neither;  ///< Which way is better.
  bool is_count = false;            ///< A whole number.
  bool is_of_frames =
      false;  ///< Worked out over frames alone, so that it has a meaning within spans of them.
};

/// All of them, in the order in which they are shown. A figure that does not apply to a run's protocol is null.
[[nodiscard]] std::span<const ScalarMeasure> scalar_measures();

/// The measure of that name.
/// \throws CallError  where there is none, naming the nearest.
[[nodiscard]] const ScalarMeasure& scalar_measure(std::string_view name);

/// The value of each of scalar_measures, in their order; NaN for null. Half the room that the score itself takes.
[[nodiscard]] std::vector<double> packed_figures(const RunScore& score);

/// One of packed_figures.
/// \param figures  Empty where none is known.
/// \throws CallError  where there is no such measure.
[[nodiscard]] Figure packed_figure(std::span<const double> figures, std::string_view measure);

/// All of a run's scores, curves and lists included; what does not apply to its protocol is null.
[[nodiscard]] Json score_json(const RunScore& score);

/// A figure or null.
[[nodiscard]] Json figure_json(const Figure& figure);

}  // namespace mnemon
