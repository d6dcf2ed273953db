// SPDX-License-Identifier: MIT
#include <mnemon/report/change.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>

#include "support/made_study.hpp"
#include "support/messages.hpp"

namespace mnemon {

using test::study_of;

TEST(Change, SortsSequencesIntoBetterWorseAndAsTheyWere) {
  const Study study = study_of({{0.2, 0.5, 0.7, 0.4}, {0.6, 0.5, 0.65, 0.405}});
  const Results results(study);
  const Change change = find_change({results, 0}, {results, 1}, {});
  ASSERT_EQ(change.sequences.size(), 4U);
  EXPECT_EQ(change.sequences[0].sequence, "s0");
  EXPECT_EQ(change.sequences[0].verdict, 1);
  EXPECT_EQ(change.sequences[1].sequence, "s2");
  EXPECT_EQ(change.sequences[1].verdict, -1);
  EXPECT_EQ(change.sequences[2].verdict, 0);
  EXPECT_NEAR(*change.overall.mean, (0.4 - 0.05 + 0.005) / 4, 1e-12);
  test::expect_parts(
      change_text(change),
      {"a -> b: success_area under single, 4 sequences: better on 1, worse on 1", "as it was on 2",
       "+0.400  better", "-0.050  worse", "As they were: s3, s1", ": not separated."});
  EXPECT_EQ(change_json(change)["sequences"][1]["verdict"], "worse");
}

TEST(Change, KnowsWhichWayAFigureIsBetter) {
  Study study = study_of({std::vector<double>(6), std::vector<double>(6)});
  for (StudyRun& run : study.runs)
    test::change_score(run, [&](RunScore& score) {
      score.median_centre_error = run.tracker == 0 ? 9.0 : 4.0 + 0.1 * run.sequence;
    });
  const Results results(study);
  const Change change = find_change({results, 0}, {results, 1}, {.measure = "median_centre_error"});
  for (const SequenceChange& one : change.sequences) EXPECT_EQ(one.verdict, 1);
  test::expect_parts(change_text(change), {"a change of -4.750", ": better."});
}

TEST(Change, ComparesOnlyWhatIsTheSameInBothStudies) {
  const Study before = study_of({{0.2, 0.5, 0.7}});
  Study after = study_of({{0.3, 0.6, 0.8, 0.9}});
  after.sequences[1].fingerprint = "another";
  after.sequences[0].name = "new";
  const Results one(before);
  const Results other(after);
  const Change change = find_change({one, 0}, {other, 0}, {});
  ASSERT_EQ(change.sequences.size(), 1U);
  EXPECT_EQ(change.sequences[0].sequence, "s2");
  EXPECT_EQ(change.left_out.size(), 4U);
  test::expect_parts(change_text(change),
                     {"s0 is only in the first study", "s1 has changed between the studies",
                      "new is only in the second", "s3 is only in the second"});
}

TEST(Change, GoesByTag) {
  Study study = study_of({{0.2, 0.5, 0.7}, {0.6, 0.5, 0.9}});
  study.sequences[0].tags = study.sequences[2].tags = {"fast"};
  study.sequences[1].tags = {"blur"};
  const Results results(study);
  const Change change = find_change({results, 0}, {results, 1}, {});
  ASSERT_EQ(change.tags.size(), 2U);
  EXPECT_EQ(change.tags[1].tag, "fast");
  EXPECT_EQ(change.tags[1].difference.sequences, 2);
  EXPECT_NEAR(*change.tags[1].difference.mean, 0.3, 1e-12);
  EXPECT_FALSE(change.tags[1].difference.interval);  // of two sequences nothing can be said
}

TEST(Change, RefusesWhatIsNotThere) {
  const Study study = study_of({{0.2}, {0.6}});
  const Results results(study);
  test::expect_parts(test::message_of<CallError>([&] {
                       (void)find_change({results, 0}, {results, 1}, {.protocol = "starts"});
                     }),
                     {"no runs under 'starts'"});
  test::expect_parts(test::message_of<CallError>([&] {
                       (void)find_change({results, 0}, {results, 1}, {.measure = "loses"});
                     }),
                     {"did you mean 'losses'"});
}

}  // namespace mnemon
