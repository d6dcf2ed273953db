// SPDX-License-Identifier: MIT
#include <cmath>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/random.hpp>

namespace mnemon {

TEST(ParseReal, TakesWholeTextsOnly) {
  EXPECT_EQ(parse_real(" -1.5e2 "), -150.0);
  EXPECT_EQ(parse_real("+2"), 2.0);
  for (const char* text : {"", "  ", "1.5x", "1 2", "+-3", "1,5", "--1"})
    EXPECT_FALSE(parse_real(text)) << text;
}

TEST(ParseReal, ReadsWhatIsNotFinite) {
  EXPECT_TRUE(std::isnan(*parse_real("nan")));
  EXPECT_TRUE(std::isinf(*parse_real("-inf")));
}

TEST(ParseWhole, RefusesFractionsAndOverflow) {
  EXPECT_EQ(parse_whole("42"), 42);
  EXPECT_FALSE(parse_whole("4.0"));
  EXPECT_FALSE(parse_whole("99999999999"));
}

TEST(NumberText, ReadsBackAsTheSameNumber) {
  Random random(5);
  for (int i = 0; i < 2000; ++i) {
    const double value = std::ldexp(random.uniform(-1, 1), static_cast<int>(random.bits() % 80) - 40);
    EXPECT_EQ(parse_real(number_text(value)), value);
  }
}

TEST(NearestName, FindsOneSlip) {
  const std::vector<std::string> known{"corr-plain", "corr-scaled", "shift-fixed"};
  EXPECT_EQ(nearest_name("corr-plian", known), "corr-plain");
  EXPECT_EQ(nearest_name("cor-scaled", known), "corr-scaled");
  EXPECT_EQ(nearest_name("shift-fixedd", known), "shift-fixed");
}

TEST(NearestName, FindsNoneWhereNoneIsNear) {
  const std::vector<std::string> known{"corr-plain"};
  EXPECT_EQ(nearest_name("blob", known), "");
  EXPECT_EQ(name_hint("blob", known), "; known are corr-plain");
}

TEST(Random, IsTheSameEverywhere) {
  Random random(0);
  const std::uint64_t first = random.bits();
  EXPECT_EQ(Random(0).bits(), first);
  EXPECT_NE(Random(1).bits(), first);
  // The first output of the published generator started from 0.
  EXPECT_EQ(mix_bits(0x9e3779b97f4a7c15ULL), 0xe220a8397b1dcdafULL);
}

TEST(Random, IsUniform) {
  Random random(3);
  double sum = 0;
  constexpr int kCount = 100000;
  for (int i = 0; i < kCount; ++i) {
    const double value = random.uniform();
    ASSERT_TRUE(value >= 0 && value < 1);
    sum += value;
  }
  // Four standard deviations of the mean of so many uniform numbers.
  EXPECT_NEAR(sum / kCount, 0.5, 4 * std::sqrt(1.0 / 12 / kCount));
}

TEST(PartsOf, AreWhatStandsAboutTheDelimiters) {
  using Parts = std::vector<std::string_view>;
  EXPECT_EQ(parts_of("a,bc,,d", ','), (Parts{"a", "bc", "", "d"}));
  EXPECT_EQ(parts_of(",", ','), (Parts{"", ""}));
  EXPECT_EQ(parts_of("", ','), (Parts{""}));
  EXPECT_EQ(parts_of("a,b", ';'), (Parts{"a,b"}));
}

}  // namespace mnemon
