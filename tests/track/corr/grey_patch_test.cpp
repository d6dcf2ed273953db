// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/grey_patch.hpp>

#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

Image<float> random_levels(std::uint64_t key) {
  Image<float> levels(32, 48);
  Random random(key);
  for (float& v : levels.elements()) v = static_cast<float>(random.uniform(0, 5));
  return levels;
}

}  // namespace

// What light and contrast change is taken out: a patch is the same for all of them.
TEST(GreyPatch, IsTheSameInAnyLightAndContrast) {
  GreyPatch patch(32, 48, 48, 32);
  const Image<float> levels = random_levels(1);
  const Image<float> once = copy_of(patch.prepare(levels.view()));
  Image<float> lit = copy_of(levels.view());
  for (float& v : lit.elements()) v = 2 * v + 3;
  const ImageView<const float> again = patch.prepare(lit.view());
  for (int r = 0; r < 32; ++r)
    for (int c = 0; c < 48; ++c) ASSERT_NEAR(again(r, c), once(r, c), 1e-5) << r << ' ' << c;
}

TEST(GreyPatch, FadesTowardsTheEdge) {
  GreyPatch patch(32, 48, 48, 32);
  const ImageView<const float> seen = patch.prepare(random_levels(2).view());
  const auto power_of = [&](int row) {
    double sum = 0;
    for (int c = 0; c < 48; ++c) sum += seen(row, c) * seen(row, c);
    return sum;
  };
  EXPECT_LT(power_of(0), 0.05 * power_of(16));
  EXPECT_LT(power_of(31), 0.05 * power_of(16));
}

TEST(GreyPatch, OfAPlainPictureIsNumbers) {
  GreyPatch patch(32, 48, 48, 32);
  const Image<Byte> plain(100, 100, 3);
  for (const float v : copy_of(patch.take(plain.view(), {{10, 10, 48, 32}, 0})).elements())
    EXPECT_TRUE(std::isfinite(v));
}

}  // namespace mnemon
