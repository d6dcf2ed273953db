// SPDX-License-Identifier: MIT
#include <mnemon/image/bilinear.hpp>
#include <mnemon/image/resample.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

Image<Byte> random_picture(int rows, int cols, std::uint64_t key) {
  Image<Byte> picture(rows, cols, 3);
  Random random(key);
  for (Byte& value : picture.elements()) value = static_cast<Byte>(random.bits());
  return picture;
}

double grey_at(const Image<Byte>& picture, int r, int c) {
  r = std::clamp(r, 0, picture.rows() - 1);
  c = std::clamp(c, 0, picture.cols() - 1);
  return 0.299 * picture(r, c, 0) + 0.587 * picture(r, c, 1) + 0.114 * picture(r, c, 2);
}

double triangle(double distance, double scale) {
  return std::max(0.0, 1 - std::abs(distance) / std::max(1.0, scale));
}

// The same sampling by its definition: every pixel near an output sample, weighted by the triangle in both
// axes.
double sampled(const Image<Byte>& picture, const Box& window, int rows, int cols, int r, int c) {
  const double scale_x = window.w / cols;
  const double scale_y = window.h / rows;
  const double x = window.x + (c + 0.5) * scale_x;
  const double y = window.y + (r + 0.5) * scale_y;
  double sum = 0;
  double weights = 0;
  const int reach = static_cast<int>(std::ceil(std::max({1.0, scale_x, scale_y}))) + 2;
  for (int i = static_cast<int>(std::floor(y)) - reach; i <= y + reach; ++i)
    for (int j = static_cast<int>(std::floor(x)) - reach; j <= x + reach; ++j) {
      const double weight = triangle(i + 0.5 - y, scale_y) * triangle(j + 0.5 - x, scale_x);
      sum += weight * grey_at(picture, i, j);
      weights += weight;
    }
  return sum / weights;
}

TEST(Halved, IsTheMeanOfFour) {
  Image<Byte> picture(5, 7, 3);
  for (std::size_t i = 0; i < picture.elements().size(); ++i)
    picture.elements()[i] = static_cast<Byte>(31 * i + i * i);
  const Image<Byte> half = halved(std::as_const(picture).view());
  ASSERT_EQ(half.rows(), 2);
  ASSERT_EQ(half.cols(), 3);
  for (int r = 0; r < 2; ++r)
    for (int c = 0; c < 3; ++c)
      for (int k = 0; k < 3; ++k) {
        int sum = 0;
        for (const int dr : {0, 1})
          for (const int dc : {0, 1}) sum += picture(2 * r + dr, 2 * c + dc, k);
        EXPECT_EQ(half(r, c, k), (sum + 2) / 4);
      }
  const Image<Byte> one(1, 1, 3);
  EXPECT_EQ(halved(one.view()).cols(), 1);  // nothing smaller
}

}  // namespace

// Sums of a few dozen products of up to 255 in single precision, by weights that are themselves rounded.
constexpr double kRounding = 255 * 40 * 1.2e-7 * 4;

TEST(GreyWindow, AgreesWithItsDefinition) {
  Random random(9);
  for (const int size : {1, 2, 15, 16, 17, 33}) {
    const Image<Byte> picture = random_picture(23, 31, size);
    for (int i = 0; i < 12; ++i) {
      const Box window{random.uniform(-30, 35), random.uniform(-25, 28), random.uniform(0.5, 60),
                       random.uniform(0.5, 50)};
      const int rows = 1 + static_cast<int>(random.bits() % 20);
      GreyWindow sampler(rows, size, 60, 50);
      Image<float> out(rows, size);
      sampler.sample_into(picture.view(), window, out.view());
      for (int r = 0; r < rows; ++r)
        for (int c = 0; c < size; ++c)
          ASSERT_NEAR(out(r, c), sampled(picture, window, rows, size, r, c), kRounding)
              << rows << " x " << size << " of " << window.x << "," << window.y << "," << window.w << ","
              << window.h;
    }
  }
}

TEST(GreyWindow, OnPixelsIsThePixels) {
  const Image<Byte> picture = random_picture(12, 14, 4);
  GreyWindow sampler(5, 6, 6, 5);
  Image<float> out(5, 6);
  sampler.sample_into(picture.view(), {3, 2, 6, 5}, out.view());
  for (int r = 0; r < 5; ++r)
    for (int c = 0; c < 6; ++c) EXPECT_NEAR(out(r, c), grey_at(picture, r + 2, c + 3), 1e-4);
}

TEST(GreyWindow, ReadsViewsWithGapsBetweenRows) {
  const Image<Byte> picture = random_picture(20, 20, 5);
  ImageView<const Byte> part = picture.view();
  part.data += 3 * 4;
  part.cols = 9;
  const Image<Byte> whole = copy_of(part);
  GreyWindow sampler(8, 8, 12, 12);
  Image<float> a(8, 8);
  Image<float> b(8, 8);
  sampler.sample_into(part, {-2.5, 3.25, 12, 11}, a.view());
  sampler.sample_into(whole.view(), {-2.5, 3.25, 12, 11}, b.view());
  EXPECT_TRUE(std::ranges::equal(a.elements(), b.elements()));
}

