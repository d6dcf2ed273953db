// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/reliable.hpp>

#include <cstdint>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/scene/scene.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
// The kite's return after 20 frames behind a bank of cloud, over flights of several random numbers.
TEST(CorrReliable, ComesBackAfterHiding) {
  int flights = 0;
  int back = 0;
  int hidden = 0;
  int told = 0;
  for (const std::uint64_t random : {21, 22}) {
    const Scene scene(demo_scene("cloudbank"), {}, random);
    CorrReliable tracker{CorrReliableParams{}};
    int returned = -1;
    bool held = false;
    for (int i = 0; i < scene.params().frames; ++i) {
      const TruthRow& truth = scene.truth().rows[i];
      const Image<Byte> picture = scene.render(i);
      const Frame frame{picture.view(), i, i / 30.0};
      const Estimate estimate = i == 0 ? tracker.seed(frame, truth.box.box) : tracker.follow(frame);
      if (!truth.present) {
        ++hidden;
        told += estimate.present ? 0 : 1;
        returned = i + 1;
      } else if (returned > 0 && i < returned + 15) {
        held = held || (estimate.present && overlap(estimate.box.box, truth.box.box) > 0.5);
      }
    }
    ++flights;
    back += held ? 1 : 0;
  }
  EXPECT_EQ(back, flights);
  EXPECT_GE(told, 0.7 * hidden);
}

// Something else comes over the target and stays; whatever peak it makes, it is not what was lost.
TEST(CorrReliable, DoesNotTakeAnotherThingForTheLostTarget) {
  const Ellipse target{{80, 70}, 18, 14, 0};
  const Ellipse other{{84, 74}, 40, 34, 25};
  constexpr double kOtherHue = 2.5;
  CorrReliable tracker{CorrReliableParams{}};
  int claimed = 0;
  for (int i = 0; i < 60; ++i) {
    std::vector<test::DrawnTarget> drawn{{target}};
    if (i >= 20) drawn.push_back({other, kOtherHue});
    const Image<Byte> picture = test::drawn_picture(drawn, 140, 200, 100 + i);
    const Frame frame{picture.view(), i, 0};
    const Estimate estimate =
        i == 0 ? tracker.seed(frame, test::box_around_drawn(target)) : tracker.follow(frame);
    if (i < 20) {
      EXPECT_TRUE(estimate.present) << i;
    }
    claimed += i >= 22 && estimate.present ? 1 : 0;
  }
  EXPECT_EQ(claimed, 0);
}

// A target that is gone for ten frames comes back only if as much likeness is asked for as it can have.
TEST(CorrReliable, ComesBackByLikenessAlone) {
  const Ellipse target{{80, 70}, 18, 14, 0};
  const auto frames_held_after_return = [&](double refind_likeness) {
    CorrReliableParams params;
    params.refind_likeness = refind_likeness;
    CorrReliable tracker{params};
    int held = 0;
    for (int i = 0; i < 50; ++i) {
      std::vector<test::DrawnTarget> drawn;
      if (i < 20 || i >= 30) drawn.push_back({target});
      const Image<Byte> picture = test::drawn_picture(drawn, 140, 200, 100 + i);
      const Frame frame{picture.view(), i, 0};
      const Estimate estimate =
          i == 0 ? tracker.seed(frame, test::box_around_drawn(target)) : tracker.follow(frame);
      held += i >= 35 && estimate.present ? 1 : 0;
    }
    return held;
  };
  EXPECT_EQ(frames_held_after_return(CorrReliableParams{}.refind_likeness), 15);
  EXPECT_EQ(frames_held_after_return(1), 0);
}

}  // namespace mnemon
