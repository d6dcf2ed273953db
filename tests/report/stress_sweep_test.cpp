// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/report/page.hpp>
#include <mnemon/report/stress.hpp>
#include <mnemon/report/study_json.hpp>
#include <mnemon/report/study_text.hpp>
#include <mnemon/report/sweep_result.hpp>

#include "support/made_study.hpp"
#include "support/messages.hpp"
#include "support/page_data.hpp"

namespace mnemon {
namespace {

// Success areas by tracker, level and random number, on levels 0, 0.5 and 1.
Study stress_study(const std::vector<std::vector<std::vector<double>>>& areas) {
  std::vector<std::vector<double>> flat;
  for (const auto& tracker : areas) {
    flat.emplace_back();
    for (const auto& level : tracker) flat.back().insert(flat.back().end(), level.begin(), level.end());
  }
  Study study = test::study_of(flat);
  const std::size_t randoms = areas[0][0].size();
  for (std::size_t i = 0; i < study.sequences.size(); ++i)
    study.sequences[i].stress = {"steady", "noise", 0.5 * static_cast<double>(i / randoms),
                                 static_cast<int>(i % randoms) + 1};
  return study;
}

// A base and three variations of `padding`, on so many sequences.
Study sweep_study(const std::vector<std::vector<double>>& areas) {
  Study study = test::study_of(areas);
  for (std::size_t i = 1; i < areas.size(); ++i) {
    study.trackers[i].sweep = "a";
    study.trackers[i].params = "{\"padding\":" + std::to_string(i) + ".5,\"warps\":8}";
  }
  return study;
}

}  // namespace

TEST(Stress, FindsTheLevelBetweenTwoByALine) {
  const Study study = stress_study({{{0.9, 0.7}, {0.7, 0.5}, {0.3, 0.1}}});
  const auto results = stress_results(study);
  ASSERT_EQ(results.size(), 1U);
  EXPECT_EQ(results[0].levels, (std::vector<double>{0, 0.5, 1}));
  const StressCurve& curve = results[0].curves[0];
  EXPECT_NEAR(*curve.means[1], 0.6, 1e-12);
  EXPECT_NEAR(*curve.falls_at, 0.5 + 0.5 * (0.6 - 0.5) / (0.6 - 0.2), 1e-12);
  // Of the four equally likely draws two are mixed; the others fall at 0.75 and at 0.5.
  EXPECT_NEAR(curve.interval->low, 0.5, 1e-12);
  EXPECT_NEAR(curve.interval->high, 0.75, 1e-12);
}

TEST(Stress, SaysWhereNothingFalls) {
  const Study study =
      stress_study({{{0.9, 0.9}, {0.8, 0.8}, {0.6, 0.7}}, {{0.2, 0.1}, {0.2, 0.1}, {0.1, 0.1}}});
  const auto results = stress_results(study);
  EXPECT_FALSE(results[0].curves[0].falls_at);
  EXPECT_TRUE(std::isinf(results[0].curves[0].interval->high));
  EXPECT_EQ(results[0].curves[1].falls_at, 0);
  const std::string text = study_text(Results(study));
  test::expect_parts(text, {"steady under growing noise", "beyond 1", "the first"});
  EXPECT_TRUE(study_json(Results(study))["stress"][0]["trackers"]["a"]["below_half_at"].is_null());
  const Json data = test::page_data(page_html(study));
  EXPECT_EQ(data["stress"][0]["knob"], "noise");
  EXPECT_EQ(data["figures"].back()["figures"][0]["name"], "stress-steady-noise");
}

TEST(Stress, LeavesOutRunsThatFailed) {
  const Study study = stress_study({{{0.9, -1}, {0.8, 0.2}, {-1, -1}}});
  const StressCurve curve = stress_results(study)[0].curves[0];
  EXPECT_EQ(curve.means[0], 0.9);
  EXPECT_FALSE(curve.means[2]);
}

TEST(SweepResult, ChoosesOnOneHalfAndReportsOnTheOther) {
  const std::vector<double> none(12, 0.0);
  Study study = sweep_study({std::vector<double>(12, 0.5), none, none, none});
  const SweepResult halves = sweep_results(Results(study), 0)[0];
  EXPECT_EQ(halves.choosing.size(), 6U);
  EXPECT_EQ(halves.reporting.size(), 6U);
  for (const int sequence : halves.choosing)
    EXPECT_EQ(std::ranges::count(halves.reporting, sequence), 0) << sequence;
  // The second variation shines where it is chosen and fails where it is not.
  for (StudyRun& run : study.runs) {
    const bool chooses = std::ranges::count(halves.choosing, run.sequence) > 0;
    test::change_score(run, [&](RunScore& score) {
      if (run.tracker == 2) score.success_area = chooses ? 0.9 : 0.1;
      if (run.tracker == 3) score.success_area = chooses ? 0.6 : 0.8;
    });
  }
  const SweepResult sweep = sweep_results(Results(study), 0)[0];
  EXPECT_EQ(sweep.chosen, 2);
  EXPECT_NEAR(*sweep.chosen_mean, 0.1, 1e-12);
  EXPECT_NEAR(*sweep.gain.mean, -0.4, 1e-12);
  EXPECT_TRUE(sweep.gain.is_separated());
  test::expect_parts(choice_text(sweep, study), {"'c' is the best of 3 variations on the 6", "(0.900)",
                                                 "it has 0.100", "as it was 0.500", "a change of -0.400"});
  ASSERT_EQ(sweep.effects.size(), 3U);  // of padding alone: warps is the same everywhere
  EXPECT_EQ(sweep.effects[1].value, "2.5");
  EXPECT_NEAR(*sweep.effects[1].mean, 0.9, 1e-12);
  EXPECT_EQ(sensitivity_text(sweep), "padding 0.900");
  test::expect_parts(page_html(study), {"\"label\":\"a\"", "is the best of 3 variations"});
}

TEST(SweepResult, HalvesByNameAlone) {
  const Study study = sweep_study({{0.1, 0.2, 0.3, 0.4}, {0.2, 0.3, 0.4, 0.5}});
  Study turned = study;
  std::swap(turned.sequences[0], turned.sequences[3]);
  const auto names = [](const Study& of) {
    std::set<std::string> chosen;
    const SweepResult sweep = sweep_results(Results(of), 0)[0];
    for (const int sequence : sweep.choosing) chosen.insert(of.sequences[sequence].name);
    return chosen;
  };
  EXPECT_EQ(names(study), names(turned));
}

TEST(SweepResult, CannotChooseFromOneSequence) {
  const Study study = sweep_study({{0.1}, {0.2}});
  test::expect_parts(choice_text(sweep_results(Results(study), 0)[0], study), {"no variation can be chosen"});
}

}  // namespace mnemon
