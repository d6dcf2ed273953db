// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/report/results.hpp>

namespace mnemon {

/// Whether it is shown what can be said of every pair of trackers.
enum class Pairs { left_out, listed };

/// A study for a terminal of 100 columns: who is most accurate, the trackers by merit with their groups and a bar a
/// sequence, the best by difficulty, sweeps; then the means under each other protocol, stress, and why runs failed. Ends with
/// an empty line.
[[nodiscard]] std::string study_text(const Results& results, Pairs pairs = Pairs::left_out);

}  // namespace mnemon
