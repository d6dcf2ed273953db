// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/visible_cells.hpp>

#include <gtest/gtest.h>

#include <mnemon/track/mask/mask_target.hpp>

#include "support/drawn_target.hpp"
#include "track/expectations.hpp"

namespace mnemon {
namespace {

using test::frame_of;
using test::kMiddle;
using test::picture_of;
using test::put_board;

// What a target drawn in the middle shows of itself behind a board.
class Visible : public ::testing::Test {
 protected:
  void SetUp() override {
    const Image<Byte> picture = picture_of({{kMiddle}}, 1);
    (void)target_.start(frame_of(picture, 0), Region(kBox), kBox, {});
    visible_ = VisibleCells(target_.appearance().rows(), target_.appearance().cols());
  }
  void look_behind_board(int from, int to) {
    Image<Byte> picture = picture_of({{kMiddle}}, 2);
    put_board(picture, from, to);
    TargetPatch patch;
    patch.look(frame_of(picture, 1), kMiddle.middle, 140, 120, 1, target_.colours());
    patch.mix();
    CellSamples seen(target_.appearance().rows(), target_.appearance().cols());
    seen.take(patch, target_.appearance(), kPose);
    visible_.tell(seen, target_.appearance(), 1);
  }
  [[nodiscard]] double share() const { return visible_.share(target_.appearance()); }
  [[nodiscard]] Box with_hidden(const Box& found) const {
    return visible_.with_hidden(found, target_.appearance(), kPose);
  }

  const Box kBox = test::box_around_drawn(kMiddle);
  const TargetPose kPose{kMiddle.middle, 1, 0, 0};

 private:
  MaskTarget target_;
  VisibleCells visible_;
};

}  // namespace

TEST_F(Visible, IsAllAtFirstAndWhereNothingIsBeforeIt) {
  EXPECT_EQ(share(), 1);
  look_behind_board(0, 0);
  EXPECT_GT(share(), 0.97);
  const Box small{100, 70, 10, 10};
  EXPECT_EQ(with_hidden(small).w, 10);
  EXPECT_EQ(with_hidden(small).h, 10);
}

TEST_F(Visible, IsTheShareThatNoBoardCovers) {
  look_behind_board(110, test::kCols);
  EXPECT_NEAR(share(), 0.5, 0.06);
  // A quarter of an ellipse's width, at its end, is a fifth of it.
  look_behind_board(126, test::kCols);
  EXPECT_NEAR(share(), 0.804, 0.06);
}

TEST_F(Visible, GivesAWholeBoxToHalfATarget) {
  look_behind_board(110, test::kCols);
  const Box half{kBox.x, kBox.y, kBox.w / 2, kBox.h};
  const Box whole = with_hidden(half);
  EXPECT_EQ(whole.x, kBox.x);
  EXPECT_NEAR(whole.x + whole.w, kBox.x + kBox.w, 4);
}

}  // namespace mnemon
