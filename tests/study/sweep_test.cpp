// SPDX-License-Identifier: MIT
#include <mnemon/study/sweep.hpp>

#include <cmath>
#include <set>

#include <gtest/gtest.h>

#include <mnemon/study/plan.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

std::vector<ParamSet> points(const std::string& text, std::optional<int> sample = {}) {
  static const Catalogue catalogue = Catalogue::standard();
  const TomlFile toml(text, "plan.toml");
  return sweep_points(toml.root(), catalogue.entry("corr-plain").schema, "corr-plain", sample);
}

std::string refusal(const std::string& text, std::optional<int> sample = {}) {
  return test::message_of<DataError>([&] { (void)points(text, sample); });
}

}  // namespace

TEST(Sweep, IsEveryCombination) {
  const auto all =
      points("padding = [1.5, 2, 3]\nlearning_rate = { from = 0.01, to = 0.1, count = 3, scale = \"log\" }");
  ASSERT_EQ(all.size(), 9U);
  std::set<double> rates;
  for (const ParamSet& point : all) rates.insert(std::get<double>(point.at("learning_rate")));
  EXPECT_EQ(rates, (std::set<double>{0.01, 0.03162, 0.1}));
  EXPECT_EQ(point_text(all[0]), "learning_rate=0.01, padding=1.5");
}

TEST(Sweep, RoundsRangesOfWholeNumbers) {
  const auto all = points("warps = { from = 0, to = 3, count = 7 }");
  ASSERT_EQ(all.size(), 4U);  // none twice
  EXPECT_EQ(all[3].at("warps"), ParamValue(3));
}

TEST(Sweep, DrawsASampleThatIsTheSameEveryTime) {
  const std::string text = "padding = [1.5, 2, 3]\nlearning_rate = { from = 0.01, to = 0.1 }";
  const auto drawn = points(text, 12);
  EXPECT_EQ(drawn, points(text, 12));
  EXPECT_EQ(drawn.size(), 12U);
  for (const ParamSet& point : drawn) {
    EXPECT_GE(std::get<double>(point.at("learning_rate")), 0.01);
    EXPECT_LE(std::get<double>(point.at("learning_rate")), 0.1);
  }
}

TEST(Sweep, SaysWhatIsWrong) {
  test::expect_parts(refusal("pading = [1]"), {"plan.toml:1", "did you mean 'padding'"});
  test::expect_parts(refusal("padding = [1, 30]"), {"plan.toml:1", "padding = 30", "1 to 6"});
  test::expect_parts(refusal("padding = { from = 2, to = 60 }"), {"out of range"});
  test::expect_parts(refusal("padding = { from = 3, to = 2 }"), {"'from' must be below 'to'"});
  test::expect_parts(refusal("padding = { from = 1, to = 2, count = 1 }"), {"'count'"});
  test::expect_parts(refusal("padding = { from = 1, to = 2, scale = \"ln\" }"), {"even or log"});
  test::expect_parts(refusal("padding = 2"), {"'padding' must be a list"});
  test::expect_parts(refusal(""), {"varies no parameter"});
  test::expect_parts(refusal("padding = { from = 1, to = 5, count = 200 }\n"
                             "learning_rate = { from = 0.01, to = 0.5, count = 200 }"),
                     {"more than 10000 points", "sample"});
}

}  // namespace mnemon
