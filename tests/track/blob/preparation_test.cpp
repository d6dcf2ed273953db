// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/preparation.hpp>

#include <algorithm>
#include <cmath>
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/track/blob/motion.hpp>

#include "support/drawn_target.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

std::string refusal_of(const std::string& chain) {
  return test::message_of<CallError>([&] {
    BlobMotionParams params;
    params.chain = chain;
    const BlobMotion tracker(params);
  });
}

Image<Byte> plain(int rows, int cols, int level) {
  Image<Byte> picture(rows, cols, 3);
  std::ranges::fill(picture.elements(), static_cast<Byte>(level));
  return picture;
}

}  // namespace

TEST(Preparation, RefusesChainsThatMakeNoSense) {
  EXPECT_NE(refusal_of("blur grey").find("'grey' is the first step"), std::string::npos);
  EXPECT_NE(refusal_of("grey shadows").find("'shadows' needs a 'background'"), std::string::npos);
  EXPECT_NE(refusal_of("grey blur blur").find("there twice"), std::string::npos);
}

TEST(Preparation, MakesGreyAndCurves) {
  PreparationRules rules;
  rules.chain = "grey gamma";
  rules.gamma = 2;
  Preparation preparation;
  const Image<Byte> picture = plain(3, 4, 100);
  preparation.start(picture.view(), {0, 0, 1, 1}, rules);
  EXPECT_NEAR(preparation.result()(1, 1), Preparation::kFull * std::pow(100 / 255.0, 2), 1);
}

TEST(Preparation, DifferenceIsHalfAtItsLevel) {
  PreparationRules rules;
  rules.chain = "grey difference";
  rules.difference_level = 20;
  Preparation preparation;
  preparation.start(plain(2, 2, 100).view(), {0, 0, 1, 1}, rules);
  EXPECT_EQ(preparation.result()(0, 0), 0);
  EXPECT_NEAR(preparation.prepare(plain(2, 2, 120).view(), {})(0, 0), 0.5 * Preparation::kFull,
              0.01 * Preparation::kFull);
  EXPECT_EQ(preparation.prepare(plain(2, 2, 120).view(), {})(0, 0), 0);
}

TEST(Preparation, AveragesOverFrames) {
  PreparationRules rules;
  rules.chain = "grey average";
  rules.average_rate = 0.25;
  Preparation preparation;
  preparation.start(plain(2, 2, 80).view(), {0, 0, 1, 1}, rules);
  EXPECT_NEAR(preparation.prepare(plain(2, 2, 160).view(), {})(1, 1), 100 * Preparation::kLevel, 2);
  EXPECT_NEAR(preparation.prepare(plain(2, 2, 160).view(), {})(1, 1), 115 * Preparation::kLevel, 2);
}

TEST(Preparation, BlursAsPixelByPixel) {
  Random random(9);
  Image<Byte> picture(9, 13, 3);
  for (Byte& byte : picture.elements()) byte = static_cast<Byte>(random.bits() & 255);
  PreparationRules rules;
  rules.chain = "grey";
  Preparation grey;
  grey.start(picture.view(), {0, 0, 1, 1}, rules);
  rules.chain = "grey blur";
  for (const int radius : {1, 2, 3, 5, 12, 25}) {  // the widest reach far beyond the picture
    rules.blur_px = 2 * radius + 1;
    Preparation blurred;
    blurred.start(picture.view(), {0, 0, 1, 1}, rules);
    for (int r = 0; r < 9; ++r)
      for (int c = 0; c < 13; ++c) {
        double sum = 0;
        for (int i = -radius; i <= radius; ++i)
          for (int j = -radius; j <= radius; ++j)
            sum += grey.result()(std::clamp(r + i, 0, 8), std::clamp(c + j, 0, 12));
        const double mean = sum / (rules.blur_px * rules.blur_px);
        // Each pass rounds down, and so is the share of a width in 2^16.
        EXPECT_NEAR(blurred.result()(r, c), mean, 4 + 2e-3 * mean) << radius << ": " << r << ", " << c;
      }
  }
}

// Noise stays below the threshold, what is further off than k deviations does not, and a shadow is left out.
TEST(Preparation, TellsMotionFromNoiseAndShadows) {
  PreparationRules rules;
  rules.chain = "grey background shadows";
  rules.sigmas = 4;
  Random random(10);
  const auto noisy = [&](int level) {
    Image<Byte> picture = plain(20, 20, level);
    for (Byte& byte : picture.elements())
      byte = static_cast<Byte>(byte + static_cast<int>(random.uniform(-5, 5)));
    return picture;
  };
  Preparation preparation;
  preparation.start(noisy(120).view(), {0, 0, 1, 1}, rules);
  for (int i = 0; i < 60; ++i) preparation.prepare(noisy(120).view(), {});
  const auto matches = [&](const Image<Byte>& picture) {
    int count = 0;
    for (const auto value : preparation.prepare(picture.view(), {}).elements())
      count += 2 * value > Preparation::kFull ? 1 : 0;
    return count;
  };
  EXPECT_LE(matches(noisy(120)), 4);
  EXPECT_GE(matches(noisy(190)), 396);
  EXPECT_LE(matches(noisy(84)), 20);   // 0.7 of the background: a shadow
  EXPECT_GE(matches(noisy(40)), 380);  // 0.33 of it is not
}

}  // namespace mnemon
