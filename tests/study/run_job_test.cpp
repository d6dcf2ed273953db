// SPDX-License-Identifier: MIT
#include <mnemon/study/run_job.hpp>

#include <algorithm>
#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/export.hpp>
#include <mnemon/study/runner.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "study/study_on_disk.hpp"
#include "support/messages.hpp"
#include "support/small_demo.hpp"

namespace mnemon {
namespace {

using test::Faulty;
using test::kOneTracker;
using test::message_of;
using test::process_entry;
using test::with_faulty;

class JobRun : public test::StudyOnDisk {};

}  // namespace

TEST_F(JobRun, KeepsMasksAndPositionsAndScoresThem) {
  test::render_small(folder_.path(), "balloon", 50);
  (void)run("[[tracker]]\nname = \"mask-plain\"\n");
  const Study read = study();
  const auto balloon =
      std::ranges::find(read.sequences, "balloon", &StudySequence::name) - read.sequences.begin();
  int runs = 0;
  for (const StudyRun& one : read.runs) {
    if (one.sequence != balloon) continue;
    ++runs;
    EXPECT_EQ(read.sequences[balloon].truth.masks.size(), 50U);
    EXPECT_EQ(one.trace.masks.size(), 50U);
    EXPECT_EQ(one.score->mask_frames, 49);
    EXPECT_GT(*one.score->mean_mask_overlap, 0.9);
    EXPECT_EQ(one.score->position_frames, 49);
    EXPECT_LT(*one.score->position_error_median, 0.03);
    // What the file holds are the numbers that were scored when the run was made.
    Database database(folder_ / "study/study.sqlite", Database::Mode::read);
    Statement kept = database.prepare(
        "SELECT value FROM scores JOIN run_names USING (run_id) WHERE sequence = 'balloon' AND protocol = ? "
        "AND "
        "measure = 'mean_mask_overlap'");
    kept.bind(read.protocols[one.protocol].name);
    ASSERT_TRUE(kept.next());
    EXPECT_EQ(kept.real(0), *one.score->mean_mask_overlap);
  }
  EXPECT_EQ(runs, 1);
}

// Under every protocol a tracker in a process scores as it does without, and its runs are kept as long as it is the same.
TEST_F(JobRun, RunsTrackersInOtherProcesses) {
  const std::string plan =
      "protocols = [\"single\", \"starts\", \"restart\", \"live\"]\n[protocol.starts]\ncount = 3\n"
      "[[tracker]]\nname = \"corr-plain\"\nset = { padding = 2.5 }\n" +
      process_entry("apart", "\"serve\", \"corr-plain\"", "set = { padding = 2.5 }\n");
  const RunSummary summary = run(plan);
  EXPECT_EQ(summary.failed, 0);
  const Study read = study();
  ASSERT_EQ(read.trackers.size(), 2U);
  EXPECT_TRUE(read.trackers[1].is_process());
  const std::size_t half = read.runs.size() / 2;
  ASSERT_GE(half, 8U);
  for (std::size_t i = 0; i < half; ++i) {
    const StudyRun& here = read.runs[i];
    const StudyRun& there = read.runs[half + i];
    EXPECT_EQ(here.sequence, there.sequence);
    EXPECT_EQ(there.failure, "");
    EXPECT_GT(there.peak_bytes.value_or(0), 1e5);
    if (here.timed && read.protocols[here.protocol].name == "live") continue;  // goes by times
    EXPECT_EQ(here.score->success_area, there.score->success_area);
    EXPECT_EQ(here.timed, there.timed);
    EXPECT_EQ(there.told_ms.has_value(), true);
  }
  EXPECT_EQ(run(plan).made, 0);
}

TEST_F(JobRun, GoesOnWhereAProcessDoesNot) {
  const RunSummary summary = run(
      process_entry("crashes", "\"crashes\"") + process_entry("hangs", "\"hangs\"", "step_limit_ms = 200\n") +
      process_entry("garbage", "\"garbage\"") +
      "[[tracker]]\nlabel = \"none\"\ncommand = [\"no-such-program\"]\n" + kOneTracker);
  EXPECT_EQ(summary.failed, 8);
  const Study read = study();
  const std::map<std::string, std::string> why{{"crashes", "signal 11"},
                                               {"hangs", "did not answer in time"},
                                               {"garbage", "frame done"},
                                               {"none", "no program 'no-such-program'"}};
  for (const StudyRun& run : read.runs) {
    const auto at = why.find(read.trackers[run.tracker].label);
    if (at == why.end()) {
      EXPECT_EQ(run.failure, "");
    } else {
      test::expect_parts(run.failure, {at->second.c_str()});
    }
  }
}

TEST_F(JobRun, SweepsAProcessesParameters) {
  run(process_entry("apart", "\"serve\", \"corr-plain\"",
                    "set = { padding = 2.5 }\nsweep = { padding = [2, 3] }\n"));
  const Study read = study();
  ASSERT_EQ(read.trackers.size(), 3U);
  EXPECT_EQ(read.trackers[2].sweep, "apart");
  EXPECT_EQ(to_text(params_from_json(read.trackers[2].params).at("padding")), "3");
  EXPECT_NE(read.runs[0].score->success_area, read.runs[4].score->success_area);
}

// What a process says its model was made from is known of its runs.
TEST_F(JobRun, KnowsWhatAProcessWasTrainedOn) {
  run(process_entry("model", "\"trained\""));
  const StudyTracker tracker = study().trackers.at(0);
  EXPECT_TRUE(tracker.is_trained_on("kites"));
  EXPECT_FALSE(tracker.is_trained_on("steady"));
  EXPECT_EQ(tracker.model_bytes(), 2e6);
  test::expect_parts(study().runs.at(0).source, {" 7"});  // the version that it tells
}

TEST_F(JobRun, RecordsWhatARunThrowsAndGoesOn) {
  const std::string trackers =
      "[[tracker]]\nname = \"faulty\"\nset = { throws = true }\n[[tracker]]\nname = \"faulty\"\nlabel = "
      "\"no number\"\n" +
      std::string(kOneTracker);
  const RunSummary summary = run(trackers, with_faulty());
  EXPECT_EQ(summary.made, 6);
  EXPECT_EQ(summary.failed, 4);
  const Study read = study();
  EXPECT_EQ(read.runs.at(0).failure, "out of luck");
  test::expect_parts(read.runs.at(2).failure, {"frame 3", "not finite"});
  EXPECT_EQ(read.runs.at(4).failure, "");
  EXPECT_EQ(run(trackers, with_faulty()).made, 4);  // failed runs are tried again
}

TEST_F(JobRun, OutlivesATrackerThatThrowsAnything) {
  EXPECT_EQ(
      run("[[tracker]]\nname = \"faulty\"\nset = { throws = true, wrong_at = 4 }\n", with_faulty()).failed,
      2);
  test::expect_parts(study().runs.at(0).failure, {"threw what is no exception"});
}

// What a sequence keeps out is nothing to any tracker of a plan: here the very target, a frame after it was marked.
TEST_F(JobRun, ShowsTrackersNothingOfAreasThatAreKeptOut) {
  const auto run_on_steady = [](const Study& study) {
    for (const StudyRun& run : study.runs)
      if (study.sequences[run.sequence].name == "steady") return run;
    return StudyRun();
  };
  run(kOneTracker);
  const Trace plain = run_on_steady(study()).trace;
  const std::string description = read_file(folder_ / "kites/steady/sequence.toml");
  const Box box = read_sequence(folder_ / "kites/steady").truth.rows.at(0).box.box;
  // A strip over the target's lower part, below its middle.
  write_file(
      folder_ / "kites/steady/sequence.toml",
      description + fmt::format("\n[[keep_out]]\npolygon = [[0, {0}], [640, {0}], [640, 360], [0, 360]]\n",
                                box.y + 0.6 * box.h));
  const RunSummary again = run(kOneTracker);
  EXPECT_EQ(again.made, 1);  // of the sequence that changed
  const Trace trace = run_on_steady(study()).trace;
  ASSERT_EQ(trace.rows.size(), plain.rows.size());
  const auto tracker = shown(Catalogue::standard().make("corr-plain", {}),
                             {.keep_out = read_sequence(folder_ / "kites/steady").keep_out});
  const auto frames = open_frames(read_sequence(folder_ / "kites/steady"));
  for (const TraceRow& row : trace.rows) {
    const Frame frame = *frames->next();
    const Estimate estimate = row.frame == 0 ? tracker->seed(frame, box) : tracker->follow(frame);
    EXPECT_EQ(row.box, estimate.box) << row.frame;
  }
  EXPECT_NE(trace.rows.back().box, plain.rows.back().box);
}

TEST_F(JobRun, FailsRunsWhoseStepsTakeTooLong) {
  const RunSummary summary = run("step_limit_ms = 0.0001\n" + std::string(kOneTracker));
  EXPECT_EQ(summary.failed, 2);
  test::expect_parts(study().runs.at(0).failure, {"the step on frame 1", "step_limit_ms is 0.0001"});
}

TEST_F(JobRun, RunsLiveWithItsHighestRate) {
  EXPECT_EQ(run("protocols = [\"live\"]\n[[tracker]]\nname = \"stay\"\n").failed, 0);
  for (const StudyRun& run : study().runs) {
    EXPECT_EQ(run.highest_rate_hz, 960);
    EXPECT_EQ(run.score->skipped_share, 0);
    EXPECT_TRUE(run.timed);
  }
}

TEST_F(JobRun, TakesTracesFromElsewhere) {
  run("protocols = [\"single\", \"nudges\"]\n[[tracker]]\nname = \"stay\"\n");
  const Study own = study();
  export_study(folder_ / "study", folder_ / "text");
  const std::string plan =
      "protocols = [\"single\", \"nudges\", \"restart\"]\n[[tracker]]\nlabel = \"theirs\"\ntraces = "
      "\"text/traces/stay\"\n";
  std::filesystem::remove(folder_ / "text/traces/stay/steady.single.csv");
  RunSummary summary = run(plan);
  EXPECT_EQ(summary.made, 2 + 24);  // no traces under restart
  EXPECT_EQ(summary.failed, 1);
  EXPECT_EQ(summary.left_out, std::vector<std::string>{"theirs has no traces under restart"});
  test::expect_parts(study().runs.at(13).failure, {"steady.csv"});
  // Any program's boxes will do, under the sequence's plain name.
  write_file(folder_ / "text/traces/stay/steady.csv", "frame,x,y,w,h\n0,10,10,20,20\n5,10,10,20,20\n");
  summary = run(plan);
  EXPECT_EQ(summary.made, 1);
  EXPECT_EQ(summary.failed, 0);
  const Study theirs = study();
  EXPECT_EQ(theirs.runs.at(13).score->missing_frames, 6);
  EXPECT_FALSE(theirs.runs.at(13).timed);
  EXPECT_TRUE(theirs.runs.at(0).timed);  // the exported trace has its times
  EXPECT_EQ(theirs.runs.at(0).score->success_area, own.runs.at(0).score->success_area);
  // A trace that changed is read again.
  write_file(folder_ / "text/traces/stay/steady.csv", "frame,x,y,w,h\n0,10,10,20,20\n");
  EXPECT_EQ(run(plan).made, 1);
}

// Several runs of a program with chance in it: as an export names them, or a folder for each.
TEST_F(JobRun, TakesSeveralRunsFromElsewhere) {
  run("[[tracker]]\nname = \"corr-plain\"\nrepeats = 3\n");
  const Study own = study();
  export_study(folder_ / "study", folder_ / "text");
  const RunSummary exported = run("[[tracker]]\nlabel = \"theirs\"\ntraces = \"text/traces/corr-plain\"\n");
  EXPECT_EQ(exported.made, 6);
  EXPECT_EQ(exported.failed, 0);
  const Study read = study();
  for (std::size_t i = 0; i < own.runs.size(); ++i) {
    EXPECT_EQ(read.runs.at(i).repeat, own.runs[i].repeat);
    EXPECT_EQ(read.runs[i].score->success_area, own.runs[i].score->success_area);
  }
  for (const StudyRun& one : own.runs)
    write_file(
        folder_ / fmt::format("results/run{}/{}.csv", 10 * one.repeat, own.sequences[one.sequence].name),
        trace_text(one.trace));
  std::filesystem::remove(folder_ / "results/run20/steady.csv");
  const RunSummary folders = run("[[tracker]]\ntraces = \"results/run*\"\n");
  EXPECT_EQ(folders.made, 6);
  EXPECT_EQ(folders.failed, 1);
  const Study each = study();
  EXPECT_EQ(each.trackers.at(0).label, "results");
  for (std::size_t i = 0; i < own.runs.size(); ++i) {
    if (!each.runs[i].failure.empty()) {
      test::expect_parts(each.runs[i].failure, {"run20/steady.csv"});
    } else {
      EXPECT_EQ(each.runs[i].score->success_area, own.runs[i].score->success_area);
    }
  }
  test::expect_parts(message_of<DataError>([&] { run("[[tracker]]\ntraces = \"none*\"\n"); }),
                     {"no folder", "none*"});
}

TEST_F(JobRun, TakesListsOfBoxesAsTheyAre) {
  // Two corners, counted from 1, the target absent where all is 0; and blanks between, by the ending.
  const Truth truth = read_truth(folder_ / "kites/steady/truth.csv");
  std::string corners;
  std::string plain;
  for (const TruthRow& row : truth.rows) {
    const Box& box = row.box.box;
    corners += row.frame == 3
                   ? "0,0,0,0\n"
                   : fmt::format("{},{},{},{}\n", box.x + 1, box.y + 1, box.x + box.w + 1, box.y + box.h + 1);
    plain += fmt::format("{} {} {} {}\n", box.x, box.y, box.w, box.h);
  }
  write_file(folder_ / "corners/steady.csv", corners);
  write_file(folder_ / "plain/steady.txt", plain);
  const std::string plan =
      "[[tracker]]\ntraces = \"corners\"\ncolumns = \"x1,y1,x2,y2\"\none_based = true\nabsent = [\"zero\"]\n"
      "[[tracker]]\ntraces = \"plain\"\n";
  EXPECT_EQ(run(plan).failed, 2);  // on cloudbank, for each
  const Study read = study();
  for (const StudyRun& one : read.runs) {
    if (read.sequences[static_cast<std::size_t>(one.sequence)].name != "steady") continue;
    ASSERT_EQ(one.failure, "");
    const bool is_plain = read.trackers[static_cast<std::size_t>(one.tracker)].label == "plain";
    // Seven frames after the seed's; on one of them the first list claims nothing.
    EXPECT_NEAR(*one.score->success_area, is_plain ? 1 : 6.0 / 7, 1e-9);
    EXPECT_FALSE(one.timed);
  }
}

}  // namespace mnemon
