// SPDX-License-Identifier: MIT
#include <mnemon/study/runner.hpp>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <map>
#include <optional>
#include <stdexcept>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/run/following.hpp>
#include <mnemon/run/protocol/unaided.hpp>
#include <mnemon/study/core_pin.hpp>
#include <mnemon/study/export.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "support/messages.hpp"
#include "support/small_demo.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

using test::kOneTracker;
using test::message_of;

class StudyOnDisk : public ::testing::Test {
 protected:
  void SetUp() override {
    // Rendered once, and copied for each test.
    static const test::TempFolder rendered;
    if (test::names_in(rendered.path()).empty()) {
      test::render_small(rendered.path(), "steady", 8);
      test::render_small(rendered.path(), "cloudbank", 40, 6);
    }
    std::filesystem::copy(rendered.path(), folder_.path(), std::filesystem::copy_options::recursive);
  }
  RunSummary run(const std::string& trackers, const Catalogue& catalogue = Catalogue::standard()) const {
    const Plan plan = read_plan(test::write_plan(folder_.path(), trackers), catalogue);
    return run_plan(plan, catalogue, folder_ / "study", {});
  }
  [[nodiscard]] Study study() const { return read_study(folder_ / "study"); }

  test::TempFolder folder_;
};

// A plan's text with a tracker that stays where it was, so that it loses a target that flies on.
const std::string kStaying = "[[tracker]]\nname = \"stay\"\n";

// A tracker that does what no tracker may.
class Faulty final : public Tracker {
 public:
  struct Params {
    int wrong_at = 3;
    bool throws = false;
    static void describe(auto& schema) {
      schema.field("wrong_at", &Params::wrong_at, {1, 100}, "frames", "When.");
      schema.field("throws", &Params::throws, "Whether it throws instead of answering with no number.");
    }
  };
  explicit Faulty(const Params& params) : params_(params) {}

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) override {
    box_ = box;
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& frame) override {
    if (frame.index < params_.wrong_at) return {{box_, 0}, 1, true};
    if (params_.throws && params_.wrong_at == 4) throw 4;  // NOLINT: what no tracker should, and some do
    if (params_.throws) throw std::runtime_error("out of luck");
    return {{{std::nan(""), 0, 1, 1}, 0}, 1, true};
  }

  Params params_;
  Box box_;
};

Catalogue with_faulty() {
  Catalogue catalogue = Catalogue::standard();
  catalogue.add(tracker_entry<Faulty, Faulty::Params>("faulty", "test", "Fails.", "none"));
  return catalogue;
}

}  // namespace

TEST_F(StudyOnDisk, HoldsTroublesWithCropsAndStages) {
  run("keep_stages = \"losses\"\nprotocols = [\"single\"]\n[[tracker]]\nname = \"corr-plain\"\n" + kStaying);
  const Study read = study();
  for (const StudyRun& one : read.runs) {
    EXPECT_TRUE(one.has_stages);
    const StudySequence& sequence = read.sequences[static_cast<std::size_t>(one.sequence)];
    EXPECT_EQ(one.troubles.size(), troubles_of_run(sequence.truth, one.trace, unaided_scores()).size());
    EXPECT_EQ(one.crops.empty(), one.troubles.empty());
    for (const StudyCrop& crop : one.crops) EXPECT_GT(parse_picture(crop.jpeg, "a crop").cols(), 50);
  }
  // On cloudbank, with its target hidden, somebody was in trouble.
  EXPECT_TRUE(std::ranges::any_of(read.runs, [](const StudyRun& one) { return !one.troubles.empty(); }));
}

TEST_F(StudyOnDisk, MakesRunsAgainWhereStagesAreAskedForLater) {
  EXPECT_EQ(run(kOneTracker).made, 2);
  EXPECT_EQ(run("keep_stages = \"losses\"\n" + std::string(kOneTracker)).made, 2);
  EXPECT_EQ(run("keep_stages = \"losses\"\n" + std::string(kOneTracker)).made, 0);
  EXPECT_EQ(run(kOneTracker).made, 0);  // more than asked for is no reason to run
}

