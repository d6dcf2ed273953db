// SPDX-License-Identifier: MIT
#include <mnemon/study/score_record.hpp>

#include <limits>
#include <set>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"

namespace mnemon {

TEST(ScalarMeasures, HaveNamesOfTheirOwn) {
  std::set<std::string_view> names;
  for (const ScalarMeasure& measure : scalar_measures()) {
    EXPECT_TRUE(names.insert(measure.name).second) << measure.name;
    EXPECT_EQ(&scalar_measure(measure.name), &measure);
  }
  EXPECT_GT(names.size(), 20U);
}

TEST(ScalarMeasures, AreFoundByTheirNameAlone) {
  test::expect_parts(test::message_of<CallError>([] { (void)scalar_measure("sucess_area"); }),
                     {"sucess_area", "success_area"});
}

TEST(PackedFigures, AreThoseOfTheScore) {
  RunScore score;
  score.help = Help::restart;
  score.success_area = 0.625;
  score.median_centre_error = std::numeric_limits<double>::infinity();
  score.restarts = 3;
  const std::vector<double> figures = packed_figures(score);
  int known = 0;
  for (const ScalarMeasure& measure : scalar_measures()) {
    EXPECT_EQ(packed_figure(figures, measure.name), measure.of(score)) << measure.name;
    EXPECT_FALSE(packed_figure({}, measure.name));
    known += measure.of(score) ? 1 : 0;
  }
  EXPECT_GT(known, 3);
  EXPECT_LT(known, static_cast<int>(figures.size()));  // some do not apply
  EXPECT_THROW((void)packed_figure(figures, "sucess_area"), CallError);
}

// Null where it does not apply.
TEST(ScoreJson, HoldsMeasuresByTheirNames) {
  RunScore score;
  score.success_area = 0.625;
  const Json json = score_json(score);
  int held = 0;
  for (const ScalarMeasure& measure : scalar_measures()) {
    const auto at = json.find(std::string(measure.name));
    if (at == json.end()) continue;  // one of those that stand in groups
    EXPECT_EQ(*at, figure_json(measure.of(score))) << measure.name;
    ++held;
  }
  EXPECT_GT(held, 15);
  EXPECT_EQ(json["success_area"], 0.625);
}

TEST(FigureJson, IsNullOfNothing) {
  EXPECT_TRUE(figure_json({}).is_null());
  EXPECT_EQ(figure_json(0.5), 0.5);
}

}  // namespace mnemon
