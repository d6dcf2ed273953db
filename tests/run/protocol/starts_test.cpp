// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/starts.hpp>

#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/run/protocol.hpp>

#include "run/protocol/truth_of.hpp"

namespace mnemon {
namespace {

using test::truth_of;

std::vector<int> frames_of(const std::vector<Start>& starts) {
  std::vector<int> frames;
  for (const Start& start : starts) frames.push_back(start.frame);
  return frames;
}

}  // namespace

TEST(Starts, AreSpreadOverTheFramesThatShowEnough) {
  // 25 good frames: the odd ones below 50.
  std::vector<double> visible(60, 0.4);
  for (int i = 1; i < 50; i += 2) visible[i] = 0.5;
  const auto starts = starts_of(make_protocol("starts"), truth_of(visible));
  std::vector<int> wanted;
  for (int i = 0; i < 10; ++i) wanted.push_back(2 * (i * 25 / 10) + 1);
  EXPECT_EQ(frames_of(starts), wanted);
  EXPECT_EQ(starts[3].box, (OrientedBox{{double(wanted[3]), 10, 20, 40}, 0}));
  EXPECT_EQ(std::get<Box>(starts[3].region()), (Box{double(wanted[3]), 10, 20, 40}));
}

TEST(Starts, AreFewerFramesThanAskedForWhereThereAreFew) {
  const auto starts = starts_of(make_protocol("starts"), truth_of({0, 1, 1, 0, 1}));
  EXPECT_EQ(frames_of(starts), (std::vector<int>{1, 1, 1, 1, 2, 2, 2, 4, 4, 4}));  // floor(3 i / 10)
  EXPECT_TRUE(starts_of(make_protocol("starts"), truth_of({0, 0})).empty());
  EXPECT_TRUE(starts_of(make_protocol("single"), truth_of({})).empty());
}

TEST(Starts, AreTurnedWhereTruthIs) {
  const OrientedBox turned{{30, 30, 20, 40}, 35};
  Truth truth;
  truth.rows.push_back({0, turned, true, 1, {}});
  for (const std::string& name : protocol_names())
    for (const Start& start : starts_of(make_protocol(name), truth)) {
      ASSERT_TRUE(std::holds_alternative<OrientedBox>(start.region())) << name;
      EXPECT_EQ(std::get<OrientedBox>(start.region()).angle_deg, 35) << name;
      EXPECT_TRUE(name == "nudges" || start.box == turned) << name;
    }
}

}  // namespace mnemon