// Times are of one processor alone; all else is of any that makes the same bits.
TEST_F(StudyOnDisk, KeepsRunsOfAnotherProcessorThatMakesTheSameBits) {
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

TEST_F(StudyOnDisk, KnowsTheSetsOfItsLastPlan) {
  run(std::string(kOneTracker) + "[[set]]\nname = \"hidden\"\nsequences = [\"cloud*\"]\n");
  for (const StudySequence& sequence : study().sequences)
    EXPECT_EQ(sequence.sets.size(), sequence.name == "cloudbank" ? 1U : 0U) << sequence.name;
  run(kOneTracker);
  for (const StudySequence& sequence : study().sequences) EXPECT_TRUE(sequence.sets.empty());
}

TEST_F(StudyOnDisk, HoldsAccuracyByRate) {
  run("protocols = [\"live\"]\n" + kStaying);
  const Study read = study();
  for (const StudyRun& one : read.runs) {
    ASSERT_EQ(one.rate_areas.size(), 13U);
    EXPECT_EQ(one.rate_areas.front().rate_hz, 5);
    // What stays needs no time, so that every rate is as good.
    for (const RateArea& area : one.rate_areas) EXPECT_EQ(area.success_area, one.rate_areas[0].success_area);
  }
}

TEST_F(StudyOnDisk, HoldsWhatWasRun) {
  const RunSummary summary = run(kOneTracker);
  EXPECT_EQ(summary.made, 2);
  EXPECT_EQ(summary.failed, 0);
  const Study read = study();
  EXPECT_EQ(read.title, "a small plan");
  ASSERT_EQ(read.runs.size(), 2U);
  EXPECT_EQ(read.missing_runs, 0);
  const StudySequence& hidden = read.sequences.at(0);
  EXPECT_EQ(hidden.name, "cloudbank");
  EXPECT_EQ(hidden.frames, 40);
  EXPECT_EQ(hidden.size, (FrameSize{640, 360}));
  EXPECT_EQ(hidden.tags, std::vector<std::string>{"occlusion"});
  EXPECT_EQ(hidden.truth.rows, read_truth(folder_ / "kites/cloudbank/truth.csv").rows);
  EXPECT_EQ(Json::parse(read.trackers.at(0).params)["padding"], 1.6);
  ASSERT_EQ(read.builds.size(), 1U);
  EXPECT_EQ(read.builds[0], build_facts());
  const StudyRun& hidden_run = read.runs.at(0);
  EXPECT_TRUE(hidden_run.timed);
  EXPECT_EQ(hidden_run.trace.rows.size(), 40U);
  EXPECT_EQ(hidden_run.trace.rows[0].event, Event::seed);
  for (const TraceRow& row : hidden_run.trace.rows) EXPECT_GT(*row.step_ms, 0);
  EXPECT_EQ(hidden_run.score.absent_frames, 6);
}

TEST_F(StudyOnDisk, KeepsMasksAndPositionsAndScoresThem) {
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
    EXPECT_EQ(one.score.mask_frames, 49);
    EXPECT_GT(*one.score.mean_mask_overlap, 0.9);
    EXPECT_EQ(one.score.position_frames, 49);
    EXPECT_LT(*one.score.position_error_median, 0.03);
    // What the file holds are the numbers that were scored when the run was made.
    Database database(folder_ / "study/study.sqlite", Database::Mode::read);
    Statement kept = database.prepare(
        "SELECT value FROM scores JOIN run_names USING (run_id) WHERE sequence = 'balloon' AND protocol = ? "
        "AND "
        "measure = 'mean_mask_overlap'");
    kept.bind(read.protocols[one.protocol].name);
    ASSERT_TRUE(kept.next());
    EXPECT_EQ(kept.real(0), *one.score.mean_mask_overlap);
  }
  EXPECT_EQ(runs, 1);
}

