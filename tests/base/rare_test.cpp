// SPDX-License-Identifier: MIT
#include <mnemon/base/rare.hpp>

#include <utility>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

TEST(Rare, IsNothingUntilItIsGivenAValue) {
  Rare<int> rare;
  EXPECT_FALSE(rare.has_value());
  rare = 3;
  ASSERT_TRUE(rare);
  EXPECT_EQ(*rare, 3);
  rare = std::optional<int>();
  EXPECT_FALSE(rare);
  EXPECT_LE(sizeof(rare), sizeof(void*));
}

TEST(Rare, CopiesItsValue) {
  const Rare<int> first = 3;
  Rare<int> second = first;
  EXPECT_NE(first.operator->(), second.operator->());
  EXPECT_EQ(first, second);
  second = 4;
  EXPECT_EQ(*first, 3);
  EXPECT_NE(first, second);
  EXPECT_NE(first, Rare<int>());
  EXPECT_EQ(Rare<int>(), Rare<int>());
  const Rare<int> third = std::move(second);
  EXPECT_EQ(*third, 4);
}

}  // namespace
}  // namespace mnemon
