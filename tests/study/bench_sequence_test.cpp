// SPDX-License-Identifier: MIT
#include <mnemon/study/bench_sequence.hpp>

#include <algorithm>
#include <filesystem>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/runner.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "study/study_on_disk.hpp"
#include "support/messages.hpp"
#include "support/small_demo.hpp"

namespace mnemon {
namespace {

using test::kOneTracker;
using test::message_of;
using test::process_entry;

class SequenceRun : public test::StudyOnDisk {};

}  // namespace

TEST_F(SequenceRun, SweepsTheWidthThatTrackersSee) {
  run("[[tracker]]\nname = \"corr-plain\"\nsweep = { width = [0, 320] }\n" +
      process_entry("apart", "\"serve\", \"corr-plain\"", "set = { width = 320 }\n"));
  const Study read = study();
  ASSERT_EQ(read.trackers.size(), 4U);
  EXPECT_EQ(read.trackers[2].label, "corr-plain: width=320");
  const std::size_t each = read.runs.size() / 4;
  for (std::size_t i = 0; i < each; ++i) {
    const Trace& full = read.runs[each + i].trace;
    const Trace& half = read.runs[2 * each + i].trace;
    ASSERT_EQ(read.runs[2 * each + i].failure, "");
    EXPECT_NE(full.rows.back().box, half.rows.back().box);
    // Boxes are in the pixels of the frames as they come, and a process is shown the same.
    for (std::size_t k = 0; k < full.rows.size(); ++k) {
      EXPECT_EQ(read.runs[3 * each + i].trace.rows[k].box, half.rows[k].box);
      if (read.sequences[read.runs[i].sequence].name == "steady") {
        EXPECT_GT(overlap(half.rows[k].box, full.rows[k].box), 0.9) << k;
      }
    }
  }
  const auto refusal = [&](const std::string& trackers) {
    return message_of<DataError>([&] { run(trackers); });
  };
  test::expect_parts(refusal("[[tracker]]\nname = \"corr-plain\"\nset = { width = 4 }\n"), {"8 to 8192 px"});
  test::expect_parts(refusal(process_entry("apart", "\"serve\", \"stay\"", "set = { width = 4 }\n")),
                     {"8 to 8192 px"});
}

TEST_F(SequenceRun, RunsGeneratedSequences) {
  const std::string stress =
      "[[stress]]\nscene = \"steady\"\nknob = \"noise\"\nlevels = [0, 0.5]\nrandom = 2\nframes = 5\n";
  EXPECT_EQ(run(kOneTracker + stress).made, 2 + 4);
  const Study read = study();
  ASSERT_EQ(read.sequences.size(), 6U);
  EXPECT_EQ(read.sequences[3].name, "steady.noise-0.2");
  EXPECT_EQ(read.sequences[4].stress, (StressPoint{"steady", "noise", 0.5, 1}));
  EXPECT_EQ(read.sequences[4].tags, std::vector<std::string>{"noise"});
  EXPECT_EQ(read.runs.at(4).trace.rows.size(), 5U);
  EXPECT_EQ(run(kOneTracker + stress).kept, 6);
  // Another tracker runs on what the study knows already, from the same truth.
  EXPECT_EQ(run("[[tracker]]\nname = \"stay\"\n" + stress).failed, 0);
  EXPECT_EQ(study().runs.at(3).trace.rows.front().box, read.runs.at(3).trace.rows.front().box);
}

TEST_F(SequenceRun, IsOfTheTruthThatTheStudyKnows) {
  write_file(folder_ / "plan.toml",
             "format = \"mnemon-plan/1\"\nsequences = [\"kites/steady\"]\n"
             "protocols = [\"single\", \"nudges\"]\n" +
                 std::string(kOneTracker));
  const Plan plan = read_plan(folder_ / "plan.toml", Catalogue::standard());
  StudyWriter writer(folder_ / "other");
  const std::vector<BenchSequence> all = bench_sequences(plan, 1, writer);
  ASSERT_EQ(all.size(), 1U);
  EXPECT_EQ(all[0].starts, (std::vector<int>{1, 12}));
  EXPECT_TRUE(all[0].study.truth.rows.empty());  // as that of many takes much memory
  EXPECT_EQ(all[0].open().facts.truth.rows.size(), 8U);
  const std::filesystem::path file = folder_ / "kites/steady/truth.csv";
  const std::string truth = read_file(file);
  write_file(file, truth.substr(0, truth.rfind('\n', truth.size() - 2) + 1));
  test::expect_parts(test::message_of<DataError>([&] { (void)all[0].open(); }),
                     {"steady", "another truth", "run the plan again"});
}

TEST_F(SequenceRun, FailsTheRunsOnSequencesThatCannotBeReadAndGoesOn) {
  std::filesystem::create_directory(folder_ / "kites/empty");
  write_file(folder_ / "kites/no-truth/sequence.toml",
             "format = \"mnemon-sequence/1\"\nframes = \"frames/%06d.jpg\"\n");
  std::filesystem::copy(folder_ / "kites/steady/frames", folder_ / "kites/no-truth/frames");
  const std::string plan =
      "format = \"mnemon-plan/1\"\nsequences = [\"kites/*\", \"kites/gone\"]\nprotocols = [\"single\", "
      "\"nudges\"]\n";
  write_file(folder_ / "plan.toml", plan + kOneTracker);
  const Catalogue catalogue = Catalogue::standard();
  const Plan read = read_plan(folder_ / "plan.toml", catalogue);
  const RunSummary summary = run_plan(read, catalogue, folder_ / "study", {});
  EXPECT_EQ(summary.made, 2 * (1 + 12) + 3 * 2);
  EXPECT_EQ(summary.failed, 3 * 2);
  const Study made = study();
  for (const StudyRun& run : made.runs) {
    const std::string& name = made.sequences[run.sequence].name;
    if (name == "empty") test::expect_parts(run.failure, {"empty", "holds no PNG or JPEG pictures"});
    if (name == "no-truth") test::expect_parts(run.failure, {"no-truth", "no truth with the target present"});
    if (name == "gone") test::expect_parts(run.failure, {"gone"});
    if (name == "steady" || name == "cloudbank") {
      EXPECT_EQ(run.failure, "");
    }
  }
  // Once it can be read it is run.
  std::filesystem::copy(folder_ / "kites/steady", folder_ / "kites/gone",
                        std::filesystem::copy_options::recursive);
  EXPECT_EQ(run_plan(read_plan(folder_ / "plan.toml", catalogue), catalogue, folder_ / "study", {}).failed,
            2 * 2);
}

TEST_F(SequenceRun, RunsASequenceOfOneFrame) {
  for (int i = 1; i < 8; ++i)
    std::filesystem::remove(folder_ / "kites/steady/frames" / ("00000" + std::to_string(i) + ".jpg"));
  const std::string truth = read_file(folder_ / "kites/steady/truth.csv");
  write_file(folder_ / "kites/steady/truth.csv", truth.substr(0, truth.find('\n', truth.find('\n') + 1) + 1));
  EXPECT_EQ(run("protocols = [\"single\", \"restart\", \"live\"]\n" + std::string(kOneTracker)).failed, 0);
  const Study read = study();
  const auto one = std::ranges::find(read.sequences, "steady", &StudySequence::name) - read.sequences.begin();
  for (const StudyRun& run : read.runs)
    if (run.sequence == one) {
      EXPECT_EQ(run.trace.rows.size(), 1U);
      ASSERT_TRUE(run.score);
      EXPECT_FALSE(run.score->success_area);
    }
}

TEST_F(SequenceRun, FailsTheRunsOnASequenceWithABrokenFrameAndGoesOn) {
  write_file(folder_ / "kites/cloudbank/frames/000007.jpg", "no picture");
  run("protocols = [\"starts\"]\n" + std::string(kOneTracker));
  const Study read = study();
  ASSERT_EQ(read.runs.size(), 20U);
  test::expect_parts(read.runs.at(0).failure, {"000007.jpg"});
  EXPECT_EQ(read.runs.at(10).failure, "");
}

}  // namespace mnemon