TEST_F(StudyOnDisk, RunsASequenceWithAnotherMaskAgain) {
  (void)run(kOneTracker);
  const std::filesystem::path mask = folder_ / "kites/steady/masks/000003.png";
  std::filesystem::copy_file(folder_ / "kites/steady/masks/000005.png", mask,
                             std::filesystem::copy_options::overwrite_existing);
  EXPECT_EQ(run(kOneTracker).made, 1);
}

TEST_F(StudyOnDisk, KeepsPicturesWithOneOfTheAbsence) {
  run(kOneTracker);
  const StudySequence hidden = study().sequences.at(0);
  int absent = 0;
  for (const StudyPicture& picture : hidden.pictures) {
    EXPECT_EQ(parse_picture(picture.jpeg, "x").cols(), 320);
    absent += hidden.truth.find(picture.frame)->present ? 0 : 1;
  }
  EXPECT_GE(hidden.pictures.size(), 8U);
  EXPECT_GE(absent, 1);
}

TEST_F(StudyOnDisk, RunsOnlyWhatIsMissing) {
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
TEST_F(StudyOnDisk, RunsNothingAgainUnderOtherLabels) {
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
  EXPECT_EQ(read.runs[0].score.success_area, read.runs[2].score.success_area);
}

TEST_F(StudyOnDisk, RunsASequenceThatChangedAgain) {
  run(kOneTracker);
  std::filesystem::remove_all(folder_ / "kites/steady");
  test::render_small(folder_.path(), "steady", 9);
  EXPECT_EQ(run(kOneTracker).made, 1);
  const Study read = study();
  ASSERT_EQ(read.sequences.size(), 2U);
  EXPECT_EQ(read.sequences.at(1).frames, 9);
}

TEST_F(StudyOnDisk, LeavesOutWhatIsNoLongerPlanned) {
  run(kOneTracker);
  run("[[tracker]]\nname = \"corr-plain\"\nlabel = \"other\"\n");
  ASSERT_EQ(study().trackers.size(), 1U);
  EXPECT_EQ(study().trackers[0].label, "other");
  EXPECT_EQ(run(kOneTracker).kept, 2);
}

namespace {

// A plan's entry for a process.
std::string process_entry(const std::string& label, const std::string& words, const std::string& more = "") {
  return "[[tracker]]\nlabel = \"" + label + "\"\ncommand = [\"" + MNEMON_ODD_PROCESS + "\", " + words +
         "]\n" + more;
}

}  // namespace

// Under every protocol a tracker in a process scores as it does without, and its runs are kept as long as it is the same.
TEST_F(StudyOnDisk, RunsTrackersInOtherProcesses) {
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
    EXPECT_EQ(here.score.success_area, there.score.success_area);
    EXPECT_EQ(here.timed, there.timed);
    EXPECT_EQ(there.told_ms.has_value(), true);
  }
  EXPECT_EQ(run(plan).made, 0);
}

