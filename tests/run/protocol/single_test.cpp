// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/single.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(Single, BeginsOnceWhereTruthHasTheTargetFirst) {
  Truth truth;
  truth.rows.push_back({0, {}, false, 0, {}});
  truth.rows.push_back({1, {{10, 10, 20, 20}, 0}, true, 1, {}});
  truth.rows.push_back({2, {{12, 10, 20, 20}, 0}, true, 1, {}});
  const ProtocolEntry entry = single_protocol();
  const auto starts = entry.starts(completed({}, entry.schema), truth);
  ASSERT_EQ(starts.size(), 1U);
  EXPECT_EQ(starts[0].frame, 1);
  EXPECT_EQ(starts[0].box.box, (Box{10, 10, 20, 20}));
}

TEST(Single, IsTimedUnlessItIsToldNotToBe) {
  const ProtocolEntry entry = single_protocol();
  ParamSet params = completed({}, entry.schema);
  EXPECT_TRUE(entry.is_timed(params));
  params["timed"] = false;
  EXPECT_FALSE(entry.is_timed(params));
}

}  // namespace mnemon
