// SPDX-License-Identifier: MIT
#include <mnemon/sequence/input.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/sequence/import.hpp>

#include "support/fingerprint_of.hpp"
#include "support/messages.hpp"
#include "support/temp_folder.hpp"
#include "support/toy_frames.hpp"

namespace mnemon {
namespace {

const Interrupt kInterrupt;

class InputOnDisk : public ::testing::Test {
 protected:
  InputOnDisk() {
    make_folder(folder_ / "shots");
    VideoSink video(folder_ / "clip.mp4", 50);
    for (int i = 0; i < 5; ++i) {
      const Image<Byte> picture = test::toy_picture(24, 32, i);
      write_png(folder_ / ("shots/shot" + std::to_string(i) + ".png"), picture.view());
      video.add(picture.view(), i / 50.0);
    }
    video.finish();
  }

  [[nodiscard]] Input open(const std::string& name) const {
    return open_input((folder_ / name).string(), kInterrupt);
  }

  test::TempFolder folder_;
};

Truth boxes(int count) {
  Truth truth;
  for (int i = 0; i < count; ++i) truth.rows.push_back({i, {{2.0 + i, 3, 8, 6}, 0}, true, 1});
  return truth;
}

}  // namespace

TEST_F(InputOnDisk, IsAFolderAVideoOrADescription) {
  EXPECT_EQ(open("shots").frames->total(), 5);
  const Input clip = open("clip.mp4");
  EXPECT_EQ(clip.sequence.name, "clip");
  EXPECT_NEAR(clip.sequence.rate_hz, 50, 1e-6);
  EXPECT_FALSE(clip.is_stream);
  EXPECT_EQ(count_frames(clip.sequence), 5);
  write_file(folder_ / "described/sequence.toml",
             "format = \"mnemon-sequence/1\"\nframes = \"../clip.mp4\"\nrate_hz = 50\n");
  EXPECT_EQ(count_frames(open("described").sequence), 5);
  EXPECT_NE(test::fingerprint_of(open("described").sequence), test::fingerprint_of(clip.sequence));
}

TEST_F(InputOnDisk, PlaysASequenceAsACameraWould) {
  const Input camera = open_input("camera:sim:" + (folder_ / "shots").string(), kInterrupt);
  EXPECT_TRUE(camera.is_stream);
  int last = -1;
  while (const auto frame = camera.frames->next()) {
    EXPECT_GT(frame->index, last);
    last = frame->index;
  }
  EXPECT_EQ(last, 4);
}

TEST_F(InputOnDisk, MustBeThere) {
  test::expect_parts(test::message_of<CallError>([] { (void)open_input("camera:", kInterrupt); }),
                     {"names no device"});
  test::expect_parts(test::message_of<CallError>([] { (void)open_input("camera:sim:/none", kInterrupt); }),
                     {"/none"});
  write_file(folder_ / "broken.mp4", "no video at all");
  test::expect_parts(test::message_of<DataError>([this] { (void)open("broken.mp4"); }), {"broken.mp4"});
}

TEST_F(InputOnDisk, IsDescribedFromElsewhereWithoutACopy) {
  for (const char* frames : {"shots", "clip.mp4"}) {
    const std::filesystem::path to = folder_ / "mine" / frames;
    make_folder(to);
    const DescribedFrames described = describe_frames(folder_ / frames, boxes(5), to);
    EXPECT_EQ(described.count, 5);
    write_sequence(described.sequence, to);
    EXPECT_EQ(test::names_in(to), (std::set<std::string>{"sequence.toml", "truth.csv"}));
    const Sequence sequence = read_sequence(to);
    EXPECT_EQ(sequence.truth.rows, boxes(5).rows);
    EXPECT_EQ(count_frames(sequence), 5);
    EXPECT_FALSE(std::filesystem::path(sequence.frames).is_absolute());
  }
  test::expect_parts(test::message_of<DataError>(
                         [this] { (void)describe_frames(folder_ / "shots", boxes(6), folder_ / "mine"); }),
                     {"shots", "5 frames", "box for frame 5"});
}

}  // namespace mnemon
