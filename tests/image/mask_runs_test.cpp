// SPDX-License-Identifier: MIT
#include <mnemon/image/mask_runs.hpp>

#include <utility>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

// Long and short runs, and empty and full masks among them.
Image<Byte> random_mask(int rows, int cols, Random& random) {
  Image<Byte> mask(rows, cols);
  const double change = random.uniform(0, 0.4);
  bool on = random.uniform() < 0.5;
  for (Byte& pixel : mask.elements()) {
    on = random.uniform() < change ? !on : on;
    pixel = on ? static_cast<Byte>(1 + random.bits() % 255) : 0;
  }
  return mask;
}

double counted_overlap(const Image<Byte>& a, const Image<Byte>& b) {
  int shared = 0;
  int joined = 0;
  for (std::size_t i = 0; i < a.elements().size(); ++i) {
    const bool one = a.elements()[i] != 0;
    const bool other = b.elements()[i] != 0;
    shared += one && other ? 1 : 0;
    joined += one || other ? 1 : 0;
  }
  return joined > 0 ? 1.0 * shared / joined : 0;
}

}  // namespace

TEST(MaskRuns, StartWithWhatIsOff) {
  Image<Byte> mask(2, 3);
  EXPECT_EQ(runs_of(mask.view()).lengths, (std::vector<std::uint32_t>{6}));
  mask(0, 0) = mask(0, 2) = mask(1, 0) = 7;
  EXPECT_EQ(runs_of(mask.view()).lengths, (std::vector<std::uint32_t>{0, 1, 1, 2, 2}));
}

TEST(MaskRuns, OverlapAsPixelsDo) {
  Random random(5);
  for (int i = 0; i < 300; ++i) {
    const int rows = 1 + static_cast<int>(random.uniform(0, 17));
    const int cols = 1 + static_cast<int>(random.uniform(0, 33));
    const Image<Byte> a = random_mask(rows, cols, random);
    const Image<Byte> b = random_mask(rows, cols, random);
    const MaskRuns one = runs_of(a.view());
    EXPECT_EQ(overlap(one, runs_of(b.view())), counted_overlap(a, b)) << rows << " x " << cols;
    EXPECT_EQ(overlap(one, one), counted_overlap(a, a));
  }
}

TEST(MaskRuns, AreBoundedAsTheirPixelsAre) {
  Random random(8);
  for (int round = 0; round < 200; ++round) {
    const int rows = 1 + static_cast<int>(random.bits() % 9);
    const int cols = 1 + static_cast<int>(random.bits() % 9);
    const Image<Byte> mask = random_mask(rows, cols, random);
    int left = cols, right = -1, top = rows, bottom = -1;
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c)
        if (mask(r, c) != 0) {
          left = std::min(left, c);
          right = std::max(right, c);
          top = std::min(top, r);
          bottom = std::max(bottom, r);
        }
    const auto box = bounds(runs_of(mask.view()));
    ASSERT_EQ(box.has_value(), right >= 0);
    if (box) {
      EXPECT_EQ(*box, (Box{1.0 * left, 1.0 * top, right - left + 1.0, bottom - top + 1.0}));
    }
  }
  EXPECT_FALSE(bounds(MaskRuns{}).has_value());
}

TEST(MaskRuns, OfDifferentShapesDoNotOverlap) {
  Image<Byte> mask(4, 6);
  mask(1, 1) = 1;
  Image<Byte> other(6, 4);
  other(1, 1) = 1;
  EXPECT_EQ(overlap(runs_of(mask.view()), runs_of(other.view())), 0);
  EXPECT_EQ(overlap(MaskRuns{}, MaskRuns{}), 0);
}

TEST(MaskRuns, ComeBackFromBytes) {
  Random random(6);
  for (int i = 0; i < 100; ++i) {
    const MaskRuns runs = runs_of(random_mask(1 + i % 40, 1 + i * 7 % 300, random).view());
    EXPECT_EQ(unpacked(packed(runs)), runs);
  }
}

TEST(MaskRuns, AreNothingFromBytesThatAreNoMask) {
  Image<Byte> mask(3, 200);
  mask(1, 5) = 1;
  const std::string bytes = packed(runs_of(mask.view()));
  EXPECT_FALSE(unpacked("").has_value());
  for (std::size_t length = 0; length < bytes.size(); ++length)
    EXPECT_FALSE(unpacked(bytes.substr(0, length)).has_value()) << length;
  EXPECT_FALSE(unpacked(bytes + '\1').has_value());
  EXPECT_FALSE(unpacked(std::string(40, '\xff')).has_value());
  EXPECT_FALSE(unpacked(packed({70000, 70000, {}})).has_value());
}

}  // namespace mnemon
