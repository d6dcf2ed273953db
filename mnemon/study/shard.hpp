// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <span>
#include <string>
#include <vector>

namespace mnemon {

/// A share of a plan's runs, made apart from the others: the `number`-th of `count`, from 1.
struct Shard {
  int number = 1;  ///< From 1.
  int count = 1;   ///< How many there are.
  bool operator==(const Shard&) const = default;
};

/// A shard from `3/16`.
/// \throws CallError  where it is of another form, or its number is not from 1 to its count.
[[nodiscard]] Shard parse_shard(const std::string& text);

/// `3/16`.
[[nodiscard]] std::string shard_text(const Shard& shard);

/// The file of a shard in a study's folder: `shards/3-of-16.sqlite`.
[[nodiscard]] std::filesystem::path shard_file(const std::filesystem::path& folder, const Shard& shard);

/// Deals sequences out to shards so that they cost about the same: the dearest first, each to the shard that has the least so
/// far. A sequence is not cut, as all its runs share its frames.
/// \param costs  A sequence each, such as frames; at least 0.
/// \returns  The number of each one's shard, from 1. The same costs give the same shards everywhere.
[[nodiscard]] std::vector<int> deal_into_shards(std::span<const double> costs, int count);

}  // namespace mnemon
