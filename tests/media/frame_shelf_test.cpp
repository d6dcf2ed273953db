// SPDX-License-Identifier: MIT
#include <mnemon/media/frame_shelf.hpp>

#include <algorithm>
#include <thread>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/media/video_source.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"
#include "support/toy_frames.hpp"

namespace mnemon {
namespace {

constexpr int kFrames = 60;

bool is_same(ImageView<const Byte> a, ImageView<const Byte> b) {
  return a.has_shape_of(b) && std::ranges::equal(a.elements(), b.elements());
}

// The frames as they come, against which any other order is compared.
struct Known {
  explicit Known(const OpenFrames& open) {
    const auto frames = open();
    while (const auto frame = frames->next()) {
      pictures.push_back(copy_of(frame->rgb));
      times.push_back(frame->time_s);
    }
  }
  void expect(FrameShelf& shelf, int index) const {
    const KeptFrame frame = shelf.at(index);
    EXPECT_EQ(frame.index, index);
    EXPECT_TRUE(is_same(frame.rgb->view(), pictures.at(index).view())) << index;
    EXPECT_DOUBLE_EQ(frame.time_s, times.at(index)) << index;
  }
  std::vector<Image<Byte>> pictures;
  std::vector<double> times;
};

// To and fro, near and far, a frame twice, and both ends.
const std::vector<int> kOrder{0, 1, 2, 40, 39, 38, 38, 7, 59, 0, 12, 13, 14, 15, 30, 29, 58, 3};

void expect_any_order(const OpenFrames& open, std::size_t bytes) {
  const Known known(open);
  ASSERT_EQ(known.pictures.size(), kFrames);
  FrameShelf shelf(open, bytes);
  EXPECT_EQ(shelf.count(), kFrames);
  for (const int index : kOrder) known.expect(shelf, index);
  test::expect_parts(test::message_of<CallError>([&] { (void)shelf.at(kFrames); }), {"no frame 60"});
  test::expect_parts(test::message_of<CallError>([&] { (void)shelf.at(-1); }), {"no frame -1"});
  known.expect(shelf, 5);  // what was refused did no harm
}

TEST(FrameShelf, GivesFramesOfASourceThatOnlyGoesForwards) {
  expect_any_order([] { return std::make_unique<test::ToyFrames>(kFrames); }, 1 << 20);
  expect_any_order([] { return std::make_unique<test::ToyFrames>(kFrames); }, 1);  // one frame fits
}

// The sinks' own videos have a key frame every twelve frames or so, with none between that stand alone.
TEST(FrameShelf, GivesFramesOfVideosInAnyOrder) {
  const test::TempFolder folder;
  for (const char* name : {"a.mp4", "a.mkv", "a.avi", "a.mov", "a.y4m"}) {
    SCOPED_TRACE(name);
    VideoSink sink(folder / name, 25);
    for (int i = 0; i < kFrames; ++i) sink.add(test::toy_picture(48, 64, i).view(), i / 25.0);
    sink.finish();
    expect_any_order([&] { return open_video(folder / name); }, 200'000);
  }
}

TEST(FrameShelf, GivesPicturesInAnyOrder) {
  const test::TempFolder folder;
  std::vector<std::filesystem::path> files;
  for (int i = 0; i < kFrames; ++i) {
    files.push_back(folder / (std::to_string(i) + ".png"));
    write_png(files.back(), test::toy_picture(24, 32, i).view());
  }
  expect_any_order([&] { return open_pictures(files, 10); }, 20'000);
}

TEST(FrameShelf, TellsWhatBrokeAndGoesOn) {
  FrameShelf shelf([] { return std::make_unique<test::ToyFrames>(20, true); });
  (void)shelf.at(18);
  (void)shelf.at(19);  // reads ahead into what is broken
  test::expect_parts(test::message_of<DataError>([&] { (void)shelf.at(20); }), {"frame 20 is broken"});
  EXPECT_EQ(shelf.at(3).index, 3);
}

TEST(FrameShelf, KeepsWhatSomebodyHas) {
  FrameShelf shelf([] { return std::make_unique<test::ToyFrames>(kFrames); }, 1);
  const KeptFrame first = shelf.at(0);
  for (int i = 1; i < 30; ++i) (void)shelf.at(i);
  EXPECT_TRUE(is_same(first.rgb->view(), test::toy_picture(24, 32, 0).view()));
}

TEST(FrameShelf, ServesSeveralThreads) {
  const OpenFrames open = [] { return std::make_unique<test::ToyFrames>(kFrames); };
  const Known known(open);
  FrameShelf shelf(open, 40'000);
  std::vector<std::thread> threads;
  for (int t = 0; t < 4; ++t)
    threads.emplace_back([&, t] {
      for (int i = 0; i < 100; ++i) known.expect(shelf, (7 * i + 13 * t) % kFrames);
    });
  for (std::thread& thread : threads) thread.join();
}

TEST(FrameShelf, LetsTheOldestLiveFramesGo) {
  FrameShelf shelf(std::size_t{10} * 24 * 32 * 3);
  EXPECT_EQ(shelf.count(), 0);
  for (int i = 0; i < 25; ++i) shelf.put(test::toy_picture(24, 32, i).view(), i / 10.0);
  EXPECT_EQ(shelf.count(), 25);
  EXPECT_EQ(shelf.first(), 15);
  EXPECT_TRUE(is_same(shelf.at(15).rgb->view(), test::toy_picture(24, 32, 15).view()));
  EXPECT_DOUBLE_EQ(shelf.at(24).time_s, 2.4);
  test::expect_parts(test::message_of<CallError>([&] { (void)shelf.at(14); }),
                     {"14 is kept no longer", "15"});
  test::expect_parts(test::message_of<CallError>([&] { (void)shelf.at(25); }), {"no frame 25 yet"});
}

}  // namespace
}  // namespace mnemon
