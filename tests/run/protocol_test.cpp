// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol.hpp>

#include <cmath>
#include <set>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/geometry/oriented_box.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

Truth truth_of(const std::vector<double>& visible) {
  Truth truth;
  for (int i = 0; i < static_cast<int>(visible.size()); ++i)
    truth.rows.push_back({i, {{double(i), 10, 20, 40}, 0}, visible[i] > 0, visible[i], {}});
  return truth;
}

std::vector<int> frames_of(const std::vector<Start>& starts) {
  std::vector<int> frames;
  for (const Start& start : starts) frames.push_back(start.frame);
  return frames;
}

}  // namespace

TEST(Protocols, AreNamedAndDescribed) {
  EXPECT_EQ(protocol_names(), (std::vector<std::string>{"single", "starts", "nudges", "restart", "live"}));
  for (const ProtocolEntry& entry : protocol_entries()) {
    EXPECT_FALSE(entry.summary.empty());
    EXPECT_EQ(make_protocol(entry.name).params.size(), entry.schema.fields.size());
  }
  test::expect_parts(test::message_of<CallError>([] { (void)make_protocol("nudge"); }),
                     {"did you mean 'nudges'"});
  test::expect_parts(test::message_of<CallError>([] {
                       (void)make_protocol("starts", {{"count", 0}});
                     }),
                     {"count = 0 for 'starts'", "1 to 1000"});
}

TEST(Protocols, AreTimedWhereTheyMeasureTime) {
  EXPECT_TRUE(make_protocol("single").is_timed());
  EXPECT_FALSE(make_protocol("single", {{"timed", false}}).is_timed());
  EXPECT_TRUE(make_protocol("live").is_timed());
  for (const char* name : {"starts", "nudges", "restart"})
    EXPECT_FALSE(make_protocol(name).is_timed()) << name;
}

TEST(Protocols, ScoreRestartByItsOwnRule) {
  const Protocol protocol = make_protocol("restart", {{"loss_patience", 3}, {"restart_settle", 2}});
  EXPECT_EQ(protocol.score_options().help, Help::restart);
  EXPECT_EQ(protocol.score_options().rule.loss_patience, 3);
  EXPECT_EQ(protocol.score_options().rule.settle, 2);
  EXPECT_EQ(make_protocol("starts").score_options().help, Help::unaided);
}

TEST(Starts, AreSpreadOverTheFramesThatShowEnough) {
  // 25 good frames: the odd ones below 50.
  std::vector<double> visible(60, 0.4);
  for (int i = 1; i < 50; i += 2) visible[i] = 0.5;
  const auto starts = starts_of(make_protocol("starts"), truth_of(visible));
  std::vector<int> wanted;
  for (int i = 0; i < 10; ++i) wanted.push_back(2 * (i * 25 / 10) + 1);
  EXPECT_EQ(frames_of(starts), wanted);
  EXPECT_EQ(starts[3].box, (OrientedBox{{double(wanted[3]), 10, 20, 40}, 0}));
  EXPECT_EQ(std::get<Box>(starts[3].region()), (Box{double(wanted[3]), 10, 20, 40}));
}

TEST(Starts, AreFewerFramesThanAskedForWhereThereAreFew) {
  const auto starts = starts_of(make_protocol("starts"), truth_of({0, 1, 1, 0, 1}));
  EXPECT_EQ(frames_of(starts), (std::vector<int>{1, 1, 1, 1, 2, 2, 2, 4, 4, 4}));  // floor(3 i / 10)
  EXPECT_TRUE(starts_of(make_protocol("starts"), truth_of({0, 0})).empty());
  EXPECT_TRUE(starts_of(make_protocol("single"), truth_of({})).empty());
}

TEST(Nudges, MoveInEightDirectionsAndScaleByFour) {
  const auto starts = starts_of(make_protocol("nudges"), truth_of({0, 1, 1}));
  ASSERT_EQ(starts.size(), 12U);
  const Box truth{1, 10, 20, 40};
  std::set<std::pair<int, int>> directions;
  for (int i = 0; i < 8; ++i) {
    EXPECT_EQ(starts[i].frame, 1);
    EXPECT_EQ(starts[i].box.box.w, 20);
    EXPECT_EQ(starts[i].box.box.h, 40);
    const double dx = (starts[i].box.box.x - truth.x) / 2;  // a tenth of the width is 2 px, of the height 4
    const double dy = (starts[i].box.box.y - truth.y) / 4;
    EXPECT_NEAR(dx, std::round(dx), 1e-12);
    EXPECT_NEAR(dy, std::round(dy), 1e-12);
    directions.emplace(std::lround(dx), std::lround(dy));
  }
  EXPECT_EQ(directions.size(), 8U);
  EXPECT_FALSE(directions.contains({0, 0}));
  const double factors[] = {0.8, 0.9, 1.1, 1.2};
  for (int i = 0; i < 4; ++i) {
    const Box& box = starts[8 + i].box.box;
    EXPECT_NEAR(box.w, 20 * factors[i], 1e-12);
    EXPECT_NEAR(centre(box).x, centre(truth).x, 1e-12);
    EXPECT_NEAR(centre(box).y, centre(truth).y, 1e-12);
  }
}

TEST(Starts, AreTurnedWhereTruthIs) {
  const OrientedBox turned{{30, 30, 20, 40}, 35};
  Truth truth;
  truth.rows.push_back({0, turned, true, 1, {}});
  for (const std::string& name : protocol_names())
    for (const Start& start : starts_of(make_protocol(name), truth)) {
      ASSERT_TRUE(std::holds_alternative<OrientedBox>(start.region())) << name;
      EXPECT_EQ(std::get<OrientedBox>(start.region()).angle_deg, 35) << name;
      EXPECT_TRUE(name == "nudges" || start.box == turned) << name;
    }
}

TEST(Nudges, GoAlongATurnedBoxesOwnAxes) {
  Truth truth;
  truth.rows.push_back({0, {{30, 30, 20, 40}, 90}, true, 1, {}});
  const auto starts = starts_of(make_protocol("nudges"), truth);
  // Turned by a quarter, the width points down.
  EXPECT_EQ(starts[0].box.angle_deg, 90);
  EXPECT_NEAR(starts[0].box.box.w, 20, 1e-9);
  EXPECT_NEAR(starts[0].box.box.h, 40, 1e-9);
  EXPECT_NEAR(centre(starts[0].box.box).x, 40, 1e-9);
  EXPECT_NEAR(centre(starts[0].box.box).y, 50 + 2, 1e-9);
}

}  // namespace mnemon
