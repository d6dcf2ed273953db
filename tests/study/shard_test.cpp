// SPDX-License-Identifier: MIT
#include <mnemon/study/shard.hpp>

#include <algorithm>
#include <numeric>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
TEST(Shard, IsReadFromText) {
  EXPECT_EQ(parse_shard("3/16"), (Shard{3, 16}));
  EXPECT_EQ(shard_text(parse_shard("1/1")), "1/1");
  for (const char* wrong : {"", "3", "0/2", "3/2", "a/2", "1/2/3", "-1/2", "1/0"})
    EXPECT_THROW(static_cast<void>(parse_shard(wrong)), CallError) << wrong;
}

TEST(DealIntoShards, GivesTheDearestFirst) {
  // 9 to the first, 7 to the second, 6 to the second's 7 or the first's 9: the second; then 5 to the first.
  const std::vector<double> costs{5, 9, 6, 7};
  EXPECT_EQ(deal_into_shards(costs, 2), (std::vector<int>{1, 1, 2, 2}));
  EXPECT_TRUE(deal_into_shards({}, 3).empty());
}

TEST(DealIntoShards, IsNeverOffByMoreThanTheDearest) {
  std::vector<double> costs;
  for (int i = 0; i < 100; ++i) costs.push_back((i * 37) % 101);
  for (const int count : {1, 2, 7, 30}) {
    std::vector<double> loads(static_cast<std::size_t>(count));
    const std::vector<int> shards = deal_into_shards(costs, count);
    for (std::size_t i = 0; i < costs.size(); ++i)
      loads.at(static_cast<std::size_t>(shards[i] - 1)) += costs[i];
    EXPECT_EQ(std::accumulate(loads.begin(), loads.end(), 0.0),
              std::accumulate(costs.begin(), costs.end(), 0.0));
    EXPECT_LE(std::ranges::max(loads) - std::ranges::min(loads), 100) << count;
  }
}

}  // namespace mnemon
