// SPDX-License-Identifier: MIT
#include <mnemon/study/shard.hpp>

#include <algorithm>
#include <numeric>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>

namespace mnemon {
namespace {

constexpr int kMostShards = 100'000;

}  // namespace

Shard parse_shard(const std::string& text) {
  const auto parts = parts_of(text, '/');
  const int number = parts.size() == 2 ? parse_whole(parts[0]).value_or(0) : 0;
  const int count = parts.size() == 2 ? parse_whole(parts[1]).value_or(0) : 0;
  if (count < 1 || count > kMostShards || number < 1 || number > count)
    throw CallError(fmt::format("'{}' is no shard; write K/N, such as 3/16, with K from 1 to N", text));
  return {number, count};
}

std::string shard_text(const Shard& shard) { return fmt::format("{}/{}", shard.number, shard.count); }

std::filesystem::path shard_file(const std::filesystem::path& folder, const Shard& shard) {
  return folder / "shards" / fmt::format("{}-of-{}.sqlite", shard.number, shard.count);
}

std::vector<int> deal_into_shards(std::span<const double> costs, int count) {
  std::vector<std::size_t> order(costs.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::ranges::stable_sort(order, std::ranges::greater{}, [&](std::size_t i) { return costs[i]; });
  std::vector<double> loads(static_cast<std::size_t>(count), 0.0);
  std::vector<int> shards(costs.size(), 1);
  for (const std::size_t i : order) {
    const auto lightest = std::ranges::min_element(loads);  // the first of equal ones
    shards[i] = static_cast<int>(lightest - loads.begin()) + 1;
    *lightest += costs[i];
  }
  return shards;
}

}  // namespace mnemon
