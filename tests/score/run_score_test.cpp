// SPDX-License-Identifier: MIT
#include <mnemon/score/run_score.hpp>

#include <cmath>
#include <limits>
#include <map>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include "score/slow_score.hpp"

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/study/score_record.hpp>

#include "score/made_traces.hpp"

namespace mnemon {
namespace {

using test::trace_of;
using test::truth_of;

constexpr double kNan = std::numeric_limits<double>::quiet_NaN();

Truth random_truth(Random& random, int frames) {
  Truth truth;
  bool present = true;
  for (int i = 0; i < frames; ++i) {
    if (random.bits() % 12 == 0) present = !present;
    if (random.bits() % 15 == 0) continue;  // no truth for this frame
    const double angle = random.bits() % 3 == 0 ? random.uniform(-90, 90) : 0;
    TruthRow row{
        i,
        {{random.uniform(0, 50), random.uniform(0, 50), random.uniform(5, 30), random.uniform(5, 30)}, angle},
        present || i == 0,
        1};
    if (!row.present) row.box = {};
    truth.rows.push_back(row);
  }
  return truth;
}

TraceRow near(const TruthRow* truth, int frame, bool on, Random& random) {
  TraceRow row{
      frame,      {{10, 10, 20, 20}, 0}, std::floor(10 * random.uniform()) / 10, random.bits() % 9 != 0, {},
      Event::none};
  if (truth != nullptr && truth->present) row.box = truth->box;
  row.box.box.x += on ? random.uniform(-4, 4) : 500;
  if (random.bits() % 25 == 0) row.box.box.w = kNan;
  if (random.bits() % 40 == 0) row.confidence = kNan;
  return row;
}

// Now on the target and now far off it, with rows missing here and there.
Trace random_trace(Random& random, const Truth& truth, int frames) {
  Trace trace;
  bool on = true;
  for (int i = 0; i < frames; ++i) {
    if (random.bits() % 8 == 0) on = !on;
    if (i > 0 && random.bits() % 20 == 0) continue;
    trace.rows.push_back(near(truth.find(i), i, on, random));
  }
  trace.rows[0].event = Event::seed;
  return trace;
}

// Puts a loss, some skipped frames and a reseed into a trace, again and again.
void add_restarts(Random& random, Trace& trace) {
  for (std::size_t i = 8; i + 8 < trace.rows.size(); i += 12 + random.bits() % 30) {
    trace.rows[i].event = Event::loss;
    for (std::size_t k = 1; k < 5; ++k) trace.rows[i + k].event = Event::skip;
    if (i + 20 >= trace.rows.size() && random.bits() % 2 == 0) {  // lost to the end
      for (std::size_t k = i + 5; k < trace.rows.size(); ++k) trace.rows[k].event = Event::skip;
      return;
    }
    trace.rows[i + 5].event = Event::reseed;
    i += 5;
  }
}

void expect_agreement(const Truth& truth, const Trace& trace, bool restart, int round) {
  const ScoreOptions options{.help = restart ? Help::restart : Help::unaided};
  const auto slow = test::slow_score(truth, trace, restart);
  std::map<std::string, Figure> fast;
  const RunScore score = score_run(truth, trace, options);
  for (const ScalarMeasure& measure : scalar_measures()) fast[std::string(measure.name)] = measure.of(score);
  for (const auto& [measure, value] : slow) {
    ASSERT_TRUE(fast.contains(measure)) << measure;
    ASSERT_EQ(fast[measure].has_value(), value.has_value()) << measure << " in round " << round;
    if (value) {
      ASSERT_NEAR(*fast[measure], *value, 1e-9) << measure << " in round " << round;
    }
  }
}

}  // namespace

TEST(RunScore, AgreesWithTheDefinitionsUnaided) {
  Random random(1);
  for (int round = 0; round < 400; ++round) {
    const int frames = 1 + static_cast<int>(random.bits() % 120);
    const Truth truth = random_truth(random, frames);
    expect_agreement(truth, random_trace(random, truth, frames), false, round);
  }
}

TEST(RunScore, AgreesWithTheDefinitionsUnderRestart) {
  Random random(2);
  for (int round = 0; round < 400; ++round) {
    const int frames = 30 + static_cast<int>(random.bits() % 150);
    const Truth truth = random_truth(random, frames);
    Trace trace = random_trace(random, truth, frames);
    add_restarts(random, trace);
    expect_agreement(truth, trace, true, round);
  }
}

// What stands before the seed's row does not count, wherever that is; nor does anything where it comes last.
TEST(RunScore, AgreesWithTheDefinitionsWhereTheSeedIsNotFirst) {
  Random random(8);
  for (int round = 0; round < 200; ++round) {
    const int frames = 2 + static_cast<int>(random.bits() % 600);
    const Truth truth = random_truth(random, frames);
    Trace trace = random_trace(random, truth, frames);
    trace.rows[0].event = Event::none;
    if (round % 4 != 0) trace.rows[random.bits() % trace.rows.size()].event = Event::seed;
    if (round % 8 == 1) trace.rows.back().event = Event::seed;
    expect_agreement(truth, trace, false, round);
  }
}

TEST(RunScore, AgreesWithTheDefinitionsOnLongRuns) {
  Random random(6);
  for (const int frames : {255, 256, 257, 700}) {
    const Truth truth = random_truth(random, frames);
    expect_agreement(truth, random_trace(random, truth, frames), false, frames);
  }
}

TEST(RunScore, KeepsToFramesWithinSpans) {
  Truth truth = truth_of({1, 1, 1, 1, 0, 1});
  const RunScore score = score_run(truth, trace_of({1, 1, 0.2, 0.6, -1, 1}), {.within = {{2, 2}, {4, 5}}});
  EXPECT_EQ(score.scored_frames, 3);
  EXPECT_DOUBLE_EQ(*score.success_area, 0.6);
  EXPECT_EQ(score.absence_rate, 1);
  EXPECT_TRUE(score.returns.empty());
}

TEST(RunScore, RestartsByTheRuleGiven) {
  std::vector<double> overlaps(30, 1);
  overlaps[5] = overlaps[6] = 0.25;
  Trace trace = trace_of(overlaps);
  trace.rows[6].event = Event::loss;
  for (int i = 7; i < 11; ++i) trace.rows[i].event = Event::skip;
  trace.rows[11].event = Event::reseed;
  const ScoreOptions options{.help = Help::restart,
                             .rule = {.loss_overlap = 0.3, .loss_patience = 2, .settle = 3}};
  const RunScore score = score_run(truth_of(std::vector<int>(30, 1)), trace, options);
  EXPECT_EQ(score.scored_frames, 6 + 15);  // 1 to 6, and 15 to 29
  EXPECT_EQ(score.stretches, (std::vector<Stretch>{{5, true}, {18, false}}));
  EXPECT_EQ(score.held_overlap, 1);
}

TEST(RunScore, OfAPerfectTrace) {
  const RunScore score = score_run(truth_of({1, 1, 1, 0, 1}), trace_of({1, 1, 1, -1, 1}));
  EXPECT_EQ(score.seed_frame, 0);
  EXPECT_EQ(score.scored_frames, 4);
  EXPECT_EQ(score.absent_frames, 1);
  EXPECT_EQ(score.success_area, 1);
  EXPECT_EQ(score.median_centre_error, 0);
  EXPECT_EQ(score.absence_rate, 1);
  EXPECT_EQ(score.holds.f(), 1);
  EXPECT_EQ(score.losses.losses, 0);
}

TEST(RunScore, CountsFramesWithoutARowAsNotFound) {
  const RunScore score = score_run(truth_of({1, 1, 1, 1}), trace_of({1, 1}));
  EXPECT_EQ(score.missing_frames, 2);
  EXPECT_DOUBLE_EQ(*score.success_area, 1.0 / 3);
  EXPECT_EQ(score_run(truth_of({1, 1, 1, 1}), trace_of({1, 1}), {.last = 1}).missing_frames, 0);
}

TEST(RunScore, IsNullWhereNothingIsThere) {
  const RunScore score = score_run(truth_of({1}), trace_of({1}));
  EXPECT_EQ(score.scored_frames, 0);
  EXPECT_FALSE(score.success_area);
  EXPECT_FALSE(score.absence_rate);
  EXPECT_FALSE(score.holds.f());
  EXPECT_FALSE(score.speed.frames_per_s);
  EXPECT_TRUE(score_json(score)["overlap_curve"].is_null());
  EXPECT_EQ(score_json(score)["losses"], 0);
  EXPECT_TRUE(score_json(score)["restarts"].is_null());
}

TEST(RunScore, StartsAtTheLowestFrameWithoutASeedRow) {
  Trace trace = trace_of({1, 1, 1});
  trace.rows[0].event = Event::none;
  EXPECT_EQ(score_run(truth_of({1, 1, 1}), trace).scored_frames, 2);
  EXPECT_THROW((void)score_run(truth_of({1}), Trace{}), CallError);
}

// Off by a tenth of the range straight away from the camera, and by 3 and 4 of 50 aside.
TEST(RunScore, MeasuresPositionsByTheirRange) {
  Truth truth;
  Trace trace;
  for (int i = 0; i < 4; ++i) {
    truth.rows.push_back({i, {{10, 10, 5, 5}, 0}, true, 1, PositionMm{0, 30, 40}});
    trace.rows.push_back({i, {{10, 10, 5, 5}, 0}, 1, true, {}, Event::none});
  }
  EXPECT_EQ(score_run(truth, trace).position_frames, 0);
  EXPECT_FALSE(score_run(truth, trace).position_error_median);
  trace.rows[1].position = PositionMm{0, 33, 44};
  trace.rows[2].position = PositionMm{3, 34, 40};
  trace.rows[3].position = PositionMm{0, 30, 40};
  const RunScore score = score_run(truth, trace);
  EXPECT_EQ(score.position_frames, 3);
  EXPECT_NEAR(*score.position_error_median, 0.1, 1e-12);
  trace.rows[3].present = false;
  EXPECT_EQ(score_run(truth, trace).position_frames, 2);
}

// Masks of one row of ten pixels: the truth has six of them, the tracker three of these and one more, so 3 of 7.
TEST(RunScore, ComparesMasksWhereThereAreTrueOnes) {
  Truth truth = truth_of({1, 1, 1, 1, 1});
  Trace trace = trace_of({1, 1, 1, 1, 1});
  EXPECT_EQ(score_run(truth, trace).mask_frames, 0);
  EXPECT_FALSE(score_run(truth, trace).mean_mask_overlap);
  const MaskRuns right{1, 10, {2, 6, 2}};
  const MaskRuns guess{1, 10, {5, 4, 1}};
  for (int i = 0; i < 5; ++i)
    if (i != 3) truth.masks.push_back({i, right});
  for (int i = 0; i < 4; ++i) trace.masks.push_back({i, guess});
  trace.masks[2].runs = right;
  // Scored are frame 1 with 3/7 and frame 2 with 1; frame 3 has no true mask, and frame 4 none of the tracker's.
  RunScore score = score_run(truth, trace);
  EXPECT_EQ(score.mask_frames, 2);
  EXPECT_NEAR(*score.mean_mask_overlap, (3.0 / 7 + 1) / 2, 1e-12);
  // Not found counts as no overlap.
  trace.rows[4].present = false;
  score = score_run(truth, trace);
  EXPECT_EQ(score.mask_frames, 3);
  EXPECT_NEAR(*score.mean_mask_overlap, (3.0 / 7 + 1) / 3, 1e-12);
}

TEST(ScoreJson, HasEveryKeyOnce) {
  const Json json = score_json(score_run(truth_of({1, 1}), trace_of({1, 1})));
  for (const char* key : {"protocol",
                          "seed_frame",
                          "scored_frames",
                          "present_frames",
                          "absent_frames",
                          "found_frames",
                          "missing_frames",
                          "overlap_curve",
                          "success_area",
                          "success_at_0.5",
                          "success_at_0.75",
                          "centre_curve",
                          "hit_rate_20",
                          "relative_centre_curve",
                          "relative_centre_area",
                          "median_centre_error",
                          "found_share",
                          "angle_frames",
                          "angle_error_mean",
                          "angle_error_median",
                          "hold_precision",
                          "hold_recall",
                          "hold_f",
                          "hold_curve",
                          "best_f",
                          "absence_rate",
                          "position_frames",
                          "position_error_median",
                          "mask_frames",
                          "mean_mask_overlap",
                          "losses",
                          "recovered_share",
                          "frames_to_recover",
                          "time_off_target",
                          "frames_to_first_loss",
                          "returns",
                          "returned_share",
                          "frames_to_return",
                          "restarts",
                          "restarts_per_1000",
                          "held_overlap",
                          "stretches",
                          "survival",
                          "median_hold",
                          "skipped_share",
                          "speed"})
    EXPECT_TRUE(json.contains(key)) << key;
  EXPECT_EQ(json.size(), 46U);
}

}  // namespace mnemon
