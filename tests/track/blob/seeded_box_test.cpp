// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/seeded_box.hpp>

#include <gtest/gtest.h>

#include "support/near_box.hpp"

namespace mnemon {
namespace {

constexpr Box kMarked{10, 20, 40, 30};

}  // namespace

TEST(SeededBox, IsAsFittedWhereNothingIsKnown) {
  const SeededBox seeded;
  test::expect_near(seeded.fit_at({50, 60}, 40, 30), {30, 45, 40, 30});
  test::expect_near(seeded.over_fit({50, 60}, 40, 30), {30, 45, 40, 30});
  EXPECT_FALSE(seeded.goes_by_piece());
}

// Whatever was marked around what was fitted is given back, also at another place and size.
TEST(SeededBox, KeepsItsRelationToTheFit) {
  const Box fit{16, 22, 24, 20};
  const SeededBox seeded(kMarked, fit);
  test::expect_near(seeded.fit_at(centre(kMarked), kMarked.w, kMarked.h), fit);
  test::expect_near(seeded.over_fit(centre(fit), kMarked.w, kMarked.h), kMarked);
  const Box later{100, 50, 80, 60};  // twice as large
  const Box later_fit = seeded.fit_at(centre(later), later.w, later.h);
  test::expect_near(later_fit, {112, 54, 48, 40});
  test::expect_near(seeded.over_fit(centre(later_fit), later.w, later.h), later);
}

TEST(SeededBox, GoesByAPieceThatIsLikeTheBox) {
  SeededBox seeded(kMarked, kMarked);
  seeded.take_piece(kMarked, {12, 22, 36, 26});
  EXPECT_TRUE(seeded.goes_by_piece());
  test::expect_near(seeded.over_piece({12, 22, 36, 26}), kMarked);
  test::expect_near(seeded.over_piece({48, 88, 144, 104}), {40, 80, 160, 120});
  seeded.take_piece(kMarked, {12, 22, 10, 10});
  EXPECT_FALSE(seeded.goes_by_piece());
}

TEST(SeededBox, IsDrawnThreeTenthsOfTheWay) {
  test::expect_near(SeededBox::drawn({0, 0, 10, 10}, {10, 20, 20, 30}), {3, 6, 13, 16});
}

}  // namespace mnemon
