// SPDX-License-Identifier: MIT
#include <mnemon/score/loss_list.hpp>

#include <functional>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

constexpr int kFrames = 60;
constexpr int kLost = 20;
constexpr int kHeld = 40;

OrientedBox at(double x, double y, double side = 10) { return {{x, y, side, side}, 0}; }

// A target that goes to the right by 3 px a frame, with a look-alike 60 px below.
Truth going_right(int absent_from = kFrames, int absent_to = kFrames) {
  Truth truth;
  for (int i = 0; i < kFrames; ++i) {
    const bool is_there = i < absent_from || i > absent_to;
    truth.rows.push_back({i, is_there ? at(3.0 * i, 0) : OrientedBox{}, is_there});
    truth.others.push_back({i, "other", at(3.0 * i, 60)});
  }
  return truth;
}

// Right but for frames from kLost to before `held`, on which `wrong` answers.
Trace answers(const std::function<TraceRow(int)>& wrong, int held = kHeld) {
  Trace trace;
  for (int i = 0; i < kFrames; ++i) {
    TraceRow row{i, at(3.0 * i, 0), 0.8, true};
    if (i >= kLost && i < held) row = wrong(i);
    trace.rows.push_back(row);
  }
  return trace;
}

std::vector<TroubleRow> list(const Truth& truth, const Trace& trace) {
  return troubles_of_run(truth, trace, {});
}

}  // namespace

TEST(Troubles, OfARightRunAreNone) {
  EXPECT_TRUE(list(going_right(), answers([](int i) {
                     return TraceRow{i, at(3.0 * i, 0), 1, true};
                   }))
                  .empty());
}

TEST(Troubles, SayWhatWasTakenInstead) {
  const auto rows = list(going_right(), answers([](int i) {
                           return TraceRow{i, at(3.0 * i + 1, 60), 0.9, true};
                         }));
  ASSERT_EQ(rows.size(), 1U);
  EXPECT_EQ(rows[0].kind, Trouble::loss);
  EXPECT_EQ(rows[0].begin, kLost);
  EXPECT_EQ(rows[0].frames, kHeld - kLost);
  EXPECT_EQ(rows[0].end, TroubleEnd::recovered);
  EXPECT_EQ(cause_text(rows[0].cause), "took another");
  EXPECT_EQ(rows[0].other, "other");
  EXPECT_NEAR(*rows[0].overlap_with_other, 90.0 / 110, 1e-12);
  EXPECT_NEAR(*rows[0].overlap_before, 1, 1e-12);
  EXPECT_NEAR(*rows[0].confidence_before, 0.8, 1e-12);
  EXPECT_FALSE(rows[0].said_lost);
}

TEST(Troubles, TellTheOtherCausesApart) {
  const auto cause = [](const std::function<TraceRow(int)>& wrong) {
    const auto rows = list(going_right(), answers(wrong));
    EXPECT_EQ(rows.size(), 1U);
    return rows.empty() ? "" : std::string(cause_text(rows[0].cause));
  };
  EXPECT_EQ(cause([](int i) { return TraceRow{i, at(0, 0), 0.1, false}; }), "said lost");
  // Around the target, eleven times as high and wide.
  EXPECT_EQ(cause([](int i) {
              return TraceRow{i, at(3.0 * i - 50, -50, 110), 1, true};
            }),
            "shrank or swelled");
  // Where it was on frame 18, within its size of where it was held last.
  EXPECT_EQ(cause([](int i) { return TraceRow{i, at(3.0 * 18 - 3, 5), 1, true}; }), "stayed behind");
  EXPECT_EQ(cause([](int i) { return TraceRow{i, at(300, 300 + i), 1, true}; }), "went elsewhere");
}

TEST(Troubles, LastToTheEndWhereItIsNeverHeldAgain) {
  const auto rows = list(going_right(), answers(
                                            [](int i) {
                                              return TraceRow{i, at(500, 500), 1, true};
                                            },
                                            kFrames));
  ASSERT_EQ(rows.size(), 1U);
  EXPECT_EQ(rows[0].end, TroubleEnd::never);
  EXPECT_EQ(rows[0].frames, kFrames - kLost);
}

TEST(Troubles, OfAbsencesSayWhatWasClaimed) {
  const Truth truth = going_right(kLost, kHeld - 1);
  const auto told = list(truth, answers([](int i) { return TraceRow{i, {}, 0, false}; }));
  ASSERT_EQ(told.size(), 1U);
  EXPECT_EQ(told[0].kind, Trouble::absence);
  EXPECT_EQ(told[0].begin, kLost);
  EXPECT_EQ(told[0].absent_frames, kHeld - kLost);
  EXPECT_EQ(told[0].frames, kHeld - kLost);  // held on the first frame that it is back on
  EXPECT_EQ(told[0].end, TroubleEnd::recovered);
  EXPECT_EQ(cause_text(told[0].cause), "told");
  const auto claimed = list(truth, answers([](int i) { return TraceRow{i, at(400, 200 + i), 1, true}; }));
  EXPECT_EQ(cause_text(claimed[0].cause), "claimed what is not there");
  const auto another = list(truth, answers([](int i) { return TraceRow{i, at(3.0 * i, 60), 1, true}; }));
  EXPECT_EQ(cause_text(another[0].cause), "took another");
}

TEST(Troubles, CountAReturnThatIsMissedAsALossToo) {
  const auto rows = list(going_right(kLost, 29), answers(
                                                     [](int i) {
                                                       return TraceRow{i, at(400, 0), 1, true};
                                                     },
                                                     kFrames));
  ASSERT_EQ(rows.size(), 2U);
  EXPECT_EQ(rows[0].kind, Trouble::absence);
  EXPECT_EQ(rows[0].end, TroubleEnd::never);
  EXPECT_EQ(rows[1].kind, Trouble::loss);
  EXPECT_EQ(rows[1].begin, 30);
}

TEST(Troubles, ArePastWhereTheTargetDoesNotComeBack) {
  const auto rows = list(going_right(kLost, kFrames), answers(
                                                          [](int i) {
                                                            return TraceRow{i, {}, 0, false};
                                                          },
                                                          kFrames));
  ASSERT_EQ(rows.size(), 1U);
  EXPECT_EQ(rows[0].end, TroubleEnd::recovered);
}

TEST(Troubles, AreNotToldOfRunsThatWereStartedAgain) {
  Trace trace = answers([](int i) { return TraceRow{i, at(500, 500), 1, true}; });
  trace.rows[kLost + 6].event = Event::loss;
  EXPECT_TRUE(list(going_right(), trace).empty());
}

}  // namespace mnemon
