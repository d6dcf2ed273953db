// SPDX-License-Identifier: MIT
#include <mnemon/vision/light_change.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

using Gains = std::array<double, 3>;

// A view of a textured scene, from a camera that has moved so far, with each channel multiplied, and with noise.
Image<Byte> seen(Point moved, const Gains& gains, std::uint64_t key) {
  Image<Byte> picture(180, 320, 3);
  Random random(key);
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 0; c < picture.cols(); ++c) {
      const double x = c + moved.x;
      const double y = r + moved.y;
      const double light = 110 + 40 * std::sin(0.11 * x + 0.05 * y) + 30 * std::sin(0.23 * y - 0.07 * x);
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>(std::clamp(
            gains[k] * (light + 12 * std::sin(0.03 * x + 2 * k)) + random.uniform(-3, 3), 0.0, 255.0));
    }
  return picture;
}

}  // namespace

TEST(LightChange, TellsTheGainOfEachChannel) {
  LightChange light(seen({0, 0}, {1, 1, 1}, 1).view());
  EXPECT_TRUE(light.is_none());
  light.follow(seen({0, 0}, {0.8, 0.9, 1.1}, 2).view());
  const Gains second{0.8 * 1.15, 0.9 * 0.85, 1.1 * 0.95};
  light.follow(seen({0, 0}, second, 3).view());
  ASSERT_FALSE(light.is_none());
  for (int k = 0; k < 3; ++k) EXPECT_NEAR(light.gains()[k], second[k], 0.01) << k;
  for (int k = 0; k < 3; ++k)
    for (const int level : {20, 90, 150}) EXPECT_NEAR(light.levels(k)[level], level / second[k], 2) << k;
}

TEST(LightChange, TakesItBackFromPixelsAndTables) {
  LightChange light(seen({0, 0}, {1, 1, 1}, 1).view());
  light.follow(seen({0, 0}, {0.6, 0.7, 0.8}, 2).view());
  std::vector<float> table(kColours);
  for (int i = 0; i < kColours; ++i) table[i] = static_cast<float>(i);
  std::vector<float> changed(kColours);
  light.bring_in(table.data(), changed.data());
  Random random(4);
  for (int i = 0; i < 500; ++i) {
    std::array<Byte, 3> rgb{};
    // The middle of a colour's range, where its pixels go together.
    for (Byte& level : rgb) level = static_cast<Byte>(random.bits() % 16 * 16 + 8);
    const ColourIndex now = colour_index(rgb.data());
    light.take_back(rgb.data(), 1);
    EXPECT_EQ(changed[now], table[colour_index(rgb.data())]);
  }
}

TEST(LightChange, IsNotToldWhereTheCameraMoves) {
  LightChange light(seen({0, 0}, {1, 1, 1}, 1).view());
  for (int i = 1; i < 60; ++i) {
    light.follow(seen({7.0 * i, 30 * std::sin(0.3 * i)}, {1, 1, 1}, 1 + i).view());
    EXPECT_TRUE(light.is_none()) << i;
  }
}

TEST(LightChange, AddsUpWhereItIsSlowAndTheCameraStill) {
  LightChange light(seen({0, 0}, {1, 1, 1}, 1).view());
  for (int i = 1; i < 80; ++i) {
    const Gains gains{std::pow(0.99, i), std::pow(0.992, i), std::pow(0.995, i)};
    light.follow(seen({0, 0}, gains, 1 + i).view());
    // Less is not told from noise.
    for (int k = 0; k < 3; ++k) EXPECT_NEAR(std::log(light.gains()[k] / gains[k]), 0, 0.05) << i << k;
  }
}

TEST(LightChange, IsLeftToLearningWhereItIsSlowAndTheCameraMoves) {
  LightChange light(seen({0, 0}, {1, 1, 1}, 1).view());
  for (int i = 1; i < 40; ++i) {
    const double gain = std::pow(0.99, i);
    light.follow(seen({5.0 * i, 20 * std::sin(0.3 * i)}, {gain, gain, gain}, 1 + i).view());
    EXPECT_TRUE(light.is_none()) << i;
  }
}

TEST(LightChange, GoesOnFromWhatWasLearntOfASlowOne) {
  LightChange light(seen({0, 0}, {1, 1, 1}, 1).view());
  double gain = 1;
  for (int i = 1; i < 60; ++i) {
    gain *= 0.98;
    light.follow(seen({0, 0}, {gain, gain, gain}, 1 + i).view());
    light.learnt(0.2);
  }
  // Of two hundredths a frame a fifth is learnt each time: four frames' worth remain.
  EXPECT_LT(light.gains()[0], 1);
  EXPECT_GT(light.gains()[0], 0.85);
}

TEST(LightChange, GoesAsItIsLearnt) {
  LightChange light(seen({0, 0}, {1, 1, 1}, 1).view());
  light.follow(seen({0, 0}, {0.64, 0.64, 0.64}, 2).view());
  light.learnt(0.5);
  for (int k = 0; k < 3; ++k) EXPECT_NEAR(light.gains()[k], 0.8, 0.01);
  for (int i = 0; i < 20; ++i) light.learnt(0.5);
  EXPECT_TRUE(light.is_none());
}

TEST(LightChange, IsNoneInTheDark) {
  const Gains dark{0.03, 0.03, 0.03};
  LightChange light(seen({0, 0}, dark, 1).view());
  light.follow(seen({0, 0}, {0.05, 0.05, 0.05}, 2).view());
  EXPECT_TRUE(light.is_none());
}

}  // namespace mnemon
