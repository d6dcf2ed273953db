// SPDX-License-Identifier: MIT
#include <mnemon/media/read_ahead.hpp>

#include <algorithm>
#include <chrono>
#include <thread>

#include <gtest/gtest.h>

#include "support/messages.hpp"
#include "support/toy_frames.hpp"

namespace mnemon {

using test::toy_picture;
using test::ToyFrames;

namespace {

void sleep_ms(int ms) { std::this_thread::sleep_for(std::chrono::milliseconds(ms)); }

std::vector<int> indices(FrameSource& frames) {
  std::vector<int> seen;
  while (const auto frame = frames.next()) seen.push_back(frame->index);
  return seen;
}

}  // namespace

TEST(ReadAhead, GivesTheSameFrames) {
  for (const int depth : {1, 2, 5}) {
    const auto ahead = read_ahead(std::make_unique<ToyFrames>(23), {.frames = depth});
    EXPECT_EQ(ahead->total(), 23);
    int seen = 0;
    while (const auto frame = ahead->next()) {
      EXPECT_EQ(frame->index, seen);
      EXPECT_EQ(frame->time_s, seen / 50.0);
      EXPECT_TRUE(std::ranges::equal(frame->rgb.elements(), toy_picture(24, 32, seen).elements()));
      ++seen;
    }
    EXPECT_EQ(seen, 23);
    EXPECT_FALSE(ahead->next());
  }
}

TEST(ReadAhead, ReadsNoFurtherThanItMay) {
  auto source = std::make_unique<ToyFrames>(1000);
  const ToyFrames& counted = *source;
  const auto ahead = read_ahead(std::move(source), {.frames = 3});
  ASSERT_TRUE(ahead->next());
  sleep_ms(60);
  // One given out, three waiting, and one in the reading thread's hand.
  EXPECT_LE(counted.asked(), 5);
  EXPECT_GE(counted.asked(), 4);
}

TEST(ReadAhead, TakesEveryNth) {
  EXPECT_EQ(indices(*read_ahead(std::make_unique<ToyFrames>(11), {.step = 4})), (std::vector<int>{0, 4, 8}));
  EXPECT_THROW((void)read_ahead(std::make_unique<ToyFrames>(1), {.frames = 0}), CallError);
}

TEST(ReadAhead, PassesAnErrorOnWhereItBelongs) {
  const auto ahead = read_ahead(std::make_unique<ToyFrames>(4, true));
  for (int i = 0; i < 4; ++i) EXPECT_EQ(ahead->next()->index, i);
  test::expect_parts(test::message_of<DataError>([&] { (void)ahead->next(); }), {"frame 4 is broken"});
  EXPECT_FALSE(ahead->next());
}

TEST(ReadAhead, CanBeGivenUpAtAnyTime) {
  for (int taken = 0; taken < 6; ++taken) {
    const auto ahead = read_ahead(std::make_unique<ToyFrames>(100000));
    for (int i = 0; i < taken; ++i) ASSERT_TRUE(ahead->next());
  }
}

TEST(Paced, GivesNoFrameBeforeItsTime) {
  const auto start = std::chrono::steady_clock::now();
  const auto frames = paced(std::make_unique<ToyFrames>(6));
  EXPECT_EQ(indices(*frames).size(), 6U);
  EXPECT_GE(std::chrono::steady_clock::now() - start, std::chrono::milliseconds(100));
}

TEST(NewestOnly, DropsWhatNobodyTakes) {
  const Interrupt interrupt;
  const auto frames = newest_only(paced(std::make_unique<ToyFrames>(40)), interrupt);
  std::vector<int> seen;
  while (const auto frame = frames->next()) {
    EXPECT_TRUE(std::ranges::equal(frame->rgb.elements(), toy_picture(24, 32, frame->index).elements()));
    seen.push_back(frame->index);
    sleep_ms(90);  // four to five frames
  }
  EXPECT_LT(seen.size(), 20U);
  EXPECT_GE(seen.size(), 3U);
  EXPECT_TRUE(std::ranges::is_sorted(seen));
  EXPECT_EQ(std::ranges::adjacent_find(seen), seen.end());
  EXPECT_EQ(seen.back(), 39);
}

}  // namespace mnemon
