// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <nlohmann/json_fwd.hpp>

#include <mnemon/base/params.hpp>
#include <mnemon/score/run_score.hpp>

namespace mnemon {

/// JSON with its keys in the order they were put in.
using Json = nlohmann::ordered_json;

/// Which way a figure is better.
enum class Better { higher, lower, neither };

/// A figure of a run that is a single number.
struct ScalarMeasure {
  std::string_view name;  ///< As JSON, study and exports call it.
  Figure (*of)(const RunScore& score);
  Better better = Better::neither;
  bool is_count = false;  ///< A whole number.
  bool is_of_frames =
      false;  ///< Worked out over frames alone, so that it has a meaning within spans of them.
};

/// All of them, in the order in which they are shown. A figure that does not apply to a run's protocol is null.
[[nodiscard]] std::span<const ScalarMeasure> scalar_measures();

/// The measure of that name.
/// \throws CallError  where there is none, naming the nearest.
[[nodiscard]] const ScalarMeasure& scalar_measure(std::string_view name);

/// All of a run's scores, curves and lists included; what does not apply to its protocol is null.
[[nodiscard]] Json score_json(const RunScore& score);

/// Parameters as a JSON object.
[[nodiscard]] Json params_json(const ParamSet& params);

/// One of them.
[[nodiscard]] Json param_json(const ParamValue& value);

/// Parameters from the text of such an object; empty where it is none.
[[nodiscard]] ParamSet params_from_json(const std::string& text);

/// The text of JSON: on one line, or with `indent` blanks a level. What is no UTF-8 in it becomes U+FFFD.
[[nodiscard]] std::string json_text(const Json& json, int indent = -1);

/// A figure or null.
[[nodiscard]] Json figure_json(const Figure& figure);

}  // namespace mnemon
