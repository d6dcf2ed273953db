// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>

#include <mnemon/study/study.hpp>

namespace mnemon {

/// Writes a study as plain text into a new folder: `scores.csv` with a row a run, `curves.csv` with a row a
/// curve's point, and `traces/TRACKER/SEQUENCE.PROTOCOL.csv`, with the start's number before `.csv` where a protocol has
/// several. A plan can take such a folder of traces for a tracker.
/// \throws CallError  where the folder is there and not empty; DataError  where writing fails.
void export_study(const Study& study, const std::filesystem::path& folder);

/// A text that can be a file's name: letters, digits, `.`, `_` and `-` stay, all else becomes `-`.
[[nodiscard]] std::string file_name_of(const std::string& text);

}  // namespace mnemon
