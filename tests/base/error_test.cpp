// SPDX-License-Identifier: MIT
#include <mnemon/base/error.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(DataError, NamesFileLineAndColumn) {
  EXPECT_STREQ(DataError({"a/plan.toml", 14, 3}, "is wrong").what(), "a/plan.toml:14:3: is wrong");
}

TEST(DataError, LeavesOutWhatIsNotKnown) {
  EXPECT_STREQ(DataError({"truth.csv", 2, 0}, "is wrong").what(), "truth.csv:2: is wrong");
  EXPECT_STREQ(DataError({"frame.png"}, "is wrong").what(), "frame.png: is wrong");
}

TEST(Errors, AreOneFamily) {
  EXPECT_THROW(throw CallError("x"), Error);
  EXPECT_THROW(throw DataError({"x"}, "y"), Error);
}

}  // namespace mnemon
