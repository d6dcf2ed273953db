// SPDX-License-Identifier: MIT
#include <mnemon/media/video_sink.hpp>
#include <mnemon/media/video_source.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/geometry/box.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"
#include "support/toy_frames.hpp"

namespace mnemon {

using test::toy_picture;

namespace {

constexpr int kRows = 48;
constexpr int kCols = 64;

void write_video(const std::filesystem::path& file, int frames, double rate_hz = 25) {
  VideoSink sink(file, rate_hz);
  for (int i = 0; i < frames; ++i) sink.add(toy_picture(kRows, kCols, i).view(), i / rate_hz);
  sink.finish();
}

double mean_difference(ImageView<const Byte> a, ImageView<const Byte> b) {
  const auto x = a.elements();
  const auto y = b.elements();
  return std::transform_reduce(x.begin(), x.end(), y.begin(), 0.0, std::plus<>(),
                               [](Byte p, Byte q) { return std::abs(p - q); }) /
         static_cast<double>(x.size());
}

struct Reading {
  int frames = 0;
  std::string error;
};

Reading read_all(const std::filesystem::path& file) {
  Reading reading;
  try {
    const auto frames = open_video(file);
    while (frames->next()) ++reading.frames;
  } catch (const DataError& error) {
    reading.error = error.what();
  }
  return reading;
}

// A picture whose corners tell how it was turned: red at the top left, green at the top right.
Image<Byte> cornered(int rows, int cols) {
  Image<Byte> picture(rows, cols, 3);
  for (int r = 0; r < rows / 2; ++r)
    for (int c = 0; c < cols; ++c) picture(r, c, c < cols / 2 ? 0 : 1) = 220;
  return picture;
}

std::string y4m(const std::string& header, int frames, std::size_t bytes_a_frame) {
  std::string text = "YUV4MPEG2 " + header + "\n";
  for (int i = 0; i < frames; ++i) text += "FRAME\n" + std::string(bytes_a_frame, static_cast<char>(80 + i));
  return text;
}

}  // namespace

TEST(Video, ReadsBackWhatWasWritten) {
  const test::TempFolder folder;
  for (const char* name : {"a.mp4", "a.mov", "a.avi", "a.mkv", "a.y4m"}) {
    write_video(folder / name, 40);
    const auto frames = open_video(folder / name);
    EXPECT_NEAR(*frames->rate_hz(), 25, 1e-6) << name;
    int seen = 0;
    while (const auto frame = frames->next()) {
      ASSERT_EQ(frame->size(), (FrameSize{kCols, kRows})) << name;
      EXPECT_EQ(frame->index, seen);
      EXPECT_NEAR(frame->time_s, seen / 25.0, 1e-3) << name;
      // Full colour keeps all but rounding; MPEG-4 halves the colour's resolution and quantises.
      EXPECT_LT(mean_difference(frame->rgb, toy_picture(kRows, kCols, seen).view()),
                std::string(name) == "a.y4m" ? 1.0 : 3.0)
          << name << " " << seen;
      ++seen;
    }
    EXPECT_EQ(seen, 40) << name;
    EXPECT_FALSE(frames->next());
  }
}

TEST(Video, GivesTheSameBytesForTheSameFrames) {
  const test::TempFolder folder;
  for (const char* name : {"a.mp4", "a.avi", "a.mkv", "a.y4m"}) {
    write_video(folder / name, 5);
    const std::string first = read_file(folder / name);
    write_video(folder / name, 5);
    EXPECT_EQ(read_file(folder / name), first) << name;
  }
}

TEST(Video, SkipsFramesAndStillCountsThem) {
  const test::TempFolder folder;
  write_video(folder / "a.mp4", 12);
  const auto frames = open_video(folder / "a.mp4");
  for (int i = 0; i < 7; ++i) EXPECT_TRUE(frames->skip());
  const auto frame = frames->next();
  EXPECT_EQ(frame->index, 7);
  EXPECT_LT(mean_difference(frame->rgb, toy_picture(kRows, kCols, 7).view()), 3);
  for (int i = 8; i < 12; ++i) EXPECT_TRUE(frames->skip());
  EXPECT_FALSE(frames->skip());
}

TEST(Video, KeepsUnevenTimes) {
  const test::TempFolder folder;
  const std::vector<double> times{0, 0.04, 0.05, 0.5, 0.51, 2};
  for (const char* name : {"a.mp4", "a.mkv"}) {
    VideoSink sink(folder / name, 25);
    for (const double time : times) sink.add(toy_picture(kRows, kCols, 0).view(), time);
    sink.finish();
    const auto frames = open_video(folder / name);
    for (const double time : times) EXPECT_NEAR(frames->next()->time_s, time, 1e-3) << name;
    EXPECT_FALSE(frames->next()) << name;
  }
}

TEST(Video, DoesNotBelieveTheHeadersCount) {
  const test::TempFolder folder;
  write_video(folder / "a.avi", 9);
  std::string bytes = read_file(folder / "a.avi");
  const auto header = bytes.find("avih");
  bytes[header + 8 + 16] = 77;  // dwTotalFrames
  const auto stream = bytes.find("strh");
  bytes[stream + 8 + 32] = 3;  // dwLength
  write_file(folder / "lies.avi", bytes);
  EXPECT_EQ(read_all(folder / "lies.avi").frames, 9);
}

TEST(Video, IsTurnedAsTheFileSays) {
  const test::TempFolder folder;
  VideoSink sink(folder / "a.mp4", 25);
  sink.add(cornered(kRows, kCols).view(), 0);
  sink.finish();
  const std::string bytes = read_file(folder / "a.mp4");
  const std::string one("\0\1\0\0", 4), none(4, '\0'), minus("\xff\xff\0\0", 4), w("\x40\0\0\0", 4);
  const std::string upright = one + none + none + none + one + none + none + none + w;
  struct Case {
    std::string matrix;
    FrameSize size;
    Point red;  // where the red corner must be, as shares
  };
  const Case cases[] = {
      {none + one + none + minus + none + none + none + none + w, {kRows, kCols}, {0.75, 0.25}},  // clockwise
      {none + minus + none + one + none + none + none + none + w, {kRows, kCols}, {0.25, 0.75}},
      {minus + none + none + none + minus + none + none + none + w, {kCols, kRows}, {0.75, 0.75}},
      {minus + none + none + none + one + none + none + none + w, {kCols, kRows}, {0.75, 0.25}}};  // mirrored
  for (const Case& turned : cases) {
    std::string changed = bytes;
    const auto track = changed.find("tkhd");
    const auto at = changed.find(upright, track);
    ASSERT_NE(at, std::string::npos);
    changed.replace(at, upright.size(), turned.matrix);
    write_file(folder / "turned.mp4", changed);
    const auto frames = open_video(folder / "turned.mp4");
    const auto frame = frames->next();
    ASSERT_EQ(frame->size(), turned.size);
    const int r = static_cast<int>(turned.red.y * turned.size.height);
    const int c = static_cast<int>(turned.red.x * turned.size.width);
    EXPECT_GT(frame->rgb(r, c, 0), 150);
    EXPECT_LT(frame->rgb(r, c, 1), 80);
  }
}

TEST(Video, HasSquarePixels) {
  const test::TempFolder folder;
  write_file(folder / "wide.y4m", y4m("W16 H12 F25:1 Ip A2:1 C444", 1, 16 * 12 * 3));
  EXPECT_EQ(open_video(folder / "wide.y4m")->next()->size(), (FrameSize{32, 12}));
  write_file(folder / "narrow.y4m", y4m("W16 H12 F25:1 Ip A1:2 Cmono", 1, 16 * 12));
  EXPECT_EQ(open_video(folder / "narrow.y4m")->next()->size(), (FrameSize{8, 12}));
}

TEST(Video, ReadsTheLevelsOfStudioRange) {
  const test::TempFolder folder;
  // Grey of level 80 between 16 and 235 is 255 (80 - 16) / 219.
  write_file(folder / "grey.y4m", "YUV4MPEG2 W16 H16 F25:1 Ip A1:1 C444\nFRAME\n" + std::string(256, 80) +
                                      std::string(512, '\x80'));
  const auto frames = open_video(folder / "grey.y4m");
  const auto frame = frames->next();
  for (int k = 0; k < 3; ++k) EXPECT_NEAR(frame->rgb(8, 8, k), 255 * 64 / 219.0, 1);
}

TEST(Video, InterpolatesColoursThatAreHalfAsFineWhereTheyAre) {
  const test::TempFolder folder;
  constexpr int kSide = 16;
  // Grey that turns red from the middle up and down, and blue to the left and right.
  std::string blue;
  std::string red;
  for (int r = 0; r < kSide / 2; ++r)
    for (int c = 0; c < kSide / 2; ++c) {
      blue += static_cast<char>(100 + 8 * std::max(c, 7 - c));
      red += static_cast<char>(100 + 8 * std::max(r, 7 - r));
    }
  // With samples in the middle of each four pixels.
  write_file(folder / "ramps.y4m", "YUV4MPEG2 W16 H16 F25:1 Ip A1:1 C420jpeg\nFRAME\n" +
                                       std::string(kSide * kSide, '\x80') + blue + red);
  const auto frames = open_video(folder / "ramps.y4m");
  const ImageView<const Byte> rgb = frames->next()->rgb;
  for (int i = 0; i < kSide / 2; ++i)
    for (int k = 0; k < kSide; ++k)
      for (const int channel : {0, 1, 2}) {
        EXPECT_EQ(rgb(i, k, channel), rgb(kSide - 1 - i, k, channel)) << i << " " << k;
        EXPECT_EQ(rgb(k, i, channel), rgb(k, kSide - 1 - i, channel)) << i << " " << k;
      }
  for (int i = 9; i < kSide - 2; ++i) {
    EXPECT_GT(rgb(i + 1, 4, 0), rgb(i, 4, 0)) << i;
    EXPECT_GT(rgb(4, i + 1, 2), rgb(4, i, 2)) << i;
  }
}

TEST(Video, GivesTheFramesBeforeTheDamageAndNamesIt) {
  const test::TempFolder folder;
  write_video(folder / "a.mkv", 60);
  const std::string whole = read_file(folder / "a.mkv");
  write_file(folder / "cut.mkv", whole.substr(0, whole.size() / 2));
  const Reading cut = read_all(folder / "cut.mkv");
  EXPECT_GT(cut.frames, 20);
  EXPECT_LT(cut.frames, 40);
  test::expect_parts(cut.error, {"cut.mkv", ("frame " + std::to_string(cut.frames)).c_str()});

  std::string flipped = whole;
  for (std::size_t i = 0; i < 60; ++i) flipped[whole.size() / 2 + i] ^= 0x5a;
  write_file(folder / "flipped.mkv", flipped);
  const Reading broken = read_all(folder / "flipped.mkv");
  EXPECT_GT(broken.frames, 20);
  EXPECT_LT(broken.frames, 40);
  test::expect_parts(broken.error, {"flipped.mkv", ("frame " + std::to_string(broken.frames)).c_str()});

  write_file(folder / "cut.y4m", y4m("W16 H12 F25:1 C444", 3, 576).substr(0, 1500));
  const Reading stream = read_all(folder / "cut.y4m");
  EXPECT_EQ(stream.frames, 2);
}

TEST(Video, RefusesWhatIsNone) {
  const test::TempFolder folder;
  const auto message = [&](const std::string& name, const std::string& contents) {
    write_file(folder / name, contents);
    return test::message_of<DataError>([&] { (void)open_video(folder / name); });
  };
  test::expect_parts(message("text.mp4", "these are words\n"), {"text.mp4", "cannot be read as a video"});
  test::expect_parts(message("empty.avi", ""), {"empty.avi", "cannot be read as a video"});
  // A list of other files must not make us open them.
  test::expect_parts(message("list.ffconcat", "ffconcat version 1.0\nfile text.mp4\n"), {"list.ffconcat"});
  test::expect_parts(message("list.m3u8", "#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\n/etc/passwd\n"),
                     {"list.m3u8"});
  test::expect_parts(test::message_of<DataError>([&] { (void)open_video(folder / "none.mp4"); }),
                     {"none.mp4", "no such file"});
  test::expect_parts(
      test::message_of<DataError>([] { (void)open_capture_device("/dev/no-camera", Interrupt()); }),
      {"camera:/dev/no-camera", "cannot be opened as a camera"});
}

TEST(VideoSink, LeavesNothingWhereItIsGivenUp) {
  const test::TempFolder folder;
  {
    VideoSink sink(folder / "a.mp4", 25);
    sink.add(toy_picture(kRows, kCols, 0).view(), 0);
  }
  EXPECT_TRUE(test::names_in(folder.path()).empty());
}

TEST(VideoSink, RefusesWhatItCannotWrite) {
  const test::TempFolder folder;
  test::expect_parts(test::message_of<CallError>([&] { const VideoSink sink(folder / "a.webm", 25); }),
                     {"a.webm", ".mp4", ".mkv"});
  test::expect_parts(test::message_of<CallError>([&] { const VideoSink sink(folder / "a.mp4", 0); }),
                     {"0 frames"});
  VideoSink sink(folder / "a.mp4", 25);
  test::expect_parts(test::message_of<CallError>([&] { sink.finish(); }), {"at least one frame"});
  sink.add(toy_picture(kRows, kCols, 0).view(), 0);
  test::expect_parts(test::message_of<CallError>([&] { sink.add(toy_picture(kRows, 80, 0).view(), 0.1); }),
                     {"80 x 48", "64 x 48"});
  EXPECT_THROW(VideoSink("/proc/none/a.mkv", 25), DataError);
}

TEST(VideoSink, CutsOddSizes) {
  const test::TempFolder folder;
  VideoSink sink(folder / "a.mp4", 25);
  sink.add(toy_picture(33, 51, 0).view(), 0);
  sink.finish();
  const auto frames = open_video(folder / "a.mp4");
  const auto frame = frames->next();
  EXPECT_EQ(frame->size(), (FrameSize{50, 32}));
}

}  // namespace mnemon
