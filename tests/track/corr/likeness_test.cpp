// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/likeness.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

constexpr Point kHalf{0.5, 0.5};  // the target takes half of the window's sides

Image<float> random_stack(std::uint64_t key, int channels = 8) {
  Image<float> stack(16, 20, channels);
  Random random(key);
  for (float& v : stack.elements()) v = static_cast<float>(random.uniform(-1, 1));
  return stack;
}

}  // namespace

TEST(Likeness, IsOneForTheSeedWhateverItsContrastAndBrightness) {
  const Image<float> seed = random_stack(1);
  Likeness likeness;
  likeness.start(seed.view(), kHalf);
  EXPECT_NEAR(likeness.of(seed.view()), 1, 1e-5);
  Image<float> lit = copy_of(seed.view());
  for (float& v : lit.elements()) v = 3 * v + 7;
  EXPECT_NEAR(likeness.of(lit.view()), 1, 1e-5);
}

TEST(Likeness, IsMinusOneForTheNegative) {
  const Image<float> seed = random_stack(1);
  Likeness likeness;
  likeness.start(seed.view(), kHalf);
  Image<float> negative = copy_of(seed.view());
  for (float& v : negative.elements()) v = -v;
  EXPECT_NEAR(likeness.of(negative.view()), -1, 1e-5);
}

// 8 x 10 cells of 8 channels: of two unrelated stacks the correlation is spread by about 1 / sqrt(640).
TEST(Likeness, IsAboutNothingForSomethingElse) {
  Likeness likeness;
  likeness.start(random_stack(1).view(), kHalf);
  for (std::uint64_t key = 2; key < 12; ++key)
    EXPECT_NEAR(likeness.of(random_stack(key).view()), 0, 6.0 / 25);
}

TEST(Likeness, LooksAtTheTargetAlone) {
  const Image<float> seed = random_stack(1);
  Likeness likeness;
  likeness.start(seed.view(), kHalf);
  Image<float> elsewhere = random_stack(2);
  for (int r = 4; r < 12; ++r)
    for (int c = 5; c < 15; ++c)
      for (int k = 0; k < 8; ++k) elsewhere(r, c, k) = seed(r, c, k);
  EXPECT_NEAR(likeness.of(elsewhere.view()), 1, 1e-5);
}

namespace {

// Five frames go from one look that is remembered to the next.
void hold_five(Likeness& likeness) {
  for (int i = 0; i < 5; ++i) likeness.held();
}

}  // namespace

TEST(Likeness, RemembersALaterLookBesideTheSeed) {
  const Image<float> seed = random_stack(1);
  Likeness likeness;
  likeness.start(seed.view(), kHalf);
  for (std::uint64_t key = 2; key < 30; ++key) {
    const Image<float> later = random_stack(key);
    EXPECT_LT(likeness.of(later.view()), 0.3);
    hold_five(likeness);
    likeness.learn(0.5, 0.4);
    EXPECT_NEAR(likeness.of(later.view()), 1, 1e-5);
    EXPECT_NEAR(likeness.of(seed.view()), 1, 1e-5) << "after " << key;
  }
  EXPECT_LT(likeness.of(random_stack(2).view()), 0.3) << "the oldest goes";
}

TEST(Likeness, RemembersNeitherWhatIsUnlikeNorEveryFrame) {
  const Image<float> later = random_stack(2);
  Likeness likeness;
  likeness.start(random_stack(1).view(), kHalf);
  const double before = likeness.of(later.view());
  hold_five(likeness);
  likeness.learn(0.39, 0.4);
  EXPECT_EQ(likeness.of(later.view()), before);
  likeness.learn(0.4, 0.4);
  EXPECT_NEAR(likeness.of(later.view()), 1, 1e-5);
  EXPECT_LT(likeness.of(random_stack(3).view()), 0.3);
  likeness.learn(0.9, 0.4);  // at once after the last one
  EXPECT_LT(likeness.of(random_stack(3).view()), 0.3);
}

TEST(Likeness, QualityIsAShareOfWhatIsUsual) {
  Likeness likeness;
  likeness.start(random_stack(1).view(), kHalf);
  EXPECT_EQ(likeness.quality(0.7), 0.7) << "the seed is wholly like itself";
  for (int i = 0; i < 400; ++i) likeness.learn(0.5, 2);
  EXPECT_NEAR(likeness.quality(0.5), 1, 1e-6);
}

TEST(Likeness, IsZeroForWhatIsPlain) {
  Image<float> plain(16, 20, 8);
  Likeness likeness;
  likeness.start(plain.view(), kHalf);
  EXPECT_EQ(likeness.of(plain.view()), 0);
  EXPECT_EQ(likeness.of(random_stack(3).view()), 0);
}

// A target smaller than a cell still has cells to compare.
TEST(Likeness, WorksForTheSmallestTarget) {
  const Image<float> seed = random_stack(1);
  Likeness likeness;
  likeness.start(seed.view(), {0.01, 0.01});
  EXPECT_NEAR(likeness.of(seed.view()), 1, 1e-5);
}

// As many copies of one channel say what it says alone.
TEST(Likeness, OfOneChannelIsThatOfItsCopies) {
  const auto copied = [](const Image<float>& one) {
    Image<float> many(one.rows(), one.cols(), 8);
    for (std::size_t i = 0; i < many.elements().size(); ++i) many.elements()[i] = one.elements()[i / 8];
    return many;
  };
  const Image<float> seed = random_stack(21, 1);
  Image<float> next = random_stack(22, 1);
  for (std::size_t i = 0; i < next.elements().size(); ++i) next.elements()[i] += seed.elements()[i];
  Likeness alone;
  Likeness together;
  alone.start(seed.view(), kHalf);
  together.start(copied(seed).view(), kHalf);
  const double likeness = alone.of(next.view());
  EXPECT_GT(likeness, 0.4);
  EXPECT_LT(likeness, 0.95);
  EXPECT_NEAR(likeness, together.of(copied(next).view()), 1e-5);  // 640 products in single precision
}

}  // namespace mnemon
