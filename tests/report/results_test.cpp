// SPDX-License-Identifier: MIT
#include <mnemon/report/results.hpp>

#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/report/table.hpp>

#include "support/made_study.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

// One tracker, one sequence, three runs under `starts` with these areas.
Study with_runs(const std::vector<double>& areas) {
  Study study = test::study_of({{0}});
  study.protocols = {make_protocol("starts")};
  const StudyRun one = study.runs[0];
  study.runs.clear();
  for (std::size_t i = 0; i < areas.size(); ++i) {
    study.runs.push_back(one);
    study.runs.back().start = static_cast<int>(areas.size() - i);  // not in order
    test::change_score(study.runs.back(), [&](RunScore& score) { score.success_area = areas[i]; });
    if (areas[i] < 0) study.runs.back().failure = "broke";
  }
  return study;
}

// Overlap 1 on the first half of a sequence, none on the second.
Study half_right(const std::string& tag, std::vector<TagSpan> spans) {
  Study study = test::study_of({{0}, {0}});
  StudySequence& sequence = study.sequences[0];
  sequence.tags = {tag};
  sequence.spans = std::move(spans);
  sequence.truth.rows.clear();
  for (int i = 0; i < 21; ++i) sequence.truth.rows.push_back({i, {{10, 10, 10, 10}, 0}, true, 1, {}});
  for (StudyRun& run : study.runs) {
    run.trace.rows.clear();
    for (int i = 0; i < 21; ++i)
      run.trace.rows.push_back({i, {{i <= 10 ? 10.0 : 50.0, 10, 10, 10}, 0}, 1, true, {}, Event::none});
    run.score = std::make_shared<const RunScore>(score_run(sequence.truth, run.trace));
  }
  return study;
}

}  // namespace

TEST(Results, AreMeansOverTheRunsOfACell) {
  const Study study = with_runs({0.2, 0.4, -1, 0.9});
  const Results results(study);
  EXPECT_NEAR(*results.value(0, 0, 0, "success_area"), 0.5, 1e-12);
  EXPECT_NEAR(*results.least(0, 0, 0, "success_area"), 0.2, 1e-12);
  EXPECT_NEAR(*results.spread(0, 0, 0, "success_area"), std::sqrt((0.09 + 0.01 + 0.16) / 2), 1e-12);
  EXPECT_EQ(results.runs(0, 0, 0).front()->start, 1);
  EXPECT_FALSE(results.value(0, 0, 0, "median_hold"));
  EXPECT_EQ(test::sequence_table(results).rows[0].note, "1 of 4 runs: broke");
  test::expect_parts(test::message_of<CallError>([&] { (void)results.value(0, 0, 0, "sucess_area"); }),
                     {"did you mean 'success_area'"});
}

TEST(Results, LeaveSweepsAndGeneratedSequencesOutOfTheTables) {
  Study study = test::study_of({{0.1, 0.2}, {0.3, 0.4}});
  study.trackers[1].sweep = "a";
  study.sequences[1].stress = {"steady", "noise", 0.5, 1};
  const Results results(study);
  EXPECT_EQ(results.trackers(), std::vector<int>{0});
  EXPECT_EQ(results.sequences(), std::vector<int>{0});
  EXPECT_EQ(summary_table(results, 0).rows.size(), 1U);
}

TEST(TaggedValues, AreOfTheSpansWhereThereAreAny) {
  const Study whole = half_right("fast", {});
  EXPECT_NEAR(*Results(whole).tagged_values(0, 0, "success_at_0.5", "fast")[0], 0.5, 1e-12);
  const Study spans = half_right("fast", {{"fast", 6, 15}, {"blur", 0, 3}});
  const Results results(spans);
  EXPECT_NEAR(*results.tagged_values(0, 0, "success_at_0.5", "fast")[0], 0.5, 1e-12);
  EXPECT_NEAR(*results.tagged_values(0, 0, "success_at_0.5", "blur")[0], 1, 1e-12);
  const Study end = half_right("fast", {{"fast", 8, 12}, {"fast", 17, 18}});
  EXPECT_NEAR(*Results(end).tagged_values(0, 0, "success_at_0.5", "fast")[0], 3.0 / 7, 1e-12);
  // Losses are of whole runs, spans or not.
  EXPECT_EQ(Results(end).tagged_values(0, 0, "losses", "fast")[0], 1);
  EXPECT_FALSE(results.tagged_values(0, 0, "success_at_0.5", "noise")[0]);
  EXPECT_EQ(results.tags(), (std::vector<std::string>{"blur", "fast"}));
}

TEST(TagTable, HasARowForEachTagThatThereIs) {
  const Study study = half_right("fast", {});
  const ReportTable table = tag_table(Results(study), 0);
  ASSERT_EQ(table.rows.size(), 1U);
  EXPECT_EQ(table.rows[0].tracker, "fast");
  EXPECT_EQ(table.rows[0].sequence, "mean of 1");
  EXPECT_EQ(table.columns.size(), 2U);
  const Study plain = test::study_of({{0.5}});
  EXPECT_TRUE(tag_table(Results(plain), 0).columns.empty());
}

TEST(SummaryTable, MarksTimesFromElsewhereAsTheirOwn) {
  Study study = test::study_of({{0.5}});
  study.trackers[0].name = "traces";
  study.runs[0].timed = true;
  study.runs[0].trace.rows.push_back({1, {{5, 5, 10, 10}, 0}, 1, true, 2.0, Event::none});
  const std::string text = table_text(summary_table(Results(study), 0));
  test::expect_parts(text, {"500*", "2.000*", "* Times as the traces from elsewhere give them"});
}

TEST(Results, LeaveOutTrackersThatWereNotRunUnderAProtocol) {
  Study study = test::study_of({{0.9, 0.8}, {0.2, 0.3}});
  study.protocols = {make_protocol("single"), make_protocol("restart")};
  StudyRun other = study.runs[0];
  other.protocol = 1;
  study.runs.push_back(other);
  const Results results(study);
  EXPECT_EQ(results.trackers(0), results.trackers());
  EXPECT_EQ(results.trackers(1), std::vector<int>{other.tracker});
  EXPECT_EQ(summary_table(results, 0).rows.size(), 2U);
  EXPECT_EQ(summary_table(results, 1).rows.size(), 1U);
}

}  // namespace mnemon
