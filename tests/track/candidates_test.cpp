// SPDX-License-Identifier: MIT
#include <mnemon/track/candidates.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(Candidates, KeepTheFirstFewOfAStep) {
  Candidates candidates;
  for (int i = 0; i < 7; ++i) candidates.add({{1.0 * i, 0, 5, 5}, 0.1 * i, 0, "taken"});
  ASSERT_EQ(candidates.all().size(), Candidates::kMost);
  for (std::size_t i = 0; i < Candidates::kMost; ++i) EXPECT_EQ(candidates.all()[i].box.x, i);
  candidates.start();
  EXPECT_TRUE(candidates.all().empty());
  candidates.add({{9, 0, 5, 5}, 0.5, 0, "unlike"});
  EXPECT_EQ(candidates.all()[0].outcome, "unlike");
}

}  // namespace mnemon
