// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/weighed_window.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "track/blob/bright_box.hpp"

namespace mnemon {
namespace {

using test::bright_window;
using test::kBrightGrid;

}  // namespace

TEST(WeighedWindow, TurnsPixelsIntoCellsAndBack) {
  const WeighedWindow window = bright_window({30, 20, 12, 10});
  const Box box{37.5, -3, 22, 9};
  const Box cells = window.in_cells(box);
  EXPECT_EQ(cells, (Box{(37.5 - kBrightGrid.left) / 2, (-3.0 - kBrightGrid.top) / 2, 11, 4.5}));
  EXPECT_EQ(window.in_pixels(cells), box);
}

TEST(WeighedWindow, SaysHowMuchABoxStandsOut) {
  const Box bright{30, 20, 12, 10};
  const WeighedWindow window = bright_window(bright);
  EXPECT_NEAR(window.mean_in(bright), test::kBright, 1e-6);
  EXPECT_NEAR(window.contrast_of(bright), test::kBright - test::kDull, 1e-5);
  EXPECT_NEAR(window.mean_in({24, 20, 12, 10}), 0.5 * (test::kBright + test::kDull), 1e-6);
  EXPECT_NEAR(window.contrast_of({5, 40, 12, 10}), 0, 1e-6);
}

// The window's first 8 rows lie above the picture.
TEST(WeighedWindow, IsNeutralBeyondThePicture) {
  const Box half_out{30, 2, 12, 12};
  const WeighedWindow window = bright_window(half_out, -16);
  EXPECT_EQ(window.weights()(7, 35), 0.3f);
  EXPECT_EQ(window.weights()(8, 35), static_cast<float>(test::kBright));
  EXPECT_NEAR(window.seen_area(half_out), 0.5 * 144, 1e-9);
  // What is seen of it stands for all: neutral cells in it count as nothing.
  const double seen = 0.5 * (test::kBright + 0.3);
  EXPECT_GT(window.contrast_of(half_out), seen - 0.3);
}

TEST(WeighedWindow, FindsTheBestPlaceWithinReach) {
  const WeighedWindow window = bright_window({34, 22, 12, 10});
  const Box at{30, 20, 12, 10};
  EXPECT_EQ(window.best_near(at, 8, 0.01, {}), (Box{34, 22, 12, 10}));
  const Box nearer = window.best_near(at, 2, 0.01, {});
  EXPECT_LE(std::hypot(nearer.x - at.x, nearer.y - at.y), 2);
  EXPECT_GT(nearer.x, at.x);
  // What is far counts less, here nothing at all.
  EXPECT_EQ(window.best_near(at, 8, 100, {}), at);
}

TEST(WeighedWindow, LooksElsewhereThanAtAnotherBox) {
  const Box bright{34, 22, 12, 10};
  const WeighedWindow window = bright_window(bright);
  const Box found = window.best_near({30, 20, 12, 10}, 12, 0.01, bright);
  EXPECT_TRUE(std::abs(centre(found).x - centre(bright).x) >= 6 ||
              std::abs(centre(found).y - centre(bright).y) >= 5);
}

// The box whose ellipse holds most above the neutral weight is a little larger than what is bright.
TEST(WeighedWindow, FitsABoxToWhatStandsOut) {
  const Box bright{30, 20, 16, 12};
  const WeighedWindow window = bright_window(bright);
  const double neutral = 0.5 * (test::kBright + test::kDull);
  const Box small = box_around(centre(bright), 12, 9);
  const Box fit = window.fitted(small, 2, neutral);
  EXPECT_GT(fit.w, 15);
  EXPECT_LT(fit.w, 16 * 1.3);
  EXPECT_GT(fit.h, 11);
  EXPECT_LT(fit.h, 12 * 1.3);
  EXPECT_EQ(centre(fit), centre(small));
  EXPECT_LE(window.fitted(small, 1.1, neutral).w, 1.1 * 12 + 1e-9);
}

TEST(WeighedWindow, MovesABoxOntoWhatStandsOut) {
  const Box bright{30, 20, 12, 10};
  const WeighedWindow window = bright_window(bright);
  const auto off = [&](const Box& box) {
    return std::hypot(centre(box).x - centre(bright).x, centre(box).y - centre(bright).y);
  };
  const Box from{33, 18, 12, 10};
  const Box moved = window.shifted(from);
  EXPECT_LT(off(moved), 0.5 * off(from));
  EXPECT_LT(off(window.shifted(moved)), off(moved));
  EXPECT_EQ(moved.w, 12);
}

}  // namespace mnemon