TEST_F(StudyOnDisk, GoesOnWhereAProcessDoesNot) {
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

TEST_F(StudyOnDisk, SweepsAProcessesParameters) {
  run(process_entry("apart", "\"serve\", \"corr-plain\"",
                    "set = { padding = 2.5 }\nsweep = { padding = [2, 3] }\n"));
  const Study read = study();
  ASSERT_EQ(read.trackers.size(), 3U);
  EXPECT_EQ(read.trackers[2].sweep, "apart");
  EXPECT_EQ(to_text(params_from_json(read.trackers[2].params).at("padding")), "3");
  EXPECT_NE(read.runs[0].score.success_area, read.runs[4].score.success_area);
}

// What a process says its model was made from is known of its runs.
TEST_F(StudyOnDisk, KnowsWhatAProcessWasTrainedOn) {
  run(process_entry("model", "\"trained\""));
  const StudyTracker tracker = study().trackers.at(0);
  EXPECT_TRUE(tracker.is_trained_on("kites"));
  EXPECT_FALSE(tracker.is_trained_on("steady"));
  EXPECT_EQ(tracker.model_bytes(), 2e6);
  test::expect_parts(study().runs.at(0).source, {" 7"});  // the version that it tells
}

TEST_F(StudyOnDisk, RecordsWhatARunThrowsAndGoesOn) {
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

TEST_F(StudyOnDisk, OutlivesATrackerThatThrowsAnything) {
  EXPECT_EQ(
      run("[[tracker]]\nname = \"faulty\"\nset = { throws = true, wrong_at = 4 }\n", with_faulty()).failed,
      2);
  test::expect_parts(study().runs.at(0).failure, {"threw what is no exception"});
}

TEST_F(StudyOnDisk, IsIntactWhereARunIsCutShort) {
  run(kOneTracker);
  // What a process leaves that is killed between the rows of a run.
  Database database(folder_ / "study" / kStudyFile, Database::Mode::create);
  {
    const Transaction transaction(database);
    database.run("DELETE FROM estimates WHERE frame > 3");
  }
  EXPECT_EQ(study().runs.at(0).trace.rows.size(), 40U);
}

TEST_F(StudyOnDisk, GivesTheSameEstimatesEveryTime) {
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

TEST_F(StudyOnDisk, AnswersTheQueriesOfItsSchema) {
  run(kOneTracker);
  Database database(folder_ / "study" / kStudyFile, Database::Mode::read);
  Statement area = database.prepare(
      "SELECT value FROM scores JOIN runs ON runs.id = run_id JOIN sequences ON sequences.id = sequence_id "
      "WHERE measure = 'success_area' AND sequences.name = 'cloudbank'");
  ASSERT_TRUE(area.next());
  EXPECT_EQ(area.real(0), *study().runs.at(0).score.success_area);
}

TEST_F(StudyOnDisk, AnswersTheQueriesOfItsDocument) {
  run("protocols = [\"single\", \"starts\"]\n" + std::string(kOneTracker));
  Database database(folder_ / "study" / kStudyFile, Database::Mode::read);
  const std::string document = read_file(MNEMON_SOURCE_DIR "/docs/study.md");
  int queries = 0;
  for (auto begin = document.find("    SELECT"); begin != std::string::npos;
       begin = document.find("    SELECT", begin + 1)) {
    const std::string query = document.substr(begin, document.find(';', begin) - begin);
    Statement rows = database.prepare(query);
    // Nobody need be unsure, nor are there look-alikes here.
    const bool may_be_empty = query.find("confidence < 0.5") != std::string::npos ||
                              query.find("took another") != std::string::npos;
    EXPECT_TRUE(rows.next() || may_be_empty) << query;
    ++queries;
  }
  EXPECT_EQ(queries, 5);
}

TEST_F(StudyOnDisk, ExportsWhatReadsBack) {
  run(kOneTracker);
  const Study read = study();
  export_study(folder_ / "study", folder_ / "text");
  const Trace back = read_trace(folder_ / "text/traces/corr-plain/cloudbank.single.csv");
  EXPECT_EQ(back.rows, read.runs.at(0).trace.rows);
  const std::string scores = read_file(folder_ / "text/scores.csv");
  test::expect_parts(scores, {"tracker,sequence,protocol,start,repeat,failure,success_area,",
                              "corr-plain,steady,single,0,0,"});
  EXPECT_NE(read_file(folder_ / "text/curves.csv").find("corr-plain,steady,single,0,0,overlap,0.5,"),
            std::string::npos);
  EXPECT_THROW(export_study(folder_ / "study", folder_ / "text"), CallError);
}

TEST_F(StudyOnDisk, IsReadAsFarAsIsAskedFor) {
  run(kOneTracker + kStaying);
  const Study whole = study();
  const Study part = read_study(folder_ / "study", {.labels = {"stay"}, .pictures = false});
  EXPECT_EQ(part.trackers.size(), whole.trackers.size());  // so that messages can name them
  EXPECT_EQ(part.missing_runs, 0);
  std::vector<const StudyRun*> wanted;
  for (const StudyRun& one : whole.runs)
    if (whole.trackers[static_cast<std::size_t>(one.tracker)].label == "stay") wanted.push_back(&one);
  ASSERT_EQ(part.runs.size(), wanted.size());
  ASSERT_LT(part.runs.size(), whole.runs.size());
  for (std::size_t i = 0; i < wanted.size(); ++i) {
    EXPECT_EQ(part.runs[i].trace.rows, wanted[i]->trace.rows);
    EXPECT_EQ(part.runs[i].score.overlap_curve, wanted[i]->score.overlap_curve);
    EXPECT_TRUE(part.runs[i].crops.empty());
  }
  EXPECT_TRUE(std::ranges::any_of(wanted, [](const StudyRun* one) { return !one->crops.empty(); }));
  for (const StudySequence& sequence : part.sequences) EXPECT_TRUE(sequence.pictures.empty());
}

TEST_F(StudyOnDisk, ShowsRunsWholeAndKeepsTheirScores) {
  run(std::string("protocols = [\"single\", \"restart\"]\n") + kOneTracker + kStaying);
  const Study whole = study();
  std::size_t shown = 0;
  const Study visited = visit_study(folder_ / "study", [&](const Study& known, const StudyRun& run) {
    EXPECT_EQ(known.runs.size(), shown);
    EXPECT_EQ(trace_text(run.trace), trace_text(whole.runs.at(shown).trace));
    EXPECT_EQ(run.score.overlap_curve, whole.runs[shown].score.overlap_curve);
    EXPECT_EQ(run.troubles.size(), whole.runs[shown].troubles.size());
    ++shown;
  });
  EXPECT_EQ(shown, whole.runs.size());
  ASSERT_EQ(visited.runs.size(), whole.runs.size());
  for (std::size_t i = 0; i < whole.runs.size(); ++i) {
    EXPECT_TRUE(visited.runs[i].trace.rows.empty());
    EXPECT_TRUE(visited.runs[i].score.overlap_curve.empty());
    for (const ScalarMeasure& measure : scalar_measures()) {
      EXPECT_EQ(measure.of(visited.runs[i].score), measure.of(whole.runs[i].score)) << measure.name;
    }
  }
  EXPECT_EQ(visited.missing_runs, 0);
}

TEST(ReadStudy, RefusesWhatIsNone) {
  const test::TempFolder folder;
  test::expect_parts(message_of<DataError>([&] { (void)read_study(folder.path()); }),
                     {"study.sqlite", "no such study"});
  write_file(folder / kStudyFile,
             "this is no database, though it is long enough to be taken for one at first sight");
  test::expect_parts(message_of<DataError>([&] { (void)read_study(folder.path()); }),
                     {"study.sqlite", "not a database"});
  test::expect_parts(message_of<DataError>([&] { const StudyWriter writer(folder.path()); }),
                     {"not a database"});
}

TEST(CorePin, HoldsTheThreadToOneCoreForItsLife) {
  cpu_set_t before;
  ASSERT_EQ(sched_getaffinity(0, sizeof before, &before), 0);
  {
    const CorePin pin;
    cpu_set_t held;
    ASSERT_EQ(sched_getaffinity(0, sizeof held, &held), 0);
    EXPECT_EQ(CPU_COUNT(&held) == 1, pin.holds() || CPU_COUNT(&before) == 1);
  }
  cpu_set_t after;
  ASSERT_EQ(sched_getaffinity(0, sizeof after, &after), 0);
  EXPECT_TRUE(CPU_EQUAL(&before, &after));
}

TEST_F(StudyOnDisk, SweepsTheWidthThatTrackersSee) {
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

// What a sequence keeps out is nothing to any tracker of a plan: here the very target, a frame after it was marked.
TEST_F(StudyOnDisk, ShowsTrackersNothingOfAreasThatAreKeptOut) {
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

TEST_F(StudyOnDisk, IsTheSameOnAnyNumberOfThreadsAndWithAnyMemory) {
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

TEST_F(StudyOnDisk, KeepsNoTimesOfRunsSideBySide) {
  run(std::string(kManyProtocols) + kOneTracker);
  for (const StudyRun& run : study().runs) {
    EXPECT_FALSE(run.timed);
    for (const TraceRow& row : run.trace.rows) EXPECT_FALSE(row.step_ms);
  }
}

TEST_F(StudyOnDisk, RunsAProtocolWithOtherParametersAgain) {
  const std::string plan = "protocols = [\"restart\"]\n";
  EXPECT_EQ(run(plan + kOneTracker).made, 2);
  EXPECT_EQ(run(plan + "[protocol.restart]\nrestart_gap = 7\n" + kOneTracker).made, 2);
  EXPECT_EQ(study().protocols.at(0).params.at("restart_gap"), ParamValue(7));
  EXPECT_EQ(run(plan + kOneTracker).kept, 2);
}

TEST_F(StudyOnDisk, FailsRunsWhoseStepsTakeTooLong) {
  const RunSummary summary = run("step_limit_ms = 0.0001\n" + std::string(kOneTracker));
  EXPECT_EQ(summary.failed, 2);
  test::expect_parts(study().runs.at(0).failure, {"the step on frame 1", "step_limit_ms is 0.0001"});
}

TEST_F(StudyOnDisk, RunsLiveWithItsHighestRate) {
  EXPECT_EQ(run("protocols = [\"live\"]\n[[tracker]]\nname = \"stay\"\n").failed, 0);
  for (const StudyRun& run : study().runs) {
    EXPECT_EQ(run.highest_rate_hz, 960);
    EXPECT_EQ(run.score.skipped_share, 0);
    EXPECT_TRUE(run.timed);
  }
}

TEST_F(StudyOnDisk, RepeatsTrackersWithChance) {
  EXPECT_EQ(run("[[tracker]]\nname = \"corr-plain\"\nrepeats = 3\n").made, 6);
  const Study read = study();
  EXPECT_EQ(read.runs.at(2).repeat, 2);
  EXPECT_NE(read.runs.at(0).trace.rows, read.runs.at(1).trace.rows);
  EXPECT_EQ(run(kOneTracker).kept, 2);  // the first of them
}

TEST_F(StudyOnDisk, TakesTracesFromElsewhere) {
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
  EXPECT_EQ(theirs.runs.at(13).score.missing_frames, 6);
  EXPECT_FALSE(theirs.runs.at(13).timed);
  EXPECT_TRUE(theirs.runs.at(0).timed);  // the exported trace has its times
  EXPECT_EQ(theirs.runs.at(0).score.success_area, own.runs.at(0).score.success_area);
  // A trace that changed is read again.
  write_file(folder_ / "text/traces/stay/steady.csv", "frame,x,y,w,h\n0,10,10,20,20\n");
  EXPECT_EQ(run(plan).made, 1);
}

// Several runs of a program with chance in it: as an export names them, or a folder for each.
TEST_F(StudyOnDisk, TakesSeveralRunsFromElsewhere) {
  run("[[tracker]]\nname = \"corr-plain\"\nrepeats = 3\n");
  const Study own = study();
  export_study(folder_ / "study", folder_ / "text");
  const RunSummary exported = run("[[tracker]]\nlabel = \"theirs\"\ntraces = \"text/traces/corr-plain\"\n");
  EXPECT_EQ(exported.made, 6);
  EXPECT_EQ(exported.failed, 0);
  const Study read = study();
  for (std::size_t i = 0; i < own.runs.size(); ++i) {
    EXPECT_EQ(read.runs.at(i).repeat, own.runs[i].repeat);
    EXPECT_EQ(read.runs[i].score.success_area, own.runs[i].score.success_area);
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
      EXPECT_EQ(each.runs[i].score.success_area, own.runs[i].score.success_area);
    }
  }
  test::expect_parts(message_of<DataError>([&] { run("[[tracker]]\ntraces = \"none*\"\n"); }),
                     {"no folder", "none*"});
}

TEST_F(StudyOnDisk, TakesListsOfBoxesAsTheyAre) {
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
    EXPECT_NEAR(*one.score.success_area, is_plain ? 1 : 6.0 / 7, 1e-9);
    EXPECT_FALSE(one.timed);
  }
}

TEST_F(StudyOnDisk, RunsGeneratedSequences) {
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

TEST_F(StudyOnDisk, FailsTheRunsOnSequencesThatCannotBeReadAndGoesOn) {
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

TEST_F(StudyOnDisk, RunsASequenceOfOneFrame) {
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
      EXPECT_FALSE(run.score.success_area);
    }
}

TEST_F(StudyOnDisk, IsOneWritersAtATime) {
  const StudyWriter first(folder_ / "study");
  EXPECT_TRUE(first.keeps_others_out());
  test::expect_parts(message_of<Error>([&] { run(kOneTracker); }),
                     {"another program is running a plan into this study", "process", "since 20"});
}

TEST_F(StudyOnDisk, IsFreeAgainOnceItsWriterIsDone) {
  run(kOneTracker);
  EXPECT_FALSE(std::filesystem::exists(folder_ / "study/study.lock"));
  write_file(folder_ / "study/study.lock", "process 1 on a machine that lost its power");  // left behind
  EXPECT_EQ(run(kOneTracker).kept, 2);
}

// A study whose runs are those of another build, as after the program was changed.
void pretend_other_code(const std::filesystem::path& folder) {
  Database database(folder / kStudyFile, Database::Mode::create);
  database.run("UPDATE builds SET code = code || 'x' WHERE code LIKE '%+%'");
}

TEST_F(StudyOnDisk, RunsTrackersOfAProgramAgainOnceItIsAnother) {
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

TEST_F(StudyOnDisk, FailsTheRunsOnASequenceWithABrokenFrameAndGoesOn) {
  write_file(folder_ / "kites/cloudbank/frames/000007.jpg", "no picture");
  run("protocols = [\"starts\"]\n" + std::string(kOneTracker));
  const Study read = study();
  ASSERT_EQ(read.runs.size(), 20U);
  test::expect_parts(read.runs.at(0).failure, {"000007.jpg"});
  EXPECT_EQ(read.runs.at(10).failure, "");
}

// A fuzzer that starts from a study of an earlier form gets no further than its first line.
TEST_F(StudyOnDisk, OfTheFuzzersCorpusIsOfThisForm) {
  std::filesystem::create_directory(folder_ / "study");
  std::filesystem::copy(std::filesystem::path(MNEMON_SOURCE_DIR) / "fuzz/corpus/study/small.sqlite",
                        folder_ / "study" / kStudyFile);
  EXPECT_EQ(study().runs.size(), 2U);
}

TEST_F(StudyOnDisk, RefusesAStudyOfAnotherForm) {
  run(kOneTracker);
  {
    Database database(folder_ / "study" / kStudyFile, Database::Mode::create);
    database.run("UPDATE facts SET value = 'mnemon-study/9' WHERE key = 'format'");
  }
  for (const auto& message : {message_of<DataError>([this] { (void)study(); }),
                              message_of<DataError>([this] { run(kOneTracker); })})
    test::expect_parts(message, {"study.sqlite", "mnemon-study/9", "another folder"});
}

}  // namespace mnemon
