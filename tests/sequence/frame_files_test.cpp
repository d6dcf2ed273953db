// SPDX-License-Identifier: MIT
#include <mnemon/sequence/frame_files.hpp>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_sink.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

constexpr int kFilesMade = 5;

// Frames of one grey each, ten levels apart.
Image<Byte> level(int frame) {
  Image<Byte> rgb(18, 32, 3);
  for (Byte& value : rgb.elements()) value = static_cast<Byte>(100 + 10 * frame);
  return rgb;
}

void write_pictures(const std::filesystem::path& folder) {
  for (int i = 0; i < kFilesMade; ++i) write_png(folder / fmt::format("{:03}.png", i), level(i).view());
}

}  // namespace

TEST(FrameFiles, ReadsAnyPictureAsItComesInOrder) {
  const test::TempFolder folder;
  write_pictures(folder.path());
  const FrameFiles files(read_sequence(folder.path()));
  EXPECT_EQ(files.count(), kFilesMade);
  ASSERT_TRUE(files.is_file_each());
  const auto frames = files.open();
  for (int i = 0; const auto frame = frames->next(); ++i) {
    EXPECT_EQ(frame->rgb(9, 16, 1), 100 + 10 * i);
    EXPECT_EQ(files.read(i)(9, 16, 1), 100 + 10 * i);
  }
}

TEST(FrameFiles, AreLookedForOnce) {
  const test::TempFolder folder;
  write_pictures(folder.path());
  const FrameFiles files(read_sequence(folder.path()));
  write_png(folder / "005.png", level(5).view());
  EXPECT_EQ(files.count(), kFilesMade);
  EXPECT_EQ(FrameFiles(read_sequence(folder.path())).count(), kFilesMade + 1);
}

TEST(FrameFiles, OfAVideoAreOneThatComesInOrder) {
  const test::TempFolder folder;
  VideoSink sink(folder / "a.mkv", 25);
  for (int i = 0; i < kFilesMade; ++i) sink.add(level(i).view(), i / 25.0);
  sink.finish();
  const FrameFiles files(read_sequence(folder / "a.mkv"));
  EXPECT_EQ(files.paths().size(), 1U);
  EXPECT_EQ(files.count(), kFilesMade);
  EXPECT_FALSE(files.is_file_each());
}

TEST(FrameFiles, HaveATimeEach) {
  const test::TempFolder folder;
  write_pictures(folder.path());
  Sequence sequence = read_sequence(folder.path());
  sequence.times_file = "times.csv";
  sequence.times_s = {0, 0.1, 0.5, 0.6};
  test::expect_parts(test::message_of<DataError>([&] { static_cast<void>(FrameFiles(sequence)); }),
                     {"times.csv", "4 times", "5 frames"});
  sequence.times_s.push_back(1);
  const auto frames = FrameFiles(sequence).open();
  for (const double time_s : sequence.times_s) EXPECT_EQ(frames->next()->time_s, time_s);
}

}  // namespace mnemon
