// SPDX-License-Identifier: MIT
#include <mnemon/study/core_pin.hpp>

#include <gtest/gtest.h>

namespace mnemon {
TEST(CorePin, HoldsTheThreadToOneCoreForItsLife) {
  cpu_set_t before;
  ASSERT_EQ(sched_getaffinity(0, sizeof before, &before), 0);
  {
    const CorePin pin;
    cpu_set_t held;
    ASSERT_EQ(sched_getaffinity(0, sizeof held, &held), 0);
    EXPECT_EQ(CPU_COUNT(&held) == 1, pin.holds() || CPU_COUNT(&before) == 1);
  }
  cpu_set_t after;
  ASSERT_EQ(sched_getaffinity(0, sizeof after, &after), 0);
  EXPECT_TRUE(CPU_EQUAL(&before, &after));
}

}  // namespace mnemon
