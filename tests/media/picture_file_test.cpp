// SPDX-License-Identifier: MIT
#include <mnemon/media/picture_file.hpp>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <utility>
#include <vector>

#include <gtest/gtest.h>
#include <lodepng.h>

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
  for (const int cols : {1, 2, 17, 64, 9000}) {
    const Image<Byte> picture = soft_picture(9, cols, 3);
    const Image<Byte> back = parse_picture(png_bytes(picture.view()), "x");
    ASSERT_EQ(back.cols(), cols);
    EXPECT_TRUE(std::ranges::equal(back.elements(), picture.elements()));
  }
}

TEST(Png, IsSmallWhereThereIsLittleToKeep) {
  EXPECT_LT(png_bytes(Image<Byte>(60, 80, 3).view()).size(), 60U * 80 * 3 / 50);
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

namespace {

// A PNG of samples in one of the format's forms, given as RGB or RGBA with 8 bits a channel.
std::string png_in_form(const LodePNGColorMode& form, bool interlaced, const std::vector<Byte>& rgba,
                        int cols, int rows) {
  LodePNGState state;
  lodepng_state_init(&state);
  state.info_raw = lodepng_color_mode_make(LCT_RGBA, 8);
  EXPECT_EQ(lodepng_color_mode_copy(&state.info_png.color, &form), 0U);
  state.info_png.interlace_method = interlaced ? 1 : 0;
  state.encoder.auto_convert = 0;
  Byte* out = nullptr;
  std::size_t size = 0;
  EXPECT_EQ(lodepng_encode(&out, &size, rgba.data(), cols, rows, &state), 0U);
  std::string bytes(reinterpret_cast<const char*>(out), size);
  std::free(out);
  lodepng_state_cleanup(&state);
  return bytes;
}

// Black and white pixels, which every form can hold.
std::vector<Byte> chessboard(int cols, int rows) {
  std::vector<Byte> rgba;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      const Byte value = (r + c) % 2 == 0 ? 255 : 0;
      rgba.insert(rgba.end(), {value, value, value, 255});
    }
  return rgba;
}

}  // namespace

TEST(Png, OfEveryFormIsReadAsRgb) {
  for (const auto& [kind, depths] :
       std::vector<std::pair<LodePNGColorType, std::vector<unsigned>>>{{LCT_GREY, {1, 2, 4, 8, 16}},
                                                                       {LCT_RGB, {8, 16}},
                                                                       {LCT_PALETTE, {1, 2, 4, 8}},
                                                                       {LCT_GREY_ALPHA, {8, 16}},
                                                                       {LCT_RGBA, {8, 16}}})
    for (const unsigned depth : depths)
      for (const bool interlaced : {false, true})
        for (const auto& [cols, rows] : {std::pair{1, 1}, {3, 2}, {1, 33}, {37, 21}}) {
          LodePNGColorMode form = lodepng_color_mode_make(kind, depth);
          if (kind == LCT_PALETTE)
            for (const Byte value : {Byte{0}, Byte{255}})
              lodepng_palette_add(&form, value, value, value, 255);
          const std::vector<Byte> rgba = chessboard(cols, rows);
          const Image<Byte> back = parse_picture(png_in_form(form, interlaced, rgba, cols, rows), "x");
          lodepng_color_mode_cleanup(&form);
          ASSERT_EQ(std::pair(back.cols(), back.rows()), std::pair(cols, rows));
          for (std::size_t i = 0; i < back.elements().size(); ++i)
            ASSERT_EQ(back.elements()[i], rgba[i / 3 * 4 + i % 3])
                << "kind " << kind << " depth " << depth << " interlaced " << interlaced << " at " << i;
        }
}

TEST(Png, LiesOverBlackWhereItIsTransparent) {
  const std::vector<Byte> rgba{200, 100, 50, 255, 200, 100, 50, 0, 200, 100, 50, 51};
  const Image<Byte> back =
      parse_picture(png_in_form(lodepng_color_mode_make(LCT_RGBA, 8), false, rgba, 3, 1), "x");
  const std::vector<Byte> right{200, 100, 50, 0, 0, 0, 40, 20, 10};
  EXPECT_TRUE(std::ranges::equal(back.elements(), right));
}

TEST(Png, MayHaveDamagedRemarksButNoDamagedPalette) {
  const std::vector<Byte> rgba = chessboard(9, 9);
  LodePNGColorMode form = lodepng_color_mode_make(LCT_PALETTE, 1);
  for (const Byte value : {Byte{0}, Byte{255}}) lodepng_palette_add(&form, value, value, value, 255);
  const std::string plain = png_in_form(form, false, rgba, 9, 9);
  lodepng_color_mode_cleanup(&form);
  constexpr std::size_t kBehindHeader = 8 + 25;
  const std::string remark("\0\0\0\4tEXtabcdWXYZ", 16);  // with a check sum that is wrong
  std::string remarked = plain;
  remarked.insert(kBehindHeader, remark);
  EXPECT_TRUE(
      std::ranges::equal(parse_picture(remarked, "x").elements(), parse_picture(plain, "x").elements()));
  std::string damaged = plain;
  damaged[damaged.find("PLTE") + 4] ^= 1;
  test::expect_parts(refusal(damaged), {"some.png", "not a whole PNG", "damaged"});
}

TEST(Png, OfFewBytesThatPromisesManyPixelsIsRefused) {
  std::string bytes = png_bytes(soft_picture(4, 4, 3).view());
  const auto put = [&](std::size_t at, std::uint32_t value) {
    for (int k = 0; k < 4; ++k) bytes[at + k] = static_cast<char>(value >> (24 - 8 * k));
  };
  put(16, 11000);
  put(20, 11000);
  put(29, lodepng_crc32(reinterpret_cast<const unsigned char*>(bytes.data()) + 12, 17));
  test::expect_parts(refusal(bytes), {"some.png", "not a whole PNG"});
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
