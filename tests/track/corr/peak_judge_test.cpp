// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/peak_judge.hpp>

#include <gtest/gtest.h>

namespace mnemon {
TEST(PeakJudge, MeasuresPeaksByThoseItAccepted) {
  PeakJudge judge({0.5, 4, 1});
  Peak peak{{3, 3}, {}, 0.8, 20};
  for (int i = 0; i < 5; ++i) judge.accept(peak);
  EXPECT_GT(judge.confidence(peak), 0.9);
  peak.height *= 0.5;
  peak.sidelobe *= 0.5;
  EXPECT_NEAR(judge.confidence(peak), 0.5, 1e-9);
  peak.height *= 0.3;
  EXPECT_LT(judge.confidence(peak), 0.2);
  peak.height = 0;
  EXPECT_EQ(judge.confidence(peak), 0);
}

TEST(PeakJudge, DoubtsAPeakThatIsNone) {
  PeakJudge judge({0.5, 4, 6});
  EXPECT_LT(judge.confidence({{0, 0}, {}, 1, 2}), 0.05);
  EXPECT_NEAR(judge.confidence({{0, 0}, {}, 1, 6}), 0.5, 1e-9);
}

}  // namespace mnemon
