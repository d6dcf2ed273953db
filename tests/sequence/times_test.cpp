// SPDX-License-Identifier: MIT
#include <mnemon/sequence/times.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/sequence/sequence.hpp>

#include "support/fingerprint_of.hpp"
#include "support/messages.hpp"
#include "support/temp_folder.hpp"
#include "support/toy_frames.hpp"

namespace mnemon {
namespace {

TEST(Times, CountFromTheFirst) {
  const auto times =
      parse_times("time_s,frame\n1700000000.5,0\n1700000000.75,1\n1700000002,2\n", "times.csv");
  EXPECT_EQ(times, (std::vector<double>{0, 0.25, 1.5}));
  EXPECT_EQ(parse_times(times_text({0, 0.1, 1.0 / 3}), "x"), (std::vector<double>{0, 0.1, 1.0 / 3}));
}

TEST(Times, SayWhatIsWrong) {
  const auto wrong = [](const char* text) {
    return test::message_of<DataError>([text] { (void)parse_times(text, "times.csv"); });
  };
  test::expect_parts(wrong("frame,time_s\n0,1\n2,2\n"), {"times.csv:3:1", "is to be 1"});
  test::expect_parts(wrong("frame,time_s\n0,1\n1,1\n"), {"times.csv:3:3", "later time"});
  test::expect_parts(wrong("frame,time_s\n0,nan\n"), {"times.csv:2:3"});
  test::expect_parts(wrong("frame,time_s\n"), {"no times"});
  test::expect_parts(wrong("frame,t\n0,1\n"), {"time_s"});
}

class Timed : public testing::Test {
 protected:
  Timed() {
    for (int i = 0; i < 3; ++i)
      write_png(folder / (std::to_string(i) + ".png"), test::toy_picture(24, 32, i).view());
    describe("");
    write_file(folder / "times.csv", "frame,time_s\n0,10\n1,10.5\n2,14\n");
  }
  void describe(const std::string& more) {
    write_file(folder / "sequence.toml",
               "format = \"mnemon-sequence/1\"\nframes = \".\"\ntimes = \"times.csv\"\n" + more);
  }
  const test::TempFolder folder;
};

TEST_F(Timed, GivesFramesTheirTimesAndTheSequenceItsRate) {
  const Sequence sequence = read_sequence(folder.path());
  EXPECT_DOUBLE_EQ(sequence.rate_hz, 0.5);
  const auto frames = open_frames(sequence);
  EXPECT_DOUBLE_EQ(frames->next()->time_s, 0);
  EXPECT_DOUBLE_EQ(frames->next()->time_s, 0.5);
  EXPECT_TRUE(frames->seek(2));
  EXPECT_DOUBLE_EQ(frames->next()->time_s, 4);
  describe("rate_hz = 25.0\n");
  EXPECT_DOUBLE_EQ(read_sequence(folder.path()).rate_hz, 25);
}

TEST_F(Timed, IsAnotherSequenceWhereTimesDiffer) {
  const std::string before = test::fingerprint_of(read_sequence(folder.path()));
  write_file(folder / "times.csv", "frame,time_s\n0,10\n1,10.5\n2,15\n");
  EXPECT_NE(test::fingerprint_of(read_sequence(folder.path())), before);
}

TEST_F(Timed, RefusesTimesOfOtherFrames) {
  write_file(folder / "times.csv", "frame,time_s\n0,10\n1,10.5\n");
  const Sequence sequence = read_sequence(folder.path());
  test::expect_parts(test::message_of<DataError>([&] { (void)open_frames(sequence); }),
                     {"times.csv", "2 times", "3 frames"});
}

TEST_F(Timed, IsWrittenWithItsTimes) {
  const test::TempFolder copy;
  Sequence sequence = read_sequence(folder.path());
  sequence.frames = folder.path().string();
  write_sequence(sequence, copy.path());
  EXPECT_EQ(read_sequence(copy.path()).times_s, sequence.times_s);
}

}  // namespace
}  // namespace mnemon
