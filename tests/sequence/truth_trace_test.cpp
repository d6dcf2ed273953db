// SPDX-License-Identifier: MIT
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/sequence/position.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

std::string truth_refusal(std::string_view text) {
  return test::message_of<DataError>([&] { (void)parse_truth(text, "truth.csv"); });
}

std::string trace_refusal(std::string_view text) {
  return test::message_of<DataError>([&] { (void)parse_trace(text, "trace.csv"); });
}

}  // namespace

TEST(Truth, ReadsColumnsAndRowsInAnyOrder) {
  const Truth truth = parse_truth("h,w,y,x,frame,camera\n9,8,7,6,5,left\n4,3,2,1,0,right\n", "truth.csv");
  ASSERT_EQ(truth.rows.size(), 2U);
  EXPECT_EQ(truth.rows[0], (TruthRow{0, {{1, 2, 3, 4}, 0}, true, 1}));
  EXPECT_EQ(truth.rows[1].frame, 5);
}

TEST(Truth, TakesEmptyFieldsAsMissingColumns) {
  const Truth truth =
      parse_truth("frame,x,y,w,h,angle,present,visible\n3,1,2,3,4,,,\n4,,,,,,0,0\n", "truth.csv");
  ASSERT_EQ(truth.rows.size(), 2U);
  EXPECT_EQ(truth.rows[0], (TruthRow{3, {{1, 2, 3, 4}, 0}, true, 1}));
  EXPECT_FALSE(truth.rows[1].present);
  EXPECT_EQ(truth.rows[1].visible, 0);
}

TEST(Truth, WithoutAProperBoxIsNone) {
  const Truth truth =
      parse_truth("frame,x,y,w,h\n0,1,2,0,4\n1,1,2,-3,4\n2,nan,2,3,4\n3,,,,\n4,1,2,inf,4\n5,1,1,1,1\n", "t");
  ASSERT_EQ(truth.rows.size(), 1U);
  EXPECT_EQ(truth.rows[0].frame, 5);
}

TEST(Truth, FindsRowsByFrame) {
  const Truth truth = parse_truth("frame,x,y,w,h,present\n2,,,,,0\n7,1,1,1,1,1\n", "t");
  EXPECT_EQ(truth.find(7)->frame, 7);
  EXPECT_EQ(truth.find(3), nullptr);
  EXPECT_EQ(truth.first_present()->frame, 7);
}

TEST(Truth, RefusesWhatItCannotMean) {
  test::expect_parts(truth_refusal("frame,x,y,w\n0,1,2,3\n"), {"truth.csv:1", "'h'"});
  test::expect_parts(truth_refusal("frame,x,y,w,h\n0,1,2,3,4\n1,1,2,3,4\n0,1,2,3,4\n"),
                     {"truth.csv:4:1", "frame 0", "line 2"});
  test::expect_parts(truth_refusal("frame,x,y,w,h\n-1,1,2,3,4\n"), {"truth.csv:2:1", "-1"});
  test::expect_parts(truth_refusal("frame,x,y,w,h\n1.5,1,2,3,4\n"), {"truth.csv:2:1", "1.5"});
  test::expect_parts(truth_refusal("frame,x,y,w,h\n0,one,2,3,4\n"), {"truth.csv:2:3", "'one'"});
  test::expect_parts(truth_refusal("frame,x,y,w,h,present\n0,1,2,3,4,2\n"),
                     {"truth.csv:2:11", "'2'", "0 nor 1"});
  test::expect_parts(truth_refusal("frame,x,x,y,w,h\n0,1,2,3,4,5\n"), {"twice"});
}

TEST(Truth, ReadsBackWhatIsWritten) {
  Random random(6);
  Truth truth;
  for (int i = 0; i < 300; ++i) {
    TruthRow row{3 * i,
                 {{random.uniform(-9, 9), random.uniform(-9, 9), random.uniform(1, 9), random.uniform(1, 9)},
                  random.uniform(-90, 90)},
                 random.bits() % 4 != 0,
                 random.uniform()};
    if (!row.present) row.box = {};
    truth.rows.push_back(row);
  }
  EXPECT_EQ(parse_truth(truth_text(truth), "t").rows, truth.rows);
}

