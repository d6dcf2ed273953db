// SPDX-License-Identifier: MIT
#include <mnemon/study/study.hpp>

#include <algorithm>
#include <filesystem>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/run/protocol/unaided.hpp>
#include <mnemon/study/runner.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "study/study_on_disk.hpp"
#include "support/messages.hpp"
#include "support/small_demo.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

using test::kOneTracker;
using test::message_of;

class StudyRead : public test::StudyOnDisk {};

// A plan's text with a tracker that stays where it was, so that it loses a target that flies on.
const std::string kStaying = "[[tracker]]\nname = \"stay\"\n";

}  // namespace

TEST_F(StudyRead, HoldsTroublesWithCropsAndStages) {
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

TEST_F(StudyRead, HoldsAccuracyByRate) {
  run("protocols = [\"live\"]\n" + kStaying);
  const Study read = study();
  for (const StudyRun& one : read.runs) {
    ASSERT_EQ(one.rate_areas.size(), 13U);
    EXPECT_EQ(one.rate_areas.front().rate_hz, 5);
    // What stays needs no time, so that every rate is as good.
    for (const RateArea& area : one.rate_areas) EXPECT_EQ(area.success_area, one.rate_areas[0].success_area);
  }
}

TEST_F(StudyRead, HoldsWhatWasRun) {
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
  EXPECT_EQ(hidden_run.score->absent_frames, 6);
}

TEST_F(StudyRead, KeepsPicturesWithOneOfTheAbsence) {
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

TEST_F(StudyRead, AnswersTheQueriesOfItsSchema) {
  run(kOneTracker);
  Database database(folder_ / "study" / kStudyFile, Database::Mode::read);
  Statement area = database.prepare(
      "SELECT value FROM scores JOIN runs ON runs.id = run_id JOIN sequences ON sequences.id = sequence_id "
      "WHERE measure = 'success_area' AND sequences.name = 'cloudbank'");
  ASSERT_TRUE(area.next());
  EXPECT_EQ(area.real(0), *study().runs.at(0).score->success_area);
}

TEST_F(StudyRead, AnswersTheQueriesOfItsDocument) {
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

TEST_F(StudyRead, IsReadAsFarAsIsAskedFor) {
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
    EXPECT_EQ(part.runs[i].score->overlap_curve, wanted[i]->score->overlap_curve);
    EXPECT_TRUE(part.runs[i].crops.empty());
  }
  EXPECT_TRUE(std::ranges::any_of(wanted, [](const StudyRun* one) { return !one->crops.empty(); }));
  for (const StudySequence& sequence : part.sequences) EXPECT_TRUE(sequence.pictures.empty());
}

TEST_F(StudyRead, LeavesTracesInTheFile) {
  run(kOneTracker + kStaying);
  const Study whole = study();
  const Study part = read_study(folder_ / "study", {.runs = RunParts::figures});
  ASSERT_EQ(part.runs.size(), whole.runs.size());
  for (std::size_t i = 0; i < whole.runs.size(); ++i) {
    EXPECT_TRUE(part.runs[i].trace.rows.empty());
    EXPECT_EQ(part.trace_of(part.runs[i]).rows, whole.runs[i].trace.rows);
    EXPECT_EQ(whole.trace_of(whole.runs[i]).rows, whole.runs[i].trace.rows);
    EXPECT_FALSE(part.runs[i].score);
    for (const ScalarMeasure& measure : scalar_measures())
      EXPECT_EQ(packed_figure(part.runs[i].figures, measure.name), measure.of(*whole.runs[i].score))
          << measure.name;
    EXPECT_EQ(part.score_of(part.runs[i]).hold_curve.size(), whole.runs[i].score->hold_curve.size());
    EXPECT_EQ(part.score_of(part.runs[i]).overlap_curve, whole.score_of(whole.runs[i]).overlap_curve);
    EXPECT_TRUE(part.runs[i].troubles.empty());
    EXPECT_EQ(part.troubles_of(part.runs[i]).size(), whole.troubles_of(whole.runs[i]).size());
    EXPECT_TRUE(part.runs[i].crops.empty());
    const RunMoments moments = part.moments_of(part.runs[i]);
    ASSERT_EQ(moments.crops.size(), whole.runs[i].crops.size());
    for (std::size_t k = 0; k < moments.crops.size(); ++k)
      EXPECT_EQ(moments.crops[k].jpeg, whole.runs[i].crops[k].jpeg);
  }
  for (std::size_t i = 0; i < whole.sequences.size(); ++i) {
    EXPECT_TRUE(part.sequences.at(i).truth.rows.empty());
    EXPECT_EQ(part.truth_of(part.sequences[i]).rows, whole.truth_of(whole.sequences[i]).rows);
  }
  ASSERT_EQ(part.pictures_of(part.sequences.at(0)).size(), whole.sequences.at(0).pictures.size());
  EXPECT_EQ(part.pictures_of(part.sequences[0]).at(0).jpeg, whole.sequences[0].pictures.at(0).jpeg);
  EXPECT_GT(whole.picture_bytes(), whole.sequences[0].pictures.at(0).jpeg.size());
  EXPECT_EQ(part.picture_bytes(), whole.picture_bytes());
  const Study late = read_study(folder_ / "study", {.runs = RunParts::figures});
  Database(folder_ / "study" / kStudyFile, Database::Mode::create).run("DELETE FROM estimates");
  test::expect_parts(message_of<DataError>([&] { (void)late.trace_of(late.runs.front()); }),
                     {"study.sqlite", "went while it was read"});
}

TEST_F(StudyRead, ShowsRunsWholeAndHoldsNone) {
  run(std::string("protocols = [\"single\", \"restart\"]\n") + kOneTracker + kStaying);
  const Study whole = study();
  std::size_t shown = 0;
  visit_study(folder_ / "study", [&](const Study& known, const StudyRun& run) {
    EXPECT_TRUE(known.runs.empty());
    EXPECT_EQ(trace_text(run.trace), trace_text(whole.runs.at(shown).trace));
    EXPECT_EQ(run.score->overlap_curve, whole.runs[shown].score->overlap_curve);
    EXPECT_EQ(run.troubles.size(), whole.runs[shown].troubles.size());
    for (const ScalarMeasure& measure : scalar_measures()) {
      EXPECT_EQ(measure.of(*run.score), measure.of(*whole.runs[shown].score)) << measure.name;
    }
    ++shown;
  });
  EXPECT_EQ(shown, whole.runs.size());
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

// A fuzzer that starts from a study of an earlier form gets no further than its first line.
TEST_F(StudyRead, OfTheFuzzersCorpusIsOfThisForm) {
  std::filesystem::create_directory(folder_ / "study");
  std::filesystem::copy(std::filesystem::path(MNEMON_SOURCE_DIR) / "fuzz/corpus/study/small.sqlite",
                        folder_ / "study" / kStudyFile);
  EXPECT_EQ(study().runs.size(), 2U);
}

TEST_F(StudyRead, RefusesAStudyOfAnotherForm) {
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
