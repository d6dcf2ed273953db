// SPDX-License-Identifier: MIT
#include <mnemon/report/comparison.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/report/page.hpp>
#include <mnemon/report/study_json.hpp>

#include "support/made_study.hpp"
#include "support/messages.hpp"
#include "support/page_data.hpp"

namespace mnemon {

using test::study_of;

TEST(Standings, AreMeansIntervalsAndRanksByMerit) {
  const Study study = study_of({{0.1, 0.2, -1}, {0.5, 0.7, 0.9}, {0.6, 0.7, 0.1}});
  const Results results(study);
  const auto all = standings(results, 0, comparisons(results, 0));
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
  const Study study =
      study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1, 0.2, 0.1}, {0.6, 0.8, 0.5, 0.9, 0.7, 0.6, 0.7, 0.6}});
  const auto all = comparisons(Results(study), 0);
  ASSERT_EQ(all.size(), 1U);
  EXPECT_EQ(all[0].better, 1);
  EXPECT_NEAR(all[0].difference, 0.5125, 1e-12);
  EXPECT_GT(all[0].interval.low, 0.4);
  EXPECT_LT(all[0].interval.high, 0.62);
  EXPECT_NEAR(*all[0].p, 2.0 / 256, 1e-12);
  test::expect_parts(verdict(study, all[0]), {"b is better than a by 0.512 (", "over 8 sequences"});
}

TEST(Comparisons, DoNotRankWhatIsNotSeparated) {
  const Study study = study_of({{0.1, 0.9, 0.4, 0.6}, {0.2, 0.7, 0.5, 0.5}});
  const auto all = comparisons(Results(study), 0);
  EXPECT_FALSE(all[0].is_separated());
  test::expect_parts(verdict(study, all[0]), {"a and b are not separated: 0.0"});
  // However sure it is: a difference below 0.01 counts for nothing, and neither do five sequences.
  const Study close =
      study_of({{0.5, 0.6, 0.7, 0.5, 0.6, 0.7, 0.8}, {0.505, 0.606, 0.705, 0.504, 0.605, 0.706, 0.805}});
  const auto twins = comparisons(Results(close), 0);
  EXPECT_GT(twins[0].interval.low, 0);
  EXPECT_FALSE(twins[0].is_separated());
  EXPECT_FALSE(comparisons(Results(study_of({{0.1, 0.1, 0.1, 0.1, 0.1}, {0.9, 0.8, 0.9, 0.9, 0.9}})), 0)[0]
                   .is_separated());
}

TEST(Comparisons, AreOverTheSequencesThatAllTrackersHave) {
  const Study study = study_of({{0.1, 0.2, 0.9}, {0.6, 0.8, 0.1}, {0.3, 0.3, -1}, {-1, -1, -1}});
  const auto all = comparisons(Results(study), 0);
  ASSERT_EQ(all.size(), 3U);  // the fourth has no score at all
  for (const Comparison& pair : all) EXPECT_EQ(pair.sequences, 2);
}

TEST(Standings, ShareALetterWhereTheyAreNotSeparated) {
  // a and b are as good as each other, c is far below, and d is a floor, which stands last whatever it scores.
  std::vector<std::vector<double>> areas(4);
  for (int i = 0; i < 10; ++i) {
    areas[0].push_back(0.80 + 0.03 * (i % 3));
    areas[1].push_back(0.82 + 0.03 * (i % 2));
    areas[2].push_back(0.30 + 0.02 * (i % 5));
    areas[3].push_back(0.90);
  }
  Study study = study_of(areas);
  study.trackers[3].name = "stay";
  const Results results(study);
  const auto all = standings(results, 0, comparisons(results, 0));
  ASSERT_EQ(all.size(), 4U);
  EXPECT_EQ(study.trackers[all[0].tracker].label, "b");
  EXPECT_EQ(all[0].group, all[1].group);
  EXPECT_EQ(study.trackers[all[2].tracker].label, "c");
  EXPECT_NE(all[2].group, all[0].group);
  EXPECT_EQ(study.trackers[all[3].tracker].label, "d");
  test::expect_parts(table_text(standing_table(results, 0, comparisons(results, 0))), {"group", "mean rank"});
  const std::string answer = answer_text(results, 0, comparisons(results, 0));
  test::expect_parts(
      answer, {"b is the most accurate: success area 0.835 over 10 sequences; a is not separated from it.",
               "Of difficulties that these 10 sequences do not have, this says nothing."});
  EXPECT_EQ(answer.find(" d "), std::string::npos);
}

TEST(Comparisons, NeedTwoTrackers) {
  const Study study = study_of({{0.1, 0.9}});
  EXPECT_TRUE(comparisons(Results(study), 0).empty());
  test::expect_parts(answer_text(Results(study), 0, {}),
                     {"a is the most accurate: success area 0.500 over 2 sequences."});
  EXPECT_TRUE(study_json(Results(study))["protocols"][0]["comparisons"].empty());
  EXPECT_TRUE(test::page_data(page_html(study))["pairs"].empty());
}

TEST(Comparisons, AreOnThePageAndInTheJson) {
  const Study study =
      study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1, 0.2, 0.1}, {0.6, 0.8, 0.5, 0.9, 0.7, 0.6, 0.7, 0.6}});
  const Json data = test::page_data(page_html(study));
  test::expect_parts(data["answer"].get<std::string>(), {"b is the most accurate"});
  test::expect_parts(data["pairs"][0]["text"].get<std::string>(), {"b is better than a by 0.512"});
  EXPECT_EQ(data["merit"]["rows"][0]["name"], "b");
  const Json json = study_json(Results(study))["protocols"][0];
  EXPECT_EQ(json["comparisons"][0]["better"], "b");
  EXPECT_TRUE(json["comparisons"][0]["separated"]);
  EXPECT_NE(json["groups"]["a"], json["groups"]["b"]);
}

}  // namespace mnemon
