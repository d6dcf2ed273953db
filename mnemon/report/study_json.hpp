// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/report/results.hpp>

namespace mnemon {

/// All that the tables show and more, as JSON: every run with all its scores.
[[nodiscard]] Json study_json(const Results& results);

}  // namespace mnemon
