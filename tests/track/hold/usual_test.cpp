// SPDX-License-Identifier: MIT
#include <mnemon/track/hold/usual.hpp>

#include <cmath>

#include <gtest/gtest.h>

namespace mnemon {

TEST(Usual, IsTheMeanOfTheFirstFew) {
  Usual usual;
  for (int i = 1; i <= 20; ++i) {
    usual.take(i);
    EXPECT_NEAR(usual.value(), 0.5 * (1 + i), 1e-12) << i;
  }
}

TEST(Usual, GoesByTheLastTwentyLater) {
  Usual usual;
  for (int i = 0; i < 1000; ++i) usual.take(1);
  for (int i = 0; i < 20; ++i) usual.take(0);
  EXPECT_NEAR(usual.value(), std::pow(1 - Usual::kRate, 20), 1e-12);
}

TEST(Usual, CountsAFirstGuessForAsMuchAsItSays) {
  Usual sure(1, 9);
  sure.take(0);
  EXPECT_NEAR(sure.value(), 0.9, 1e-12);
  Usual guess(1);
  guess.take(0);
  EXPECT_EQ(guess.value(), 0);
}

}  // namespace mnemon
