// SPDX-License-Identifier: MIT
#include <mnemon/base/params.hpp>

#include <limits>

#include <gtest/gtest.h>

#include <mnemon/base/nearest_name.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

struct Everything {
  int count = 3;
  double padding = 2.5;
  bool motion = true;
  std::string kernel = "gaussian";

  static void describe(auto& schema) {
    using P = Everything;
    schema.field("count", &P::count, {1, 9}, "copies", "How many.");
    schema.field("padding", &P::padding, {1.0, 8.0}, "target sizes", "How wide.");
    schema.field("motion", &P::motion, "Whether to forecast.");
    schema.field("kernel", &P::kernel, {"gaussian", "linear"}, "Which kernel.");
  }
};

struct WithPresets {
  int count = 3;
  double padding = 2.5;
  std::string size = "middle";

  static void describe(auto& schema) {
    using P = WithPresets;
    schema.presets("size", &P::size, {"small", "middle", "large"},
                   {{"small", {{"count", 1}, {"padding", 1.5}}}, {"large", {{"count", 9}}}}, "How large.");
    schema.field("count", &P::count, {1, 9}, "copies", "How many.");
    schema.field("padding", &P::padding, {1.0, 8.0}, "target sizes", "How wide.");
  }
};

ParamSet set_of(std::initializer_list<const char*> texts) {
  ParamSet params;
  for (const char* text : texts) set_from_text(params, schema_of<Everything>(), "thing", text);
  return params;
}

std::string refusal(const char* text) {
  ParamSet params;
  return test::message_of<CallError>([&] { set_from_text(params, schema_of<Everything>(), "thing", text); });
}

}  // namespace

TEST(BoundParams, KeepsDefaultsWhereNothingIsSet) {
  const auto bound = bound_params<Everything>({}, "thing");
  EXPECT_EQ(bound.count, 3);
  EXPECT_EQ(bound.padding, 2.5);
  EXPECT_TRUE(bound.motion);
  EXPECT_EQ(bound.kernel, "gaussian");
}

TEST(BoundParams, TakeDefaultsFromAWordAndKeepWhatIsGiven) {
  const auto count_of = [](const ParamSet& set) { return bound_params<WithPresets>(set, "thing").count; };
  EXPECT_EQ(count_of({}), 3);
  EXPECT_EQ(count_of({{"size", "middle"}}), 3);
  EXPECT_EQ(count_of({{"size", "small"}}), 1);
  EXPECT_EQ(count_of({{"size", "large"}}), 9);
  EXPECT_EQ(count_of({{"size", "small"}, {"count", 3}}), 3);
  EXPECT_EQ(bound_params<WithPresets>({{"size", "small"}, {"count", 3}}, "thing").padding, 1.5);
  EXPECT_EQ(bound_params<WithPresets>({{"size", "large"}}, "thing").padding, 2.5);
  const ParamSet all = completed({{"size", "small"}, {"padding", 4}}, schema_of<WithPresets>());
  EXPECT_EQ(all, (ParamSet{{"size", "small"}, {"count", 1}, {"padding", 4.0}}));
  EXPECT_THROW((void)count_of({{"size", "huge"}}), CallError);
}

TEST(BoundParams, TakesEveryType) {
  const auto bound = bound_params<Everything>(
      set_of({"count=9", "padding = 1.25", "motion=false", "kernel=linear"}), "thing");
  EXPECT_EQ(bound.count, 9);
  EXPECT_EQ(bound.padding, 1.25);
  EXPECT_FALSE(bound.motion);
  EXPECT_EQ(bound.kernel, "linear");
}

TEST(BoundParams, TakesAWholeNumberForAnyNumber) {
  EXPECT_EQ(bound_params<Everything>({{"padding", 4}}, "thing").padding, 4.0);
}

