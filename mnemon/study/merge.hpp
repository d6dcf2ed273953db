// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

namespace mnemon {

/// What came of merging.
struct MergeSummary {
  int added = 0;     ///< Runs put into the study.
  int kept = 0;      ///< Runs that were in it already.
  int replaced = 0;  ///< Runs that took the place of one that had failed, or of another build.
  int planned = 0;   ///< Runs that the shards plan together.
  std::vector<std::string> missing_shards = {};  ///< `3/16` of each that is not there yet.
  std::vector<std::string> conflicts =
      {};  ///< Runs that two builds made, in words; and which of them the study has now.
};

/// Puts the shards of a study's folder, `shards/K-of-N.sqlite`, into its `study.sqlite`. It may be called again and again,
/// as shards come, in any order: the study is the same in the end. Of two runs of one tracker on one sequence the one
/// that did not fail stays, then the one of the build and processor that come first by name. What the shards plan is planned in the study.
/// \throws CallError  where there is no shard; DataError  where shards belong to different plans, or one is damaged.
MergeSummary merge_shards(const std::filesystem::path& folder);

}  // namespace mnemon
