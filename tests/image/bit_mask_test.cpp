// SPDX-License-Identifier: MIT
#include <mnemon/image/bit_mask.hpp>

#include <array>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/image/morphology.hpp>

namespace mnemon {
namespace {

constexpr std::array kSides{1, 2, 15, 63, 64, 65, 130};

BitMask random_mask(Random& random, int rows, int cols, double share) {
  BitMask mask(rows, cols);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      if (random.uniform() < share) mask.set(r, c);
  return mask;
}

std::vector<Byte> bytes_of(const BitMask& mask) {
  Image<Byte> bytes(mask.rows(), mask.cols());
  mask.write_into(bytes.view());
  return {bytes.elements().begin(), bytes.elements().end()};
}

// Bit by bit: set where any (all) of the bits around are; outside the mask those count as `outside`.
std::vector<Byte> slow(const BitMask& mask, int radius, bool grows) {
  std::vector<Byte> out;
  for (int r = 0; r < mask.rows(); ++r)
    for (int c = 0; c < mask.cols(); ++c) {
      bool any = false;
      bool all = true;
      for (int i = std::max(0, r - radius); i <= std::min(mask.rows() - 1, r + radius); ++i)
        for (int j = std::max(0, c - radius); j <= std::min(mask.cols() - 1, c + radius); ++j) {
          any = any || mask.at(i, j);
          all = all && mask.at(i, j);
        }
      out.push_back(static_cast<Byte>(grows ? any : all));
    }
  return out;
}

TEST(BitMask, SetsWhatIsAboveALevel) {
  Random random(1);
  for (const int cols : kSides) {
    Image<float> values(3, cols);
    for (float& value : values.elements()) value = static_cast<float>(random.uniform());
    BitMask mask(3, cols);
    set_above(std::as_const(values).view(), 0.4f, mask);
    int count = 0;
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c < cols; ++c) {
        EXPECT_EQ(mask.at(r, c), values(r, c) > 0.4f) << r << ", " << c << " of " << cols;
        count += values(r, c) > 0.4f ? 1 : 0;
      }
    EXPECT_EQ(mask.count(), count);
    mask.flip();
    EXPECT_EQ(mask.count(), 3 * cols - count);
  }
}

TEST(BitMask, SetsRunsAcrossWords) {
  for (const auto& [first, end] :
       {std::pair{0, 1}, {3, 64}, {60, 70}, {0, 130}, {64, 128}, {129, 130}, {5, 5}}) {
    BitMask mask(1, 130);
    mask.set_run(0, first, end);
    for (int c = 0; c < 130; ++c) EXPECT_EQ(mask.at(0, c), c >= first && c < end) << c;
  }
}

TEST(BitMask, GoesByRunsAndBytesBitByBit) {
  Random random(2);
  BitMask back(3, 130);
  for (const int cols : kSides)
    for (const double share : {0.1, 0.5, 0.97, 1.0}) {
      const BitMask mask = random_mask(random, 3, cols, share);
      for (int r = 0; r < 3; ++r) {
        std::vector<Byte> line(cols);
        int last = -1;
        mask.for_each_run(r, [&](int first, int end) {
          EXPECT_GT(first, last) << "runs touch";
          last = end;
          for (int c = first; c < end; ++c) line[c] = 1;
        });
        for (int c = 0; c < cols; ++c) EXPECT_EQ(line[c] != 0, mask.at(r, c)) << r << ", " << c;
      }
      Image<Byte> bytes(3, cols);
      mask.write_into(bytes.view());
      back.read_from(std::as_const(bytes).view());
      EXPECT_EQ(bytes_of(back), bytes_of(mask));
      EXPECT_EQ(back.count(), mask.count());
    }
}

TEST(BitMask, TakesOnASmallerShapeEmpty) {
  BitMask mask(40, 130);
  mask.set_run(7, 0, 130);
  mask.start(9, 65);
  EXPECT_EQ(mask.count(), 0);
  mask.set(8, 64);
  EXPECT_EQ(mask.count(), 1);
}

TEST(Morphology, GrowsAndShrinksAsBitByBit) {
  Random random(2);
  for (const int cols : kSides)
    for (const int rows : {1, 7, 20})
      for (const int radius : {0, 1, 2, 3, 5, 70}) {
        Morphology morphology(rows, cols);
        BitMask grown = random_mask(random, rows, cols, 0.1);
        const std::vector<Byte> expected = slow(grown, radius, true);
        morphology.dilate(grown, radius);
        EXPECT_EQ(bytes_of(grown), expected) << rows << " x " << cols << ", " << radius;
        BitMask shrunk = random_mask(random, rows, cols, 0.9);
        const std::vector<Byte> left = slow(shrunk, radius, false);
        morphology.erode(shrunk, radius);
        EXPECT_EQ(bytes_of(shrunk), left) << rows << " x " << cols << ", " << radius;
      }
}

TEST(Morphology, OpeningOnlyTakesAwayAndClosingOnlyAdds) {
  Random random(3);
  Morphology morphology(30, 90);
  for (int i = 0; i < 20; ++i) {
    const double share = random.uniform();
    const BitMask mask = random_mask(random, 30, 90, share);
    BitMask opened = mask;
    BitMask closed = mask;
    morphology.open(opened, 1);
    morphology.close(closed, 1);
    BitMask again = opened;
    morphology.open(again, 1);
    EXPECT_EQ(bytes_of(again), bytes_of(opened));
    for (int r = 0; r < 30; ++r)
      for (int c = 0; c < 90; ++c) {
        EXPECT_LE(opened.at(r, c), mask.at(r, c));
        EXPECT_GE(closed.at(r, c), mask.at(r, c));
      }
  }
}

}  // namespace
}  // namespace mnemon
