// SPDX-License-Identifier: MIT
#include <algorithm>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/mask/memory.hpp>
#include <mnemon/track/mask/plain.hpp>
#include <mnemon/track/mask/visible_cells.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::frame_of;

constexpr Ellipse kMiddle{{110, 80}, 32, 24, 0};

Image<Byte> picture_of(const Ellipse& ellipse, std::uint64_t key) {
  return test::drawn_picture(std::vector<test::DrawnTarget>{{ellipse}}, test::kRows, test::kCols, key);
}

// Puts a chequered board before all columns from one to another, in the upper rows.
void put_board(Image<Byte>& picture, int from, int to, int rows = test::kRows) {
  for (int r = 0; r < rows; ++r)
    for (int c = std::max(0, from); c < std::min(test::kCols, to); ++c)
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>(40 + 14 * k + ((r / 6 + c / 6) % 2 != 0 ? 30 : 0));
}

// What a target drawn in the middle shows of itself behind a board.
class Visible : public ::testing::Test {
 protected:
  void SetUp() override {
    const Image<Byte> picture = picture_of(kMiddle, 1);
    (void)target_.start(frame_of(picture, 0), Region(kBox), kBox, {});
    visible_ = VisibleCells(target_.appearance().rows(), target_.appearance().cols());
  }
  void look_behind_board(int from, int to) {
    Image<Byte> picture = picture_of(kMiddle, 2);
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

// A board slides over half of a target that stands still, stays there, and goes back. What is left of the target would
// have a box that overlaps with the right one by half.
template <class T>
void expect_to_keep_its_size(T& tracker) {
  for (int i = 0; i < 90; ++i) {
    Image<Byte> picture = picture_of(kMiddle, 300 + i);
    const int reached = std::clamp(std::min(2 * (i - 5), 2 * (70 - i)), 0, 32);
    put_board(picture, 143 - reached, test::kCols);
    const Box right = test::box_around_drawn(kMiddle);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    EXPECT_TRUE(estimate.present) << i;
    EXPECT_GT(overlap(estimate.box.box, right), i < 10 || i > 80 ? 0.85 : 0.8) << i;
    int on_board = 0;
    for (int r = 0; r < test::kRows; ++r)
      for (int c = 146 - reached; c < test::kCols; ++c) on_board += estimate.mask(r, c);
    EXPECT_LT(on_board, 60) << i;  // px, of up to 1200 that are hidden
  }
}

TEST(MaskPlain, KeepsItsSizeBehindABoard) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_keep_its_size(tracker);
}

TEST(MaskMemory, KeepsItsSizeBehindABoard) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_keep_its_size(tracker);
}

// A target goes, and after a while is there again elsewhere, half as large.
template <class T>
void expect_to_find_it_smaller(T& tracker) {
  const Ellipse large{{60, 60}, 32, 24, 0};
  const Ellipse small{{150, 95}, 16, 12, 0};
  for (int i = 0; i < 60; ++i) {
    std::vector<test::DrawnTarget> drawn;
    if (i < 15 || i >= 25) drawn.push_back({i < 15 ? large : small});
    const Image<Byte> picture = test::drawn_picture(drawn, test::kRows, test::kCols, 1100 + i);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(large));
    if (i < 25 || i > 40) {
      EXPECT_EQ(estimate.present, i < 15 || i > 40) << i;
    }
    if (i > 40) {
      EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(small)), 0.8) << i;
    }
  }
}

TEST(MaskPlain, FindsALostTargetInAnotherSize) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_find_it_smaller(tracker);
}

TEST(MaskMemory, FindsALostTargetInAnotherSize) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_find_it_smaller(tracker);
}

// A board hides more and more of a target whose like is in full view beneath it.
TEST(MaskMemory, StaysWithHalfATargetBesideItsLike) {
  constexpr Ellipse kOwn{{100, 70}, 18, 12, 0};
  constexpr Ellipse kLike{{106, 97}, 18, 12, 0};
  MaskMemory tracker(MaskMemoryParams{});
  for (int i = 0; i < 60; ++i) {
    Image<Byte> picture = test::drawn_picture(std::vector<test::DrawnTarget>{{kLike}, {kOwn}}, test::kRows,
                                              test::kCols, 500 + i);
    put_board(picture, 119 - std::clamp(i - 20, 0, 20), test::kCols, 84);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(kOwn));
    EXPECT_LT(overlap(estimate.box.box, test::box_around_drawn(kLike)), 0.2) << i;
    EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(kOwn)), 0.6) << i;
  }
}

}  // namespace
}  // namespace mnemon
