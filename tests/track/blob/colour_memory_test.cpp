// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/colour_memory.hpp>

#include <array>
#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/blob/colour.hpp>

namespace mnemon {
namespace {

constexpr std::array<Byte, 3> kOrange{230, 130, 20};
constexpr std::array<Byte, 3> kBlue{30, 60, 210};
constexpr std::array<Byte, 3> kGrass{90, 120, 70};

ColourIndex number(const std::array<Byte, 3>& rgb) { return colour_index(rgb.data()); }

// Remembers a seed that is orange and blue in halves.
ColourMemory memory_of_halves() {
  std::vector<float> seed(kColours);
  seed[number(kOrange)] = seed[number(kBlue)] = 50;
  ColourMemory memory;
  memory.start(ColourSpace(), seed);
  return memory;
}

void count(ColourMemory& memory, const std::array<Byte, 3>& rgb, int times) {
  for (int i = 0; i < times; ++i) memory.count(number(rgb));
}

TEST(ColourMemory, ComparesShares) {
  ColourMemory memory = memory_of_halves();
  EXPECT_EQ(memory.likeness(), 0);  // nothing was counted
  count(memory, kOrange, 7);
  count(memory, kBlue, 7);
  EXPECT_NEAR(memory.likeness(), 1, 1e-6);
  memory.forget();
  count(memory, kOrange, 9);
  EXPECT_NEAR(memory.likeness(), std::sqrt(0.5), 1e-6);
  memory.forget();
  count(memory, kGrass, 9);
  EXPECT_EQ(memory.likeness(), 0);
}

TEST(ColourMemory, FollowsWhatIsSeenButKeepsTheSeed) {
  ColourMemory memory = memory_of_halves();
  count(memory, kOrange, 3);
  memory.learn(1);
  EXPECT_NEAR(memory.likeness(), std::sqrt(std::sqrt(0.5)), 1e-6);  // 1 with what was seen lately
  memory.learn(0);
  memory.forget();
  count(memory, kBlue, 3);
  EXPECT_EQ(memory.likeness(), 0);
  memory.learn(0.5f);  // of orange half, of blue half
  EXPECT_NEAR(memory.likeness(), std::sqrt(std::sqrt(0.5) * std::sqrt(0.5)), 1e-6);
}

// Grass, and boxes that are of one colour on the left and of another on the right.
struct Painted {
  Box box;
  std::array<Byte, 3> left, right;
};

Image<Byte> painted(const std::vector<Painted>& things) {
  Image<Byte> picture(160, 220, 3);
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 0; c < picture.cols(); ++c) {
      std::array<Byte, 3> rgb = kGrass;
      for (const Painted& thing : things)
        if (c >= thing.box.x && c < thing.box.x + thing.box.w && r >= thing.box.y &&
            r < thing.box.y + thing.box.h)
          rgb = c < thing.box.x + thing.box.w / 2 ? thing.left : thing.right;
      for (int k = 0; k < 3; ++k) picture(r, c, k) = static_cast<Byte>(rgb[k] + (r * 7 + c * 5) % 4);
    }
  return picture;
}

// Something orange, of the target's size, flies through it.
TEST(BlobColour, StaysWithItsOwnColoursAsSomethingOfOneOfThemPasses) {
  BlobColour tracker(BlobColourParams{});
  Estimate estimate;
  Box right;
  for (int i = 0; i < 52; ++i) {
    right = {60.0 + i, 70, 24, 30};
    const Painted target{right, kOrange, kBlue};
    const Painted decoy{{190.0 - 3 * i, 72, 24, 30}, kOrange, kOrange};
    const Image<Byte> picture = painted(std::vector{decoy, target});
    const Frame frame{picture.view(), i, i / 30.0};
    estimate = i == 0 ? tracker.seed(frame, right) : tracker.follow(frame);
  }
  EXPECT_GT(overlap(estimate.box.box, right), 0.7);
  EXPECT_GT(estimate.confidence, BlobColourParams{}.learn_from);
}

TEST(BlobColour, IsLessSureOfSomethingThatHasHalfOfItsColours) {
  BlobColour tracker(BlobColourParams{});
  const Box box{90, 60, 24, 30};
  double sure = 0;
  for (int i = 0; i < 5; ++i) {
    const Image<Byte> picture = painted({{box, kOrange, kBlue}});
    const Frame frame{picture.view(), i, i / 30.0};
    sure = (i == 0 ? tracker.seed(frame, box) : tracker.follow(frame)).confidence;
  }
  EXPECT_GT(sure, 0.95);
  const Image<Byte> other = painted({{box, kOrange, kOrange}});
  // Too little to be taken for the target, were it lost.
  EXPECT_LT(tracker.follow({other.view(), 5, 5 / 30.0}).confidence, BlobColourParams{}.refind_from);
}

}  // namespace
}  // namespace mnemon
