// SPDX-License-Identifier: MIT
#include <mnemon/study/follow_json.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace mnemon {

TEST(FollowJson, OfARowHasItsNumbers) {
  const TraceRow row(7, {{1, 2, 3, 4}, 30}, 0.5, false, 2.5, Event::mark);
  EXPECT_EQ(json_text(row_json(row)),
            R"({"frame":7,"x":1.0,"y":2.0,"w":3.0,"h":4.0,"angle":30.0,"confidence":0.5,"present":false,)"
            R"("step_ms":2.5,"event":"mark"})");
  EXPECT_TRUE(row_json({1, {{0, 0, 1, 1}, 0}, 1, true})["step_ms"].is_null());
}

TEST(FollowJson, OfASummaryLeavesOutWhatIsNotKnown) {
  FollowSummary summary;
  summary.frames = 3;
  summary.rows_kept = false;
  summary.step_ms_mean = 2;
  const Json stream = follow_json(summary, {});
  EXPECT_EQ(stream["frames"], 3);
  EXPECT_EQ(stream["step_ms_mean"], 2);
  for (const char* name : {"step_ms_p50", "success_area", "mean_mask_overlap", "by_seed", "skipped_frames"})
    EXPECT_FALSE(stream.contains(name)) << name;
}

TEST(FollowJson, OfASummaryHasScoreMasksAndWhatTheSeedChose) {
  FollowSummary summary;
  summary.skipped_frames = 2;
  summary.step_ms_p50 = 4;
  summary.mask_overlap = 0.75;
  summary.score.emplace();
  summary.score->success_area = 0.5;
  const std::vector<SeedChoice> choices{{"hue", 12.5, "degrees"}};
  const Json json = follow_json(summary, choices);
  EXPECT_EQ(json["skipped_frames"], 2);
  EXPECT_EQ(json["step_ms_p50"], 4);
  EXPECT_EQ(json["mean_mask_overlap"], 0.75);
  EXPECT_EQ(json["success_area"], 0.5);
  EXPECT_TRUE(json["absence_rate"].is_null());
  EXPECT_FALSE(json.contains("position_error_median"));
  EXPECT_EQ(json["by_seed"]["hue"], 12.5);
}

}  // namespace mnemon
