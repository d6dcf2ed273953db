// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>

#include <mnemon/study/study.hpp>

namespace mnemon {

/// Writes a study as plain text into a new folder: `scores.csv` with a row a run, `curves.csv` with a row a
/// curve's point, `losses.csv` with a row a loss or absence, the traces of runs that did not fail as `traces/TRACKER/SEQUENCE.PROTOCOL.csv`, and `traces.csv`,
/// which says whose each of them is. A plan can take such a folder of traces for a tracker.
/// Runs are read a few at a time, and of those before only the single figures are kept.
/// \param study      The study's folder.
/// \param folder     What is written.
/// \param overwrite  Whether an earlier export may be replaced.
/// \returns  How many traces were written.
/// \throws CallError  where the folder is there and not empty; DataError  where reading or writing fails.
int export_study(const std::filesystem::path& study, const std::filesystem::path& folder,
                 bool overwrite = false);

/// What stands before the number of a repeat that is not the first, in the name of its trace.
inline constexpr std::string_view kRepeatMark = ".repeat";

/// The name of a run's trace: `SEQUENCE.PROTOCOL.csv`, with the start's number before `.csv` where the protocol has
/// several, and that of the repeat where it is not the first. Sequences are named as `file_name_of` has it.
[[nodiscard]] std::string trace_file_name(const std::string& sequence, const std::string& protocol, int start,
                                          int repeat);

}  // namespace mnemon