TEST(Trace, NeedsOnlyFrameAndBox) {
  const Trace trace = parse_trace("frame,x,y,w,h\n1,1,2,3,4\n", "trace.csv");
  EXPECT_EQ(trace.rows.at(0), (TraceRow{1, {{1, 2, 3, 4}, 0}, 1, true, {}, Event::none}));
}

TEST(Trace, ReadsEveryColumn) {
  const Trace trace = parse_trace(
      "frame,x,y,w,h,angle,confidence,present,step_ms,event\n0,1,2,3,4,5,1,1,3.1,seed\n1,,,,,,0.2,0,,skip\n",
      "t");
  EXPECT_EQ(trace.rows.at(0), (TraceRow{0, {{1, 2, 3, 4}, 5}, 1, true, 3.1, Event::seed}));
  EXPECT_TRUE(std::isnan(trace.rows.at(1).box.box.x));
  EXPECT_EQ(trace.rows.at(1).event, Event::skip);
  EXPECT_FALSE(trace.rows.at(1).step_ms);
}

TEST(Trace, RefusesWhatItCannotMean) {
  test::expect_parts(trace_refusal("frame,x,y,w,h,event\n0,1,2,3,4,lost\n"),
                     {"trace.csv:2:11", "'lost'", "reseed"});
  test::expect_parts(trace_refusal("frame,x,y,w,h,event\n0,1,2,3,4,seed\n1,1,2,3,4,seed\n"),
                     {"trace.csv:3:11", "second seed"});
  test::expect_parts(trace_refusal("frame,x,y,w,h,step_ms\n0,1,2,3,4,fast\n"), {"trace.csv:2:11", "'fast'"});
}

TEST(Trace, ReadsBackWhatIsWritten) {
  Random random(8);
  Trace trace;
  for (int i = 0; i < 300; ++i)
    trace.rows.push_back(
        {i,
         {{random.uniform(-9, 9), random.uniform(), random.uniform(1, 9), 2}, random.uniform(-90, 90)},
         random.uniform(),
         i % 3 != 0,
         i % 5 == 0 ? std::nullopt : std::optional(random.uniform()),
         i == 0 ? Event::seed : static_cast<Event>(2 + i % 3)});
  EXPECT_EQ(parse_trace(trace_text(trace), "t").rows, trace.rows);
}

TEST(Trace, HasColumnsForWhatWasMeasured) {
  Trace trace;
  trace.rows.push_back({0, {{1, 2, 3, 4}, 0}, 1, true, {}, Event::seed, 5.5, {}});
  trace.rows.push_back({1, {{1, 2, 3, 4}, 0}, 1, false, {}, Event::none});
  EXPECT_EQ(trace_text(trace),
            "frame,x,y,w,h,angle,confidence,present,step_ms,event,minor_px\n"
            "0,1,2,3,4,0,1,1,,seed,5.5\n1,1,2,3,4,0,1,0,,,\n");
  trace.rows[1].position = PositionMm{-1, 2.5, 1000};
  EXPECT_EQ(parse_trace(trace_text(trace), "t").rows, trace.rows);
}

TEST(PositionOf, IsThatOfABallSeenSoLarge) {
  Sequence sequence;
  EXPECT_FALSE(position_of(sequence, {1, 2}, 10));
  sequence.camera = CameraFacts{600, {320, 180}};
  sequence.target = TargetFacts{"ball", 200};
  EXPECT_EQ(position_of(sequence, {320, 180}, 24), (PositionMm{0, 0, 5000}));
  const auto aside = position_of(sequence, {380, 120}, 24);
  ASSERT_TRUE(aside);
  EXPECT_NEAR(aside->x, 500, 1e-9);
  EXPECT_NEAR(aside->y, -500, 1e-9);
  EXPECT_FALSE(position_of(sequence, {320, 180}, 0));
}

TEST(Trace, WritesWhatIsNotFiniteAsEmpty) {
  const Trace trace{{{4, {{std::nan(""), 1, 2, 3}, 0}, std::nan(""), false, {}, Event::none}}};
  EXPECT_EQ(trace_text(trace), "frame,x,y,w,h,angle,confidence,present,step_ms,event\n4,,,,,,,0,,\n");
}

}  // namespace mnemon
