// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/colour_target.hpp>

#include <cmath>

#include <gtest/gtest.h>

#include "track/shift/drawing.hpp"

namespace mnemon {
namespace {

constexpr Ellipse kFirst{{90, 80}, 24, 18, 0};

// A target that was started on a drawing, and the picture of another one.
class DrawnColours : public ::testing::Test {
 protected:
  void SetUp() override {
    picture_ = test::drawn({kFirst}, 160, 240);
    target_.start(test::frame_of(picture_, 0), box_of(kFirst), box_of(kFirst).box, ShiftRules{});
  }
  void look(const test::Drawing& drawing, const Ellipse& at) {
    picture_ = test::drawn(drawing, 160, 240, 9);
    target_.look(test::frame_of(picture_, 1), at);
  }

  Image<Byte> picture_;
  ColourTarget target_;
};

}  // namespace

TEST_F(DrawnColours, AreShiftedTo) {
  Ellipse moved = kFirst;
  moved.middle = {101, 73};
  Ellipse ellipse = kFirst;
  look({moved}, ellipse);
  target_.shift(ellipse);
  EXPECT_NEAR(ellipse.middle.x, 101, 1.5);
  EXPECT_NEAR(ellipse.middle.y, 73, 1.5);
  ASSERT_GE(target_.path().size(), 2U);
  EXPECT_EQ(target_.path().front(), kFirst.middle);
  EXPECT_EQ(target_.path().back(), ellipse.middle);
}

TEST_F(DrawnColours, AreSureOnTheTargetAndUnsureBesideIt) {
  look({kFirst}, kFirst);
  EXPECT_GT(target_.confidence(kFirst), 0.7);
  Ellipse beside = kFirst;
  beside.middle = {130, 80};
  EXPECT_LT(target_.confidence(beside), 0.2);
}

TEST_F(DrawnColours, StandOutFromTheGround) {
  EXPECT_GT(target_.usual_contrast(), 0.5);
  EXPECT_GT(target_.level(), 0);
  EXPECT_LT(target_.level(), 1);
}

TEST_F(DrawnColours, AreFoundInTheWholePicture) {
  Ellipse away = kFirst;
  away.middle = {200, 40};
  look({away}, kFirst);
  target_.start_search();
  const Point found = target_.search(test::frame_of(picture_, 1), kFirst);
  EXPECT_LT(std::hypot(found.x - 200, found.y - 40), 20);
}

TEST(Grown, KeepsMiddleAndTurn) {
  const Ellipse larger = grown({{5, 6}, 10, 4, 30}, 1.5);
  EXPECT_EQ(larger.middle, (Point{5, 6}));
  EXPECT_EQ(larger.half_w, 15);
  EXPECT_EQ(larger.half_h, 6);
  EXPECT_EQ(larger.angle_deg, 30);
}

}  // namespace mnemon
