// SPDX-License-Identifier: MIT
#include <mnemon/study/study.hpp>

#include <filesystem>
#include <string>

#include <gtest/gtest.h>

#include <mnemon/study/runner.hpp>

#include "study/study_on_disk.hpp"
#include "support/small_demo.hpp"

namespace mnemon {
namespace {

using test::Faulty;
using test::kOneTracker;
using test::with_faulty;

class StudyKept : public test::StudyOnDisk {};

// A study whose runs are those of another build, as after the program was changed.
void pretend_other_code(const std::filesystem::path& folder) {
  Database database(folder / kStudyFile, Database::Mode::create);
  database.run("UPDATE builds SET code = code || 'x' WHERE code LIKE '%+%'");
}

}  // namespace

TEST_F(StudyKept, MakesRunsAgainWhereStagesAreAskedForLater) {
  EXPECT_EQ(run(kOneTracker).made, 2);
  EXPECT_EQ(run("keep_stages = \"losses\"\n" + std::string(kOneTracker)).made, 2);
  EXPECT_EQ(run("keep_stages = \"losses\"\n" + std::string(kOneTracker)).made, 0);
  EXPECT_EQ(run(kOneTracker).made, 0);  // more than asked for is no reason to run
}

// Times are of one processor alone; all else is of any that makes the same bits.
TEST_F(StudyKept, KeepsRunsOfAnotherProcessorThatMakesTheSameBits) {
  const std::string untimed = "[protocol.single]\ntimed = false\n" + std::string(kOneTracker);
  const auto made_after = [&](const std::string& plan, const std::string& change) {
    std::filesystem::remove_all(folder_ / "study");
    EXPECT_EQ(run(plan).made, 2);
    {
      Database database(folder_ / "study" / kStudyFile, Database::Mode::create);
      database.run("UPDATE builds SET " + change);
    }
    return run(plan).made;
  };
  EXPECT_EQ(made_after(untimed, "processor = 'another'"), 0);
  EXPECT_EQ(made_after(untimed, "arithmetic = 'another'"), 2);
  EXPECT_EQ(made_after(untimed, "compiler = 'another'"), 2);
  EXPECT_EQ(made_after(kOneTracker, "processor = 'another'"), 2);
  EXPECT_EQ(made_after(kOneTracker, "arithmetic = 'another'"), 0);
}

TEST_F(StudyKept, KnowsTheSetsOfItsLastPlan) {
  run(std::string(kOneTracker) + "[[set]]\nname = \"hidden\"\nsequences = [\"cloud*\"]\n");
  for (const StudySequence& sequence : study().sequences)
    EXPECT_EQ(sequence.sets.size(), sequence.name == "cloudbank" ? 1U : 0U) << sequence.name;
  run(kOneTracker);
  for (const StudySequence& sequence : study().sequences) EXPECT_TRUE(sequence.sets.empty());
}

TEST_F(StudyKept, RunsASequenceWithAnotherMaskAgain) {
  (void)run(kOneTracker);
  const std::filesystem::path mask = folder_ / "kites/steady/masks/000003.png";
  std::filesystem::copy_file(folder_ / "kites/steady/masks/000005.png", mask,
                             std::filesystem::copy_options::overwrite_existing);
  EXPECT_EQ(run(kOneTracker).made, 1);
}

TEST_F(StudyKept, RunsOnlyWhatIsMissing) {
  run(kOneTracker);
  const RunSummary again = run(kOneTracker);
  EXPECT_EQ(again.made, 0);
  EXPECT_EQ(again.kept, 2);
  const RunSummary more =
      run(std::string(kOneTracker) +
          "[[tracker]]\nname = \"corr-plain\"\nlabel = \"wide\"\nset = { padding = 3 }\n");
  EXPECT_EQ(more.made, 2);
  EXPECT_EQ(more.kept, 2);
  EXPECT_EQ(study().trackers.size(), 2U);
}

// What a run is does not depend on how a plan calls it, and two entries that are the same share their runs.
TEST_F(StudyKept, RunsNothingAgainUnderOtherLabels) {
  EXPECT_EQ(run(kOneTracker).made, 2);
  const RunSummary again =
      run("[[tracker]]\nname = \"corr-plain\"\nlabel = \"A\"\n[[tracker]]\nname = \"corr-plain\"\nlabel = "
          "\"B\"\n");
  EXPECT_EQ(again.made, 0);
  const Study read = study();
  ASSERT_EQ(read.trackers.size(), 2U);
  EXPECT_EQ(read.trackers[0].label, "A");
  EXPECT_EQ(read.trackers[1].label, "B");
  ASSERT_EQ(read.runs.size(), 4U);
  EXPECT_EQ(read.missing_runs, 0);
  EXPECT_EQ(read.runs[0].score->success_area, read.runs[2].score->success_area);
}

TEST_F(StudyKept, RunsASequenceThatChangedAgain) {
  run(kOneTracker);
  std::filesystem::remove_all(folder_ / "kites/steady");
  test::render_small(folder_.path(), "steady", 9);
  EXPECT_EQ(run(kOneTracker).made, 1);
  const Study read = study();
  ASSERT_EQ(read.sequences.size(), 2U);
  EXPECT_EQ(read.sequences.at(1).frames, 9);
}

TEST_F(StudyKept, LeavesOutWhatIsNoLongerPlanned) {
  run(kOneTracker);
  run("[[tracker]]\nname = \"corr-plain\"\nlabel = \"other\"\n");
  ASSERT_EQ(study().trackers.size(), 1U);
  EXPECT_EQ(study().trackers[0].label, "other");
  EXPECT_EQ(run(kOneTracker).kept, 2);
}

TEST_F(StudyKept, IsIntactWhereARunIsCutShort) {
  run(kOneTracker);
  // What a process leaves that is killed between the rows of a run.
  Database database(folder_ / "study" / kStudyFile, Database::Mode::create);
  {
    const Transaction transaction(database);
    database.run("DELETE FROM estimates WHERE frame > 3");
  }
  EXPECT_EQ(study().runs.at(0).trace.rows.size(), 40U);
}

TEST_F(StudyKept, RunsAProtocolWithOtherParametersAgain) {
  const std::string plan = "protocols = [\"restart\"]\n";
  EXPECT_EQ(run(plan + kOneTracker).made, 2);
  EXPECT_EQ(run(plan + "[protocol.restart]\nrestart_gap = 7\n" + kOneTracker).made, 2);
  EXPECT_EQ(study().protocols.at(0).params.at("restart_gap"), ParamValue(7));
  EXPECT_EQ(run(plan + kOneTracker).kept, 2);
}

TEST_F(StudyKept, RunsTrackersOfAProgramAgainOnceItIsAnother) {
  const Catalogue catalogue = with_faulty();
  const auto bench = [&] {
    const std::string trackers =
        std::string(kOneTracker) + "[[tracker]]\nname = \"faulty\"\nset = { wrong_at = 100 }\n";
    return run_plan(read_plan(test::write_plan(folder_.path(), trackers), catalogue), catalogue,
                    folder_ / "study", {});
  };
  EXPECT_EQ(bench().made, 4);
  EXPECT_EQ(bench().kept, 4);
  pretend_other_code(folder_ / "study");
  const RunSummary again = bench();
  EXPECT_EQ(again.kept, 2);  // the library's own
  EXPECT_EQ(again.made, 2);
  const Study read = study();
  ASSERT_EQ(read.builds.size(), 2U);
  EXPECT_EQ(read.builds[read.runs.at(0).build].code, build_facts().code);
  EXPECT_EQ(read.builds[read.runs.at(3).build].code, build_facts_of_own().code);
  EXPECT_TRUE(read.builds[1].code.starts_with(read.builds[0].code + "+"));
}

}  // namespace mnemon
