// SPDX-License-Identifier: MIT
#include <mnemon/report/comparison.hpp>

#include <gtest/gtest.h>

#include <mnemon/report/page.hpp>
#include <mnemon/report/table.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

// Trackers with these success areas, a row each, a place a sequence; below 0 for a run that failed.
Study study_of(const std::vector<std::vector<double>>& areas) {
  Study study;
  study.title = "made by hand";
  for (std::size_t k = 0; k < areas[0].size(); ++k) {
    StudySequence sequence;
    sequence.name = "s" + std::to_string(k);
    sequence.size = {64, 36};
    sequence.frames = 1;
    sequence.truth.rows.push_back({0, {{5, 5, 10, 10}, 0}, true, 1, {}});
    study.sequences.push_back(sequence);
  }
  for (std::size_t i = 0; i < areas.size(); ++i) {
    study.trackers.push_back({std::string(1, static_cast<char>('a' + i)), "x", "{}"});
    for (std::size_t k = 0; k < areas[i].size(); ++k) {
      StudyRun run{static_cast<int>(i), static_cast<int>(k), "single", false, "", {}, {}};
      run.trace.rows.push_back({0, {{5, 5, 10, 10}, 0}, 1, true, {}, Event::seed});
      if (areas[i][k] < 0)
        run.failure = "broke";
      else
        run.score.success_area = areas[i][k];
      study.runs.push_back(run);
    }
  }
  return study;
}

}  // namespace

TEST(Standings, AreMeansIntervalsAndRanks) {
  const auto all = standings(study_of({{0.5, 0.7, 0.9}, {0.6, 0.7, 0.1}, {0.1, 0.2, -1}}));
  ASSERT_EQ(all.size(), 3U);
  EXPECT_NEAR(*all[0].mean, 0.7, 1e-12);
  EXPECT_EQ(all[2].sequences, 2);
  EXPECT_LE(all[0].interval->low, 0.7);
  EXPECT_GE(all[0].interval->high, 0.7);
  // The third sequence is left out of the ranks, as one tracker has no score there.
  EXPECT_NEAR(*all[0].mean_rank, (2 + 1.5) / 2, 1e-12);
  EXPECT_NEAR(*all[1].mean_rank, (1 + 1.5) / 2, 1e-12);
  EXPECT_NEAR(*all[2].mean_rank, 3, 1e-12);
}

TEST(Comparisons, NameTheBetterAndByHowMuch) {
  const Study study = study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1}, {0.6, 0.8, 0.5, 0.9, 0.7, 0.6}});
  const auto all = comparisons(study);
  ASSERT_EQ(all.size(), 1U);
  EXPECT_EQ(all[0].better, 1);
  EXPECT_NEAR(*all[0].difference.mean, 0.516667, 1e-6);
  EXPECT_NEAR(*all[0].p, 2.0 / 64, 1e-12);
  test::expect_parts(verdict(study, all[0]),
                     {"b is better than a by 0.517 (", "over 6 sequences, p = 0.0312"});
}

TEST(Comparisons, DoNotRankWhatTheDataDoNotSeparate) {
  const Study study = study_of({{0.1, 0.9, 0.4, 0.6}, {0.2, 0.7, 0.5, 0.5}});
  const auto all = comparisons(study);
  EXPECT_FALSE(all[0].difference.is_told_apart());
  test::expect_parts(verdict(study, all[0]), {"the data do not separate a and b"});
  test::expect_parts(comparison_text(study), {"mean rank", "do not separate"});
}

TEST(Comparisons, CorrectForTheNumberOfPairs) {
  const auto all = comparisons(
      study_of({{0.1, 0.2, 0.1, 0.3, 0.2}, {0.5, 0.8, 0.6, 0.9, 0.7}, {0.3, 0.35, 0.36, 0.5, 0.4}}));
  ASSERT_EQ(all.size(), 3U);
  for (const Comparison& comparison : all)
    EXPECT_NEAR(*comparison.p, 3 * 2.0 / 32, 1e-12);  // each 2/32 alone
}

TEST(Comparisons, NeedTwoTrackers) {
  const Study study = study_of({{0.1, 0.9}});
  EXPECT_TRUE(comparisons(study).empty());
  EXPECT_EQ(comparison_text(study), "");
  EXPECT_TRUE(study_json(study)["comparisons"].empty());
  EXPECT_EQ(page_html(study).find("Which is better"), std::string::npos);
}

TEST(Comparisons, AreOnThePageAndInTheJson) {
  const Study study = study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1}, {0.6, 0.8, 0.5, 0.9, 0.7, 0.6}});
  test::expect_parts(page_html(study), {"Which is better", "b is better than a by 0.517"});
  const Json json = study_json(study)["comparisons"];
  EXPECT_EQ(json[0]["better"], "b");
  EXPECT_TRUE(json[0]["told_apart"]);
}

}  // namespace mnemon
