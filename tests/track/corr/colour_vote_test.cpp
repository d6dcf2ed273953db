// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/colour_vote.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/signal/peak.hpp>

#include "track/corr/green_ellipse.hpp"

namespace mnemon {
namespace {

constexpr int kCells = 32;
constexpr Cell kWindowMiddle{kCells / 2, kCells / 2};

// A window of 128 px over a green ellipse of 40 x 32, and what its colours say.
class GreenVote : public ::testing::Test {
 protected:
  void SetUp() override {
    features_.take(picture_.view(), {16, 16, 128, 128});
    vote_.learn(features_.colours(), 1);
    vote_.look(features_.colours());
  }
  // What is added to a response of nothing.
  [[nodiscard]] Image<float> added(double weight, double usual_height) const {
    Image<float> response(kCells, kCells);
    vote_.add_to(response.view(), weight, usual_height);
    return response;
  }

  Image<Byte> picture_ = test::green_ellipse(160, 20, 16);
  CellFeatures features_{kCells, kCells, 128, 128};
  ColourVote vote_{kCells, kCells, {40 / 128.0, 32 / 128.0}};
};

}  // namespace

TEST_F(GreenVote, CountsNothingBeforeAnythingIsUsual) {
  EXPECT_EQ(std::ranges::max(added(1, 5).elements()), 0);
}

// Green on grey tells a target as well as can be, so that on it the vote is worth `weight` usual peaks.
TEST_F(GreenVote, IsWorthItsShareOfAUsualPeakOnTheTarget) {
  vote_.accept();
  const Image<float> votes = added(0.5, 3);
  EXPECT_NEAR(votes(kWindowMiddle.row, kWindowMiddle.col), 1.5, 1e-5);
  EXPECT_NEAR(highest_cell(votes.view()).row, kWindowMiddle.row, 1);
  EXPECT_NEAR(highest_cell(votes.view()).col, kWindowMiddle.col, 1);
  EXPECT_GE(std::ranges::min(votes.elements()), 0);
}

TEST_F(GreenVote, MovesWithTheTarget) {
  vote_.accept();
  features_.take(picture_.view(),
                 {4, 24, 128, 128});  // the target is now 3 cells right of the middle, 2 above
  vote_.look(features_.colours());
  const Cell peak = highest_cell(added(1, 1).view());
  EXPECT_NEAR(peak.col, kWindowMiddle.col + 3, 1);
  EXPECT_NEAR(peak.row, kWindowMiddle.row - 2, 1);
}

TEST_F(GreenVote, SaysWhichCellsAreTheTargets) {
  EXPECT_GT(vote_.likelihood()(kWindowMiddle.row, kWindowMiddle.col), 0.9f);
  EXPECT_LT(vote_.likelihood()(1, 1), 0.1f);
}

}  // namespace mnemon
