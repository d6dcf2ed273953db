// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>

#include <mnemon/report/study_text.hpp>
#include <mnemon/study/runner.hpp>

namespace mnemon::app {

/// Runs a plan with a progress line, and says what nobody can give. \returns  What was run.
RunSummary run_with_progress(const Plan& plan, const Catalogue& catalogue,
                             const std::filesystem::path& folder, int jobs,
                             const std::optional<Shard>& shard = {});

/// Prints the tables of a study, and how many runs were made now and kept from before.
void print_study(const Study& study, const RunSummary& summary, Pairs pairs);

}  // namespace mnemon::app
