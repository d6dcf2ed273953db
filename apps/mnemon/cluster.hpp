// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include <mnemon/study/slurm.hpp>

namespace mnemon::app {

/// Makes a plan's shards as a cluster's tasks until all are done, with a progress line; they are merged as they come.
/// \param folder   The study's.
/// \param words    A shard's call but for `--shard`.
/// \param request  What is asked of the cluster.
/// \throws Error  where a shard did not come to its end, however often it was begun.
void run_on_cluster(const std::filesystem::path& folder, const std::vector<std::string>& words,
                    const SlurmRequest& request);

}  // namespace mnemon::app
