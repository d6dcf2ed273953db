// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <nlohmann/json.hpp>

#include <mnemon/base/params.hpp>
#include <mnemon/score/run_score.hpp>

namespace mnemon {

/// JSON with its keys in the order they were put in.
using Json = nlohmann::ordered_json;

/// One figure of a run under its name.
struct ScalarScore {
  std::string measure;
  Figure value;
};

/// The figures of a run that are single numbers, under the names that JSON, study and exports use.
[[nodiscard]] std::vector<ScalarScore> scalar_scores(const RunScore& score);

/// All of a run's scores, curves and lists included; what does not apply to its protocol is null.
[[nodiscard]] Json score_json(const RunScore& score);

/// Parameters as a JSON object.
[[nodiscard]] Json params_json(const ParamSet& params);

/// A figure or null.
[[nodiscard]] Json figure_json(const Figure& figure);

}  // namespace mnemon
