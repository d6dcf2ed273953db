// SPDX-License-Identifier: MIT
#include <mnemon/study/frame_store.hpp>

#include <algorithm>
#include <atomic>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"
#include "support/toy_frames.hpp"

namespace mnemon {
namespace {

constexpr std::size_t kPlenty = 1 << 24;

FrameOrigin toy_origin(int count) {
  return {count,
          {32, 24},
          50,
          [](int i) { return test::toy_picture(24, 32, i); },
          [count] { return std::make_unique<test::ToyFrames>(count); }};
}

void expect_all(const FrameStore& store, int count) {
  const auto frames = store.open();
  for (int i = 0; i < count; ++i) {
    const auto frame = frames->next();
    ASSERT_TRUE(frame);
    EXPECT_EQ(frame->index, i);
    EXPECT_DOUBLE_EQ(frame->time_s, i / 50.0);
    EXPECT_TRUE(std::ranges::equal(frame->rgb.elements(), test::toy_picture(24, 32, i).elements()));
  }
  EXPECT_FALSE(frames->next());
}

}  // namespace

TEST(FrameStore, GivesTheSameFramesKeptAndNot) {
  FrameOrigin origin = toy_origin(7);
  const FrameStore kept(origin, kPlenty, 2);
  const FrameStore not_kept(origin, 7 * 24 * 32 * 3 - 1, 2);
  EXPECT_TRUE(kept.is_kept());
  EXPECT_FALSE(not_kept.is_kept());
  expect_all(kept, 7);
  expect_all(not_kept, 7);
  origin.make = nullptr;  // as of a video
  const FrameStore in_order(origin, kPlenty, 2);
  EXPECT_TRUE(in_order.is_kept());
  expect_all(in_order, 7);
}

TEST(FrameStore, ReadsEachFrameOnce) {
  std::atomic<int> made = 0;
  FrameOrigin origin = toy_origin(9);
  origin.make = [&made](int i) {
    ++made;
    return test::toy_picture(24, 32, i);
  };
  const FrameStore store(origin, kPlenty, 2);
  for (int run = 0; run < 3; ++run) expect_all(store, 9);
  EXPECT_EQ(made, 9);
}

TEST(FrameStore, SaysWhichFrameIsWrong) {
  FrameOrigin origin = toy_origin(5);
  origin.make = [](int i) { return test::toy_picture(i == 3 ? 20 : 24, 32, i); };
  test::expect_parts(test::message_of<Error>([&] { const FrameStore store(origin, kPlenty, 1); }),
                     {"frame 3 is 32 x 20", "the first is 32 x 24"});
  origin.make = nullptr;
  origin.open = [] { return std::make_unique<test::ToyFrames>(4); };
  test::expect_parts(test::message_of<Error>([&] { const FrameStore store(origin, kPlenty, 1); }),
                     {"4 frames instead of 5"});
}

TEST(MemoryForFrames, IsThere) { EXPECT_GT(memory_for_frames(), std::size_t{1} << 20); }

}  // namespace mnemon
