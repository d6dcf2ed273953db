// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/report/results.hpp>

namespace mnemon {

/// How much of a study a terminal is shown.
enum class Detail { means, sequences };

/// The tables of a study for a terminal: under its first protocol all of them, under each other the means; then sweeps
/// and stress. Ends with an empty line.
[[nodiscard]] std::string study_text(const Results& results, Detail detail);

}  // namespace mnemon
