// SPDX-License-Identifier: MIT
#include <mnemon/track/shown_frames.hpp>

#include <utility>
#include <variant>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

const Image<Byte> kWide(120, 200, 3);
const Frame kWideFrame{kWide.view(), 4, 0.4};

}  // namespace

TEST(ShownFrames, AreThePictureItselfWhereNothingIsAskedFor) {
  ShownFrames frames(Showing{});
  EXPECT_EQ(frames.shown(kWideFrame).rgb.data, kWide.view().data);
  EXPECT_TRUE(Showing{}.is_plain());
}

TEST(ShownFrames, AreScaledThereAndBack) {
  ShownFrames frames(Showing{100});
  const Frame shown = frames.shown(kWideFrame);
  EXPECT_EQ(shown.size(), (FrameSize{100, 60}));
  EXPECT_EQ(shown.index, 4);
  const Region region = frames.to_shown(Box{40, 20, 60, 50});
  EXPECT_EQ(std::get<Box>(region), (Box{20, 10, 30, 25}));
  EXPECT_EQ(frames.to_original(std::get<Box>(region)), (Box{40, 20, 60, 50}));
  EXPECT_EQ(frames.to_original(7.0), 14);
}

TEST(ShownFrames, GiveMasksBackPixelByPixel) {
  ShownFrames frames(Showing{100});
  (void)frames.shown(kWideFrame);
  Image<Byte> small(60, 100);
  small(10, 20) = 1;
  const ImageView<const Byte> mask = frames.to_original(std::as_const(small).view());
  ASSERT_EQ(mask.rows, 120);
  ASSERT_EQ(mask.cols, 200);
  int count = 0;
  for (int r = 0; r < 120; ++r)
    for (int c = 0; c < 200; ++c) count += mask(r, c);
  EXPECT_EQ(count, 4);
  EXPECT_EQ(mask(20, 40) + mask(20, 41) + mask(21, 40) + mask(21, 41), 4);
}

TEST(ShownFrames, RefuseOddWidthsAndAreas) {
  for (const int width : {-1, 7, 8193}) EXPECT_THROW(ShownFrames(Showing{width}), CallError) << width;
  test::expect_parts(test::message_of<CallError>([] { ShownFrames frames(Showing{7}); }), {"7", "8"});
}

}  // namespace mnemon