TEST(GreyWindow, GivesTheSameWhateverWasSampledBefore) {
  const Image<Byte> picture = random_picture(40, 40, 6);
  GreyWindow used(16, 16, 40, 40);
  Image<float> a(16, 16);
  used.sample_into(picture.view(), {0, 0, 40, 40}, a.view());
  used.sample_into(picture.view(), {5.5, 6.5, 20, 20}, a.view());
  GreyWindow fresh(16, 16, 40, 40);
  Image<float> b(16, 16);
  fresh.sample_into(picture.view(), {5.5, 6.5, 20, 20}, b.view());
  EXPECT_TRUE(std::ranges::equal(a.elements(), b.elements()));
}

TEST(Resized, KeepsAnEvenPicture) {
  Image<Byte> even(20, 30, 3);
  std::ranges::fill(even.elements(), Byte{77});
  const Image<Byte> small = resized(even.view(), 7, 11);
  EXPECT_EQ(small.rows(), 7);
  EXPECT_EQ(small.cols(), 11);
  for (const Byte value : small.elements()) EXPECT_EQ(value, 77);
}

TEST(Resized, AtTheSameSizeIsTheSame) {
  const Image<Byte> picture = random_picture(9, 13, 8);
  const Image<Byte> same = resized(picture.view(), 9, 13);
  EXPECT_TRUE(std::ranges::equal(picture.elements(), same.elements()));
}

TEST(WarpInto, ByNothingIsTheSame) {
  Image<float> in(7, 9);
  Random random(2);
  for (float& v : in.elements()) v = static_cast<float>(random.uniform());
  Image<float> out(7, 9);
  warp_into(in.view(), {}, out.view());
  EXPECT_TRUE(std::ranges::equal(in.elements(), out.elements()));
}

TEST(WarpInto, FollowsASlopeExactly) {
  Image<float> in(20, 20);
  for (int r = 0; r < 20; ++r)
    for (int c = 0; c < 20; ++c) in(r, c) = static_cast<float>(2 * c + 3 * r);
  Image<float> out(6, 6);
  const Affine map{1.1, 0.2, 5, -0.1, 0.9, 6};
  warp_into(in.view(), map, out.view());
  for (int r = 0; r < 6; ++r)
    for (int c = 0; c < 6; ++c) {
      const double x = map.a * (c + 0.5) + map.b * (r + 0.5) + map.c - 0.5;
      const double y = map.d * (c + 0.5) + map.e * (r + 0.5) + map.f - 0.5;
      EXPECT_NEAR(out(r, c), 2 * x + 3 * y, 1e-4);
    }
}

TEST(ImageView, OfPartOfAPictureSkipsTheRest) {
  Image<int> image(3, 4);
  for (int i = 0; i < 12; ++i) image.elements()[i] = i;
  ImageView<const int> part = image.view();
  part.data += 1;
  part.cols = 2;
  EXPECT_FALSE(part.is_contiguous());
  const Image<int> copy = copy_of(part);
  EXPECT_TRUE(std::ranges::equal(copy.elements(), std::vector<int>{1, 2, 5, 6, 9, 10}));
}

TEST(Image, IsAlignedAndZeroAtFirst) {
  const Image<float> image(5, 7, 3);
  EXPECT_EQ(reinterpret_cast<std::uintptr_t>(image.view().data) % 64, 0U);
  for (const float v : image.elements()) EXPECT_EQ(v, 0.0f);
  EXPECT_TRUE(Image<float>().empty());
}

TEST(WarpInto, SamplesEveryChannelWhereTheMapPoints) {
  Image<float> in(40, 50, 3);
  Random random(5);
  for (float& v : in.elements()) v = static_cast<float>(random.uniform(0, 255));
  Image<float> out(40, 50, 3);
  warp_into(std::as_const(in).view(), {1, 0, 3, 0, 1, -2}, out.view());
  EXPECT_EQ(out(10, 10, 1), in(8, 13, 1));
  EXPECT_EQ(out(0, 49, 2), in(0, 49, 2));  // the edge is repeated
  Image<float> plane(40, 50);
  for (int r = 0; r < 40; ++r)
    for (int c = 0; c < 50; ++c) plane(r, c) = static_cast<float>(2 * c + 5 * r);
  EXPECT_NEAR(sampled(std::as_const(plane).view(), 10.75, 20.25), 2 * 10.25 + 5 * 19.75, 1e-3);
}

TEST(ResizedToWidth, KeepsTheShape) {
  const Image<Byte> picture(90, 160, 3);
  EXPECT_EQ(resized_to_width(picture.view(), 80).rows(), 45);
  EXPECT_EQ(resized_to_width(picture.view(), 1).rows(), 1);
}

}  // namespace mnemon
