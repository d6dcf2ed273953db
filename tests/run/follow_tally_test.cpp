// SPDX-License-Identifier: MIT
#include <mnemon/run/follow_tally.hpp>

#include <gtest/gtest.h>

#include <mnemon/media/picture_file.hpp>

#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

const OrientedBox kPlace{{10, 10, 20, 20}, 0};

// Ten frames of truth: on the last two the target is away.
Sequence ten_frames() {
  Sequence sequence;
  for (int i = 0; i < 10; ++i) sequence.truth.rows.emplace_back(i, kPlace, i < 8);
  return sequence;
}

}  // namespace

TEST(FollowTally, CountsRowsAndSteps) {
  const Sequence sequence = ten_frames();
  FollowTally tally(sequence, true);
  EXPECT_EQ(tally.frames(), 0);
  tally.take({2, kPlace, 1, true, 50, Event::seed});
  tally.take({3, kPlace, 1, true, 1});
  tally.take({4, kPlace, 1, true, {}, Event::skip});
  tally.take({5, kPlace, 0, false, 3});
  tally.take({6, kPlace, 1, true, 5});
  const FollowSummary summary = tally.summary();
  EXPECT_EQ(summary.first_frame, 2);
  EXPECT_EQ(summary.last_frame, 6);
  EXPECT_EQ(summary.frames, 5);
  EXPECT_EQ(summary.lost_frames, 1);
  EXPECT_EQ(summary.skipped_frames, 1);
  EXPECT_DOUBLE_EQ(*summary.step_ms_mean, 3);  // of three steps; seeding is none
  EXPECT_DOUBLE_EQ(*summary.step_ms_p50, 3);
  EXPECT_DOUBLE_EQ(*summary.frames_per_s, 1000.0 / 3);
}

TEST(FollowTally, ScoresWhatItKeeps) {
  const Sequence sequence = ten_frames();
  FollowTally kept(sequence, true);
  FollowTally counted(sequence, false);
  for (int i = 0; i < 10; ++i) {
    const TraceRow row(i, kPlace, 1, i % 2 == 0 || i == 9, 1, i == 0 ? Event::seed : Event::none);
    kept.take(row);
    counted.take(row);
  }
  // Of frames 1 to 7 three are told right; of frames 8 and 9 none is told absent.
  EXPECT_DOUBLE_EQ(*kept.summary().score->success_area, 3.0 / 7);
  EXPECT_DOUBLE_EQ(*kept.summary().score->absence_rate, 0);
  EXPECT_FALSE(counted.summary().score);
  EXPECT_FALSE(counted.summary().rows_kept);
  EXPECT_FALSE(counted.summary().step_ms_p50);
  EXPECT_DOUBLE_EQ(*counted.summary().step_ms_mean, 1);
  EXPECT_FALSE(FollowTally(Sequence(), true).summary().score);
}

TEST(FollowTally, ComparesMasksWithTheTrueOnes) {
  const test::TempFolder folder;
  Sequence sequence = ten_frames();
  sequence.folder = folder.path();
  sequence.masks = "%d.png";
  Image<Byte> left(40, 40);
  for (int r = 0; r < 40; ++r)
    for (int c = 0; c < 20; ++c) left(r, c) = 255;
  for (int i = 0; i < 3; ++i) write_png(folder.path() / (std::to_string(i) + ".png"), left.view());
  FollowTally tally(sequence, false);
  EXPECT_FALSE(tally.summary().mask_overlap);
  tally.compare({0, kPlace, 1, true}, left.view());  // all of it
  Image<Byte> quarter(40, 40);
  for (int r = 0; r < 20; ++r)
    for (int c = 0; c < 20; ++c) quarter(r, c) = 1;
  tally.compare({1, kPlace, 1, true}, quarter.view());  // half of it
  tally.compare({2, kPlace, 0, false}, left.view());    // told to be absent
  tally.compare({8, kPlace, 1, true}, left.view());     // no true mask there, as the target is away
  EXPECT_EQ(tally.summary().masks_compared, 3);
  EXPECT_DOUBLE_EQ(*tally.summary().mask_overlap, 1.5 / 3);
}

}  // namespace mnemon
