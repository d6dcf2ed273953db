// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/pose_meter.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

Image<Byte> noise(std::uint64_t key) {
  Image<Byte> picture(120, 160, 3);
  Random random(key);
  for (Byte& value : picture.elements()) value = static_cast<Byte>(random.uniform(0, 255));
  return picture;
}

constexpr PoseSearch::Pose kPose{{80, 60}, 1, 0};
const PoseSearch kSearch(40, 30, {2, 15}, 120, 120);

}  // namespace

TEST(PoseMeter, ChangesNothingWhereSizesAreKept) {
  PoseMeter meter;
  const Image<Byte> picture = noise(1);
  meter.learn(picture.view(), kPose, 1);
  EXPECT_EQ(meter.next(picture.view(), kPose).growth, 1);
  EXPECT_EQ(meter.beside(picture.view(), kPose).turn_deg, 0);
}

// The same as a search that is asked what a rest of its own says.
TEST(PoseMeter, MeasuresWhatIsDue) {
  PoseMeter meter(kSearch, 4);
  PoseSearch search = kSearch;
  PoseRest rest(4);
  meter.learn(noise(1).view(), kPose, 1);
  search.learn(noise(1).view(), kPose, 1);
  int measured = 0;
  for (std::uint64_t i = 2; i < 14; ++i) {
    const Image<Byte> picture = noise(i < 8 ? 1 : i);  // still at first
    if (i == 6) {
      meter.wake();
      rest.wake();
    }
    const PoseSearch::Asked asked = rest.next();
    const PoseSearch::Change expected = search.find(picture.view(), kPose, asked);
    rest.measured(asked, expected);
    measured += asked.size ? 1 : 0;
    const PoseSearch::Change got = meter.next(picture.view(), kPose);
    EXPECT_EQ(got.growth, expected.growth) << i;
    EXPECT_EQ(got.turn_deg, expected.turn_deg) << i;
  }
  EXPECT_GT(measured, 3);
  EXPECT_LT(measured, 12);
}

}  // namespace mnemon
