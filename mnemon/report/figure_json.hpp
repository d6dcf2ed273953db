// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/base/json.hpp>
#include <mnemon/report/figure/figure_list.hpp>

namespace mnemon {

/// A figure with all its values, as page and JSON have it; NaN becomes null.
[[nodiscard]] Json figure_to_json(const ReportFigure& figure);

/// An object a question, with `question` and `figures`.
[[nodiscard]] Json answers_json(const std::vector<Answered>& answers);

/// A loss or an absence.
[[nodiscard]] Json trouble_json(const StudySequence& sequence, const TroubleRow& row);

}  // namespace mnemon
