// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/piece_picker.hpp>

#include <cmath>
#include <string>

#include <gtest/gtest.h>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

// Three pieces: a disc, a bar as broad but larger, and a small square.
BitMask three_pieces() {
  BitMask mask(100, 200);
  for (int r = 0; r < 100; ++r)
    for (int c = 0; c < 60; ++c)
      if (std::hypot(r + 0.5 - 50, c + 0.5 - 40) < 15) mask.set(r, c);
  for (int r = 20; r < 90; ++r) mask.set_run(r, 90, 115);
  for (int r = 45; r < 57; ++r) mask.set_run(r, 150, 162);
  return mask;
}

Point picked(const std::string& rule, Point expected) {
  PickRules rules;
  rules.pick = rule;
  rules.least_area = 0;
  rules.most_area = 100;
  rules.close = 0;
  PiecePicker picker(100, 200, rules);
  BitMask mask = three_pieces();
  const Piece* piece = picker.pick(mask, {box_around(expected, 30, 30), 700}, {0, 0, 200, 100});
  return piece == nullptr ? Point{-1, -1} : piece->middle;
}

}  // namespace

TEST(PiecePicker, GoesByTheRule) {
  EXPECT_NEAR(picked("largest", {150, 50}).x, 102.5, 1e-9);
  EXPECT_NEAR(picked("smallest", {40, 50}).x, 156, 1e-9);
  EXPECT_NEAR(picked("roundest", {150, 50}).x, 40, 0.1);
  EXPECT_NEAR(picked("nearest", {140, 50}).x, 156, 1e-9);
  EXPECT_NEAR(picked("alike", {60, 50}).x, 40, 0.1);
}

TEST(PiecePicker, KeepsToItsGateSizeAndForm) {
  PickRules rules;
  rules.close = 0;
  rules.most_area = 2;
  rules.least_area = 0.5;
  const ExpectedPiece disc{box_around({40, 50}, 30, 30), 707};
  const auto pick = [&](const PickRules& by, const Box& gate) {
    PiecePicker picker(100, 200, by);
    BitMask mask = three_pieces();
    const Piece* piece = picker.pick(mask, disc, gate);
    return piece == nullptr ? -1 : piece->area;
  };
  EXPECT_NEAR(pick(rules, {0, 0, 200, 100}), 707, 10);
  EXPECT_EQ(pick(rules, {80, 0, 100, 100}), -1);  // the bar is too large, the square too small
  rules.most_area = 3;
  EXPECT_EQ(pick(rules, {80, 0, 100, 100}), 70 * 25);
  rules.least_circularity = 0.9;
  EXPECT_EQ(pick(rules, {80, 0, 100, 100}), -1);
  rules.least_circularity = 0;
  rules.least_rectangularity = 0.9;
  EXPECT_EQ(pick(rules, {0, 0, 80, 100}), -1);  // a disc fills pi / 4 of its box
}

TEST(PiecePicker, CutsOffWhatRunsBeyond) {
  PiecePicker picker(100, 200, {});
  BitMask mask = three_pieces();
  const Piece* piece = picker.clip(mask, {85, 30, 40, 10});
  ASSERT_NE(piece, nullptr);
  EXPECT_EQ(piece->box(), (Box{90, 30, 25, 10}));
  BitMask empty(100, 200);
  EXPECT_EQ(picker.clip(empty, {0, 0, 100, 100}), nullptr);
}

}  // namespace mnemon
