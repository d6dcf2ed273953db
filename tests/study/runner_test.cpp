// SPDX-License-Identifier: MIT
#include <mnemon/study/runner.hpp>

#include <filesystem>
#include <optional>
#include <string>

#include <gtest/gtest.h>

#include "study/study_on_disk.hpp"
#include "support/messages.hpp"
#include "support/small_demo.hpp"

namespace mnemon {
namespace {

using test::kOneTracker;

class PlanRun : public test::StudyOnDisk {};

const char* const kManyProtocols =
    "protocols = [\"single\", \"starts\", \"nudges\", \"restart\"]\n[protocol.single]\ntimed = false\n"
    "[protocol.starts]\ncount = 3\n";

// All that a study holds but times, which differ from run to run.
std::string without_times(const Study& study) {
  std::string text;
  for (const StudyRun& run : study.runs) {
    text += study.trackers[run.tracker].label + " " + study.sequences[run.sequence].name + " " +
            study.protocols[run.protocol].name + " " + std::to_string(run.start) + " " + run.failure + "\n";
    Trace trace = run.trace;
    for (TraceRow& row : trace.rows) row.step_ms.reset();
    text += trace_text(trace);
  }
  return text;
}

}  // namespace

TEST_F(PlanRun, GivesTheSameEstimatesEveryTime) {
  run(kOneTracker);
  const Study first = study();
  std::filesystem::remove_all(folder_ / "study");
  run(kOneTracker);
  const Study second = study();
  for (std::size_t i = 0; i < first.runs.size(); ++i)
    for (std::size_t k = 0; k < first.runs[i].trace.rows.size(); ++k) {
      EXPECT_EQ(first.runs[i].trace.rows[k].box, second.runs[i].trace.rows[k].box);
      EXPECT_EQ(first.runs[i].trace.rows[k].confidence, second.runs[i].trace.rows[k].confidence);
    }
}

TEST_F(PlanRun, IsTheSameOnAnyNumberOfThreadsAndWithAnyMemory) {
  // Small frames: without memory every run reads them for itself.
  std::filesystem::remove_all(folder_ / "kites");
  for (const char* name : {"steady", "loops"})
    render_sequence(
        Scene(demo_scene(name), {{"frames", 30}, {"width", 128}, {"height", 72}, {"size_px", 100.0}}, 1),
        folder_ / "kites" / name, 0, {});
  const std::string plan = std::string(kManyProtocols) + kOneTracker + "[[tracker]]\nname = \"stay\"\n";
  const Catalogue catalogue = Catalogue::standard();
  const auto made = [&](const char* folder, int jobs, std::optional<std::size_t> bytes) {
    const Plan read = read_plan(test::write_plan(folder_.path(), plan), catalogue);
    const RunSummary summary =
        run_plan(read, catalogue, folder_ / folder, {.jobs = jobs, .frame_bytes = bytes, .on_progress = {}});
    EXPECT_EQ(summary.made, 2 * 2 * (1 + 3 + 12 + 1));
    EXPECT_EQ(summary.failed, 0);
    return without_times(read_study(folder_ / folder));
  };
  const std::string one = made("one", 1, {});
  EXPECT_EQ(one, made("two", 2, {}));
  EXPECT_EQ(one, made("streamed", 2, 0));
  EXPECT_NE(one.find("nudges 11"), std::string::npos);
}

TEST_F(PlanRun, KeepsNoTimesOfRunsSideBySide) {
  run(std::string(kManyProtocols) + kOneTracker);
  for (const StudyRun& run : study().runs) {
    EXPECT_FALSE(run.timed);
    for (const TraceRow& row : run.trace.rows) EXPECT_FALSE(row.step_ms);
  }
}

TEST_F(PlanRun, RepeatsTrackersWithChance) {
  EXPECT_EQ(run("[[tracker]]\nname = \"corr-plain\"\nrepeats = 3\n").made, 6);
  const Study read = study();
  EXPECT_EQ(read.runs.at(2).repeat, 2);
  EXPECT_NE(read.runs.at(0).trace.rows, read.runs.at(1).trace.rows);
  EXPECT_EQ(run(kOneTracker).kept, 2);  // the first of them
}

}  // namespace mnemon
