// SPDX-License-Identifier: MIT
#include <mnemon/media/picture_file.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

Image<Byte> soft_picture(int rows, int cols, int channels) {
  Image<Byte> picture(rows, cols, channels);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      for (int k = 0; k < channels; ++k)
        picture(r, c, k) = static_cast<Byte>(127 + 100 * std::sin(0.15 * r + 0.1 * c + 2 * k));
  return picture;
}

std::string refusal(std::string_view bytes) {
  return test::message_of<DataError>([&] { (void)parse_picture(bytes, "some.png"); });
}

}  // namespace

TEST(Png, ReadsBackExactly) {
  for (const int cols : {1, 2, 17, 64}) {
    const Image<Byte> picture = soft_picture(9, cols, 3);
    const Image<Byte> back = parse_picture(png_bytes(picture.view()), "x");
    ASSERT_EQ(back.cols(), cols);
    EXPECT_TRUE(std::ranges::equal(back.elements(), picture.elements()));
  }
}

TEST(Png, OfPartOfAPictureHoldsThatPart) {
  const Image<Byte> picture = soft_picture(20, 30, 3);
  ImageView<const Byte> part = picture.view();
  part.data += 3 * 5;
  part.cols = 11;
  const Image<Byte> back = parse_picture(png_bytes(part), "x");
  EXPECT_TRUE(std::ranges::equal(back.elements(), copy_of(part).elements()));
}

TEST(Png, InGreyBecomesRgbOfEqualChannels) {
  const Image<Byte> grey = soft_picture(8, 8, 1);
  const Image<Byte> back = parse_picture(png_bytes(grey.view()), "x");
  ASSERT_EQ(back.channels(), 3);
  for (int i = 0; i < 64; ++i)
    for (int k = 0; k < 3; ++k) EXPECT_EQ(back.elements()[3 * i + k], grey.elements()[i]);
}

TEST(Jpeg, ReadsBackNearly) {
  const Image<Byte> picture = soft_picture(40, 60, 3);
  const Image<Byte> back = parse_picture(jpeg_bytes(picture.view(), 95), "x");
  ASSERT_EQ(back.cols(), 60);
  ASSERT_EQ(back.rows(), 40);
  double squares = 0;
  for (std::size_t i = 0; i < back.elements().size(); ++i)
    squares += std::pow(back.elements()[i] - picture.elements()[i], 2);
  EXPECT_LT(std::sqrt(squares / static_cast<double>(back.elements().size())), 3);
}

TEST(Pictures, CutShortAreRefusedWhereverTheCutIs) {
  const Image<Byte> picture = soft_picture(30, 30, 3);
  for (const std::string& whole : {png_bytes(picture.view()), jpeg_bytes(picture.view(), 90)})
    for (const double share : {0.02, 0.2, 0.5, 0.9, 0.97}) {
      const auto length = static_cast<std::size_t>(share * static_cast<double>(whole.size()));
      test::expect_parts(refusal(std::string_view(whole).substr(0, length)), {"some.png"});
    }
}

TEST(Pictures, WithFlippedBytesNeverCrash) {
  const Image<Byte> picture = soft_picture(16, 16, 3);
  Random random(4);
  for (const std::string& whole : {png_bytes(picture.view()), jpeg_bytes(picture.view(), 90)})
    for (int i = 0; i < 300; ++i) {
      std::string broken = whole;
      for (int k = 0; k < 3; ++k) broken[random.bits() % broken.size()] = static_cast<char>(random.bits());
      try {
        const Image<Byte> read = parse_picture(broken, "x");
        EXPECT_EQ(read.channels(), 3);
      } catch (const DataError&) {  // refusing is right; so is reading what a flipped pixel leaves whole
      }
    }
}

TEST(Pictures, OfOtherKindsAreRefusedByName) {
  test::expect_parts(refusal("GIF89a..."), {"some.png", "neither a PNG nor a JPEG"});
  test::expect_parts(refusal(""), {"is empty"});
}

TEST(Pictures, WrittenToAFileReadBack) {
  const test::TempFolder folder;
  const Image<Byte> picture = soft_picture(5, 6, 3);
  write_png(folder / "a.png", picture.view());
  EXPECT_TRUE(std::ranges::equal(read_picture(folder / "a.png").elements(), picture.elements()));
  test::expect_parts(test::message_of<DataError>([&] { (void)read_picture(folder / "b.png"); }),
                     {"b.png", "no such"});
}

TEST(IsPictureName, LooksAtTheEnding) {
  EXPECT_TRUE(is_picture_name("a/b.PNG"));
  EXPECT_TRUE(is_picture_name("b.jpeg"));
  EXPECT_FALSE(is_picture_name("b.txt"));
  EXPECT_FALSE(is_picture_name("png"));
}

}  // namespace mnemon
