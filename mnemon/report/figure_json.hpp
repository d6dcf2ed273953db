// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/base/json.hpp>
#include <mnemon/report/figures.hpp>
#include <mnemon/report/results.hpp>

namespace mnemon {

/// A figure with all its values, as page and JSON have it; NaN becomes null.
[[nodiscard]] Json figure_to_json(const ReportFigure& figure);

/// All of a study's figures but the overlaps frame by frame: an object a question, with `question` and `figures`.
[[nodiscard]] Json figures_by_question(const Results& results);

/// A loss or an absence.
[[nodiscard]] Json trouble_json(const StudySequence& sequence, const TroubleRow& row);

}  // namespace mnemon
