// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/blob_pieces.hpp>

#include <gtest/gtest.h>

#include "track/blob/bright_box.hpp"

namespace mnemon {
namespace {

using test::bright_window;

constexpr double kGate = 2;

PickRules plain_rules() {
  PickRules rules;
  rules.close = 0;
  return rules;
}

int cells_of(const BitMask& mask) {
  int count = 0;
  for (int r = 0; r < mask.rows(); ++r)
    for (int c = 0; c < mask.cols(); ++c) count += mask.at(r, c) ? 1 : 0;
  return count;
}

}  // namespace

TEST(BlobPieces, MatchWhatIsBrightWhereItIsExpected) {
  BlobPieces pieces(plain_rules());
  const WeighedWindow window = bright_window({30, 20, 12, 10});
  const Piece* const piece = pieces.match(window, {31, 21, 12, 10}, kGate);
  ASSERT_NE(piece, nullptr);
  EXPECT_EQ(piece->box(), (Box{30, 20, 12, 10}));
  EXPECT_EQ(piece->area, 120);
  pieces.draw(piece);
  EXPECT_EQ(cells_of(pieces.piece()), 120);
  EXPECT_EQ(pieces.match(window, {2, 45, 12, 10}, kGate), nullptr);
  pieces.draw(nullptr);
  EXPECT_EQ(cells_of(pieces.piece()), 0);
}

TEST(BlobPieces, AreCutOffWhereTheyRunBeyond) {
  BlobPieces pieces(plain_rules());
  const WeighedWindow window = bright_window({4, 20, 70, 10});
  const Box expected{30, 20, 12, 10};
  const Piece* const piece = pieces.match(window, expected, kGate);
  ASSERT_NE(piece, nullptr);
  EXPECT_LE(piece->right - piece->left, 1.25 * 12 + 1);
  EXPECT_FALSE(BlobPieces::is_whole(window, *piece, expected));
}

TEST(BlobPieces, AreNotWholeAtThePicturesEdge) {
  BlobPieces pieces(plain_rules());
  const Box middle{30, 20, 12, 10};
  const WeighedWindow inside = bright_window(middle);
  EXPECT_TRUE(BlobPieces::is_whole(inside, *pieces.match(inside, middle, kGate), middle));
  const Box edge{30, 8, 12, 10};
  const WeighedWindow window = bright_window(edge, -16);  // its first 8 rows lie above the picture
  const Piece* const piece = pieces.match(window, edge, kGate);
  ASSERT_NE(piece, nullptr);
  EXPECT_FALSE(BlobPieces::is_whole(window, *piece, edge));
}

TEST(BlobPieces, ExpectTheSeedsShareOfABox) {
  BlobPieces pieces(plain_rules());
  const Box bright{30, 20, 12, 10};
  const WeighedWindow window = bright_window(bright);
  const Box marked{28, 18, 16, 15};  // half of which is bright
  pieces.take_fill(window, *pieces.match(window, bright, kGate), marked);
  EXPECT_DOUBLE_EQ(pieces.expected_area(window, marked), 120);
  EXPECT_DOUBLE_EQ(pieces.expected_area(window, {10, 10, 32, 30}), 480);
}

}  // namespace mnemon
