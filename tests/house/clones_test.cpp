// SPDX-License-Identifier: MIT
#include <algorithm>

#include <gtest/gtest.h>

#include "support/program.hpp"

namespace mnemon::test {

TEST(Clones, GiveTheSameBitsAsPlainCode) {
  const Outcome with = run_program({MNEMON_KERNELS});
  const Outcome without = run_program({MNEMON_PLAIN_KERNELS});
  EXPECT_EQ(with.status, 0);
  EXPECT_EQ(without.status, 0);
  EXPECT_GT(with.out.size(), 500U);
  EXPECT_EQ(with.out, without.out);
}

TEST(Clones, GiveTheSameTracesOfEveryTrackerOnEveryScene) {
  const Outcome with = run_program({MNEMON_TRACES});
  const Outcome without = run_program({MNEMON_PLAIN_TRACES});
  EXPECT_EQ(with.status, 0);
  EXPECT_EQ(without.status, 0);
  EXPECT_GT(std::ranges::count(with.out, '\n'), 150);
  EXPECT_EQ(with.out, without.out);
}

}  // namespace mnemon::test
