// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/report/results.hpp>

namespace mnemon {

/// How much of a study a terminal is shown.
enum class Detail { means, sequences };

/// Whether it is shown what can be said of every pair of trackers.
enum class Pairs { left_out, listed };

/// The tables of a study for a terminal: under its first protocol all of them, under each other the means; then sweeps
/// and stress, and at the end who is most accurate under the first protocol. Ends with an empty line.
[[nodiscard]] std::string study_text(const Results& results, Detail detail, Pairs pairs = Pairs::left_out);

}  // namespace mnemon
