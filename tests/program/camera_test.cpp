// SPDX-License-Identifier: MIT
// The program on a device that answers as a camera's does (support/stand_in_camera.cpp).
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/trace.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

// The square is at 40 px on the device's first frame, goes right by 2 px a frame of 30 a second, and is followed once a second has
// passed.
constexpr double kLeft = 40 + 2 * 30;

Outcome followed(const TempFolder& folder, const std::string& before, const std::string& options) {
  return run_program(
      {"sh", "-c",
       "STAND_IN_CAMERA=settings LD_PRELOAD=" MNEMON_STAND_IN_CAMERA " " + before + " " +
           MNEMON_PROGRAM_DIR
           "/mnemon follow camera:/dev/video-stand-in --tracker corr-plain --box 100,90,48,48 " +
           options},
      folder.path());
}

}  // namespace

TEST(FollowedCamera, IsHeldWhileItIsFollowed) {
  const TempFolder folder;
  const Outcome outcome = followed(folder, "", "--to 40 --trace trace.csv");
  ASSERT_EQ(outcome.status, 0) << outcome.err;
  // White balance went up by 10 a frame until it was held, once the first frame after a second had come.
  const std::string settings = "exposure 156 held, gain not held, white balance 43";
  expect_parts(outcome.err, {"camera:/dev/video-stand-in: ", settings.c_str()});
  const std::string text = read_file(folder / "trace.csv");
  expect_parts(text, {"# camera: ", settings.c_str()});
  const Trace trace = parse_trace(text, "trace.csv");
  ASSERT_EQ(trace.rows.size(), 41U);
  // Each is a frame of its own and shows the square further right: at the end by the broken frame more, at least.
  double before = kLeft - 2;
  for (const TraceRow& row : trace.rows) {
    EXPECT_GT(row.box.box.x, before + 1) << row.frame;
    EXPECT_NEAR(row.box.box.y, 90, 1) << row.frame;
    before = row.box.box.x;
  }
  EXPECT_GT(before, kLeft + 2 * 41 - 2);
  // It goes by itself again, and what it was held at has not drifted since; gain could not be taken and so was not touched.
  expect_parts(read_file(folder / "settings"), {"exposure 3 156, gain 1 12, white balance 1 43"});
}

TEST(FollowedCamera, IsLetGoWhereSomebodyInterrupts) {
  const TempFolder folder;
  const Outcome outcome = followed(folder, "timeout --preserve-status --signal INT 3", "--trace trace.csv");
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  EXPECT_GT(parse_trace(read_file(folder / "trace.csv"), "trace.csv").rows.size(), 10U);
  expect_parts(read_file(folder / "settings"), {"exposure 3 156", "white balance 1 43"});
}

TEST(FollowedCamera, ThatIsPulledOutLeavesItsRows) {
  const TempFolder folder;
  const Outcome outcome = followed(folder, "STAND_IN_CAMERA_UNPLUGGED=60", "--trace trace.csv");
  EXPECT_EQ(outcome.status, 1);
  expect_parts(outcome.err, {"camera:/dev/video-stand-in: sends no more frames: No such device",
                             "rows are kept in trace.csv.partial"});
  EXPECT_GT(parse_trace(read_file(folder / "trace.csv.partial"), "trace.csv.partial").rows.size(), 10U);
  expect_parts(read_file(folder / "settings"), {"exposure 3 156", "white balance 1 43", "frames 60"});
}

}  // namespace mnemon::test