TEST(BoundParams, TakesAWholeRealForAWholeNumber) {
  EXPECT_EQ(bound_params<Everything>({{"count", 8.0}}, "thing").count, 8);
  EXPECT_EQ(bound_params<Everything>(set_of({"count=8.0"}), "thing").count, 8);
  EXPECT_EQ(completed({{"count", 8.0}}, schema_of<Everything>()).at("count"), ParamValue(8));
  test::expect_parts(refusal("count=8.5"), {"count = 8.5", "is not a whole number"});
  test::expect_parts(refusal("count=1e300"), {"count = 1e300", "is not a whole number"});
  test::expect_parts(refusal("count=80.0"), {"count = 80", "out of range"});
}

namespace {

struct Ordered {
  int low = 1;
  int high = 2;
  static void describe(auto& schema) {
    schema.field("low", &Ordered::low, {0, 9}, "", "The one end.");
    schema.field("high", &Ordered::high, {0, 9}, "", "The other.");
  }
  void check() const {
    if (low > high) throw CallError("low is above high");
  }
};

}  // namespace

TEST(BoundParams, ChecksRulesBetweenFields) {
  EXPECT_EQ(bound_params<Ordered>({{"high", 5}}, "pair").high, 5);
  test::expect_parts(test::message_of<CallError>([] {
                       (void)bound_params<Ordered>({{"low", 5}}, "pair");
                     }),
                     {"'pair'", "low is above high"});
}

TEST(NameHint, KnowsNamesOfEarlierVersions) {
  const std::vector<std::string> known{"padding", "window_samples"};
  EXPECT_EQ(name_hint("template_px", known), "; it is called 'window_samples' now");
  EXPECT_EQ(newer_name("padding", known), "");
  EXPECT_EQ(newer_name("mask-cut", known), "");  // which has nothing to do with these
}

TEST(BoundParams, RefusesWhatSlippedPastTheText) {
  const std::string message = test::message_of<CallError>([] {
    (void)bound_params<Everything>({{"padding", std::numeric_limits<double>::quiet_NaN()}}, "thing");
  });
  test::expect_parts(message, {"padding", "nan", "out of range"});
}

TEST(SetFromText, SaysWhatIsAllowedAndTheDefault) {
  EXPECT_EQ(refusal("padding=30"),
            "padding = 30 for 'thing' is out of range: 1 to 8 target sizes (2.5 if left out)");
  test::expect_parts(refusal("kernel=cubic"), {"kernel = cubic", "gaussian, linear"});
  test::expect_parts(refusal("count=2.5"), {"count = 2.5", "is not a whole number", "1 to 9"});
  test::expect_parts(refusal("motion=maybe"), {"motion = maybe", "true or false"});
}

TEST(SetFromText, NamesTheNearestParameter) {
  test::expect_parts(refusal("pading=2"), {"pading", "did you mean 'padding'"});
}

TEST(SetFromText, ListsAllParametersWhereNoneIsNear) {
  test::expect_parts(refusal("zzzzzz=1"), {"count", "padding", "motion", "kernel"});
}

TEST(SetFromText, WantsAnEqualsSign) {
  test::expect_parts(refusal("padding"), {"name=value"});
  test::expect_parts(refusal("=3"), {"name=value"});
}

TEST(Completed, HoldsEveryFieldWithItsOwnType) {
  const ParamSet all = completed({{"padding", 4}}, schema_of<Everything>());
  EXPECT_EQ(all.size(), 4U);
  EXPECT_EQ(all.at("padding"), ParamValue(4.0));
  EXPECT_EQ(all.at("count"), ParamValue(3));
}

TEST(AllowedText, GivesRangeAndUnit) {
  const Schema schema = schema_of<Everything>();
  EXPECT_EQ(allowed_text(*schema.find("count")), "1 to 9 copies");
  EXPECT_EQ(schema.find("nothing"), nullptr);
  EXPECT_EQ(allowed_text({"n", 5, {0, 100000}, {}, "frames", ""}), "0 to 100000 frames");
}

}  // namespace mnemon
