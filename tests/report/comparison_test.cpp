// SPDX-License-Identifier: MIT
#include <mnemon/report/comparison.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/report/page.hpp>
#include <mnemon/report/study_json.hpp>

#include "support/made_study.hpp"
#include "support/messages.hpp"

namespace mnemon {

using test::study_of;

TEST(Standings, AreMeansIntervalsAndRanks) {
  const Study study = study_of({{0.5, 0.7, 0.9}, {0.6, 0.7, 0.1}, {0.1, 0.2, -1}});
  const auto all = standings(Results(study), 0);
  ASSERT_EQ(all.size(), 3U);
  EXPECT_NEAR(*all[0].mean, 0.7, 1e-12);
  EXPECT_EQ(all[2].sequences, 2);
  // Weighted by 10, 20 and 30 present frames.
  EXPECT_NEAR(*all[0].by_frames, (0.5 * 10 + 0.7 * 20 + 0.9 * 30) / 60, 1e-12);
  EXPECT_NEAR(*all[2].by_frames, (0.1 * 10 + 0.2 * 20) / 30, 1e-12);
  EXPECT_LE(all[0].interval->low, 0.7);
  EXPECT_GE(all[0].interval->high, 0.7);
  // The third sequence is left out of the ranks, as one tracker has no score there.
  EXPECT_NEAR(*all[0].mean_rank, (2 + 1.5) / 2, 1e-12);
  EXPECT_NEAR(*all[1].mean_rank, (1 + 1.5) / 2, 1e-12);
  EXPECT_NEAR(*all[2].mean_rank, 3, 1e-12);
}

TEST(Comparisons, NameTheBetterAndByHowMuch) {
  const Study study = study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1}, {0.6, 0.8, 0.5, 0.9, 0.7, 0.6}});
  const auto all = comparisons(Results(study), 0);
  ASSERT_EQ(all.size(), 1U);
  EXPECT_EQ(all[0].better, 1);
  EXPECT_NEAR(*all[0].difference.mean, 0.516667, 1e-6);
  EXPECT_NEAR(*all[0].p, 2.0 / 64, 1e-12);
  test::expect_parts(verdict(study, all[0]),
                     {"b is better than a by 0.517 (", "over 6 sequences, p = 0.0312"});
}

TEST(Comparisons, DoNotRankWhatTheDataDoNotSeparate) {
  const Study study = study_of({{0.1, 0.9, 0.4, 0.6}, {0.2, 0.7, 0.5, 0.5}});
  const auto all = comparisons(Results(study), 0);
  EXPECT_FALSE(all[0].difference.is_told_apart());
  test::expect_parts(verdict(study, all[0]), {"the data do not separate a and b"});
  test::expect_parts(comparison_text(Results(study), 0), {"mean rank", "do not separate"});
}

TEST(Comparisons, SayWhereTheRanksLeaveItOpen) {
  // On four sequences b is far better, on the other five a little worse.
  const Study study = study_of(
      {{0.51, 0.52, 0.53, 0.54, 0.55, 0.1, 0.1, 0.1, 0.1}, {0.5, 0.5, 0.5, 0.5, 0.5, 0.9, 0.9, 0.9, 0.9}});
  const auto all = comparisons(Results(study), 0);
  ASSERT_TRUE(all[0].difference.is_told_apart());
  EXPECT_GT(*all[0].p, 0.05);
  test::expect_parts(verdict(study, all[0]), {"b is better than a by 0.339", ": the ranks leave it open"});
  const Study clear = study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1}, {0.6, 0.8, 0.5, 0.9, 0.7, 0.6}});
  EXPECT_EQ(verdict(clear, comparisons(Results(clear), 0)[0]).find("open"), std::string::npos);
}

TEST(Comparisons, CorrectForTheNumberOfPairs) {
  const Study study =
      study_of({{0.1, 0.2, 0.1, 0.3, 0.2}, {0.5, 0.8, 0.6, 0.9, 0.7}, {0.3, 0.35, 0.36, 0.5, 0.4}});
  const auto all = comparisons(Results(study), 0);
  ASSERT_EQ(all.size(), 3U);
  for (const Comparison& comparison : all)
    EXPECT_NEAR(*comparison.p, 3 * 2.0 / 32, 1e-12);  // each 2/32 alone
}

TEST(Comparisons, NeedTwoTrackers) {
  const Study study = study_of({{0.1, 0.9}});
  EXPECT_TRUE(comparisons(Results(study), 0).empty());
  EXPECT_EQ(comparison_text(Results(study), 0), "");
  EXPECT_TRUE(study_json(Results(study))["protocols"][0]["comparisons"].empty());
  EXPECT_EQ(page_html(study).find("Which is better"), std::string::npos);
}

TEST(Comparisons, AreOnThePageAndInTheJson) {
  const Study study = study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1}, {0.6, 0.8, 0.5, 0.9, 0.7, 0.6}});
  test::expect_parts(page_html(study), {"Which is better", "b is better than a by 0.517"});
  const Json json = study_json(Results(study))["protocols"][0]["comparisons"];
  EXPECT_EQ(json[0]["better"], "b");
  EXPECT_TRUE(json[0]["told_apart"]);
}

}  // namespace mnemon
