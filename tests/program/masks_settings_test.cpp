// SPDX-License-Identifier: MIT
// `follow` with masks, places, settings and a list of frames to look at, on the demo's sequences.
#include <algorithm>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/sequence/trace.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

using Json = nlohmann::json;

const std::string kKites = std::string(MNEMON_DEMO) + "/kites/";

Json followed(const std::vector<std::string>& options, const TempFolder& folder) {
  std::vector<std::string> call{"follow", "--json"};
  call.insert(call.end(), options.begin(), options.end());
  const Outcome outcome = mnemon(call, folder.path());
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  return outcome.status == 0 ? Json::parse(outcome.out) : Json();
}

double mask_overlap(const Image<Byte>& a, const Image<Byte>& b) {
  int shared = 0;
  int joined = 0;
  for (std::size_t i = 0; i < a.elements().size(); ++i) {
    shared += a.elements()[i] != 0 && b.elements()[i] != 0 ? 1 : 0;
    joined += a.elements()[i] != 0 || b.elements()[i] != 0 ? 1 : 0;
  }
  return 1.0 * shared / joined;
}

TEST(FollowMasks, WritesWhatTheSummaryMeasures) {
  const TempFolder folder;
  const Json summary =
      followed({kKites + "steady", "--tracker", "mask-plain", "--to", "12", "--masks", "masks"}, folder);
  double sum = 0;
  for (int i = 1; i <= 12; ++i) {
    const std::string name = (i < 10 ? "00000" : "0000") + std::to_string(i) + ".png";
    sum += mask_overlap(read_mask(folder / ("masks/" + name)), read_mask(kKites + "steady/masks/" + name));
  }
  EXPECT_NEAR(summary["mean_mask_overlap"].get<double>(), sum / 12, 1e-9);
  EXPECT_GT(summary["mean_mask_overlap"].get<double>(), 0.85);
}

TEST(FollowMasks, TellsWhereTheBalloonIs) {
  const TempFolder folder;
  for (const char* tracker : {"blob-colour", "mask-plain"}) {
    const Json summary = followed({kKites + "balloon", "--tracker", tracker, "--trace", "ball.csv"}, folder);
    EXPECT_LT(summary["position_error_median"].get<double>(), 0.03) << tracker;
    const Trace trace = read_trace(folder / "ball.csv");
    EXPECT_TRUE(
        std::ranges::all_of(trace.rows, [](const TraceRow& row) { return row.position && row.minor_px; }));
    const Outcome scored = mnemon(
        {"score", "--truth", kKites + "balloon/truth.csv", "--trace", "ball.csv", "--json"}, folder.path());
    EXPECT_EQ(Json::parse(scored.out)["position_error_median"], summary["position_error_median"]);
  }
}

TEST(FollowSettings, GiveTheSameTraceAgain) {
  const TempFolder folder;
  const std::string steady = kKites + "steady";
  (void)followed({steady, "--tracker", "blob-colour", "--set", "gate=0.8", "--set", "pick=nearest", "--to",
                  "9", "--save-settings", "tuned.toml", "--trace", "a.csv"},
                 folder);
  (void)followed(
      {steady, "--settings", "tuned.toml", "--to", "9", "--trace", "b.csv", "--save-settings", "again.toml"},
      folder);
  EXPECT_EQ(read_file(folder / "tuned.toml"), read_file(folder / "again.toml"));
  Trace a = read_trace(folder / "a.csv");
  Trace b = read_trace(folder / "b.csv");
  for (Trace* trace : {&a, &b})
    for (TraceRow& row : trace->rows) row.step_ms.reset();
  EXPECT_EQ(a.rows, b.rows);
  const Outcome other =
      mnemon({"follow", steady, "--settings", "tuned.toml", "--tracker", "stay"}, folder.path());
  EXPECT_EQ(other.status, 2);
  expect_parts(other.err, {"tuned.toml", "'blob-colour', not of 'stay'"});
}

TEST(FollowReview, ListsWhereTheTargetWasLostAndFound) {
  const TempFolder folder;
  const Json summary = followed(
      {kKites + "cloudbank", "--tracker", "mask-plain", "--review", "look.csv", "--trace", "t.csv"}, folder);
  const std::string list = read_file(folder / "look.csv");
  expect_parts(list, {"frame,confidence,present,why\n", ",0,lost\n", ",1,found again\n"});
  EXPECT_EQ(std::ranges::count(list, '\n') - 1, summary["review_frames"].get<int>());
  for (const TraceRow& row : read_trace(folder / "t.csv").rows)
    if (row.present && row.confidence < 0.7) {
      EXPECT_NE(list.find("\n" + std::to_string(row.frame) + ","), std::string::npos) << row.frame;
    }
}

TEST(FollowPlaces, MarkTheTarget) {
  const TempFolder folder;
  const Json summary = followed({kKites + "balloon", "--tracker", "mask-plain", "--include", "314,62",
                                 "--exclude", "250,62", "--exclude", "314,130", "--to", "10"},
                                folder);
  EXPECT_GT(summary["success_area"].get<double>(), 0.7);
  const auto refused = [&](const std::vector<std::string>& options) {
    std::vector<std::string> call{"follow", kKites + "balloon", "--tracker", "mask-plain"};
    call.insert(call.end(), options.begin(), options.end());
    const Outcome outcome = mnemon(call, folder.path());
    EXPECT_EQ(outcome.status, 2);
    return outcome.err;
  };
  expect_parts(refused({"--include", "314"}), {"--include 314", "x,y"});
  expect_parts(refused({"--exclude", "314,62"}), {"--exclude", "--include or --box"});
  expect_parts(refused({"--include", "830,62"}), {"830,62", "outside the picture of 640 x 360"});
}

}  // namespace
}  // namespace mnemon::test
