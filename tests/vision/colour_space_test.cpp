// SPDX-License-Identifier: MIT
#include <mnemon/vision/colour_space.hpp>

#include <vector>

#include <gtest/gtest.h>

#include "vision/index_of.hpp"

namespace mnemon {
TEST(ColourSpace, PutsEveryColourIntoABinOrNone) {
  for (const ColourParts parts :
       {ColourParts::hue, ColourParts::hue_saturation, ColourParts::lightness_chroma}) {
    const ColourSpace space(parts, 0.2f, 0.2f);
    int none = 0;
    for (int i = 0; i < kColours; ++i) {
      const int bin = space.bin_of(static_cast<ColourIndex>(i));
      EXPECT_TRUE(bin >= ColourSpace::kNone && bin < space.bins());
      none += bin == ColourSpace::kNone ? 1 : 0;
    }
    EXPECT_EQ(none > 0, parts != ColourParts::lightness_chroma);
    EXPECT_LE(space.bins(), ColourSpace::kMostBins);
  }
}

TEST(ColourSpace, LeavesDullAndDarkColoursWithoutAHue) {
  const ColourSpace space(ColourParts::hue, 0.3f, 0.3f);
  EXPECT_EQ(space.bin_of(test::index_of({120, 120, 120})), ColourSpace::kNone);
  EXPECT_EQ(space.bin_of(test::index_of({40, 8, 8})), ColourSpace::kNone);
  EXPECT_EQ(space.bin_of(test::index_of({250, 4, 4})), space.bin_of(test::index_of({150, 4, 4})));  // shaded
  EXPECT_NE(space.bin_of(test::index_of({250, 4, 4})), space.bin_of(test::index_of({4, 250, 4})));
}

TEST(ColourSpace, IsChosenByTheTarget) {
  std::vector<float> red(kColours), grey_ground(kColours), light(kColours), dark(kColours);
  red[test::index_of({220, 30, 30})] = 50;
  red[test::index_of({140, 20, 20})] = 50;
  grey_ground[test::index_of({120, 120, 120})] = 100;
  light[test::index_of({220, 220, 220})] = 100;
  dark[test::index_of({60, 60, 60})] = 100;
  EXPECT_EQ(choose_space(red, grey_ground).parts(), ColourParts::hue);
  EXPECT_EQ(choose_space(light, dark).parts(), ColourParts::lightness_chroma);
}

}  // namespace mnemon
