// SPDX-License-Identifier: MIT
#include <mnemon/desk/desk.hpp>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <map>
#include <string>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/desk/keep.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/study/plan.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/messages.hpp"
#include "support/small_demo.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

namespace fs = std::filesystem;
using std::chrono::milliseconds;

constexpr int kFrames = 24;

// Two short sequences, made once.
class OnSequences : public testing::Test {
 protected:
  static void SetUpTestSuite() {
    made = new test::TempFolder;
    test::render_small(made->path(), "crossing", kFrames);
    test::render_small(made->path(), "steady", 8);
  }
  static void TearDownTestSuite() {
    delete made;
    made = nullptr;
  }
  static fs::path crossing() { return *made / "kites/crossing"; }
  static const Truth& truth() {
    static const Sequence sequence = read_sequence(crossing());
    return sequence.truth;
  }
  static Json box_on(int frame) {
    const Box& box = truth().find(frame)->box.box;
    return {{"box", {box.x, box.y, box.w, box.h}}};
  }

  static test::TempFolder* made;
  const Catalogue catalogue = Catalogue::standard();
  const test::TempFolder kept;
};
test::TempFolder* OnSequences::made = nullptr;

class DeskOn : public OnSequences {
 protected:
  explicit DeskOn(const fs::path& input = crossing(), const std::string& tracker = "corr-plain")
      : desk(catalogue, {input.string(), kept / "out", {tracker, {}}}) {}

  // All rows of a lane, once there are so many and no job is at work.
  std::map<int, Json> rows(std::size_t count, std::size_t lane = 0) {
    NewsCursor cursor;
    std::map<int, Json> rows;
    for (int i = 0; i < 1500; ++i) {
      const Json news = desk.news(cursor, milliseconds(20));
      for (const Json& part : news.value("rows", Json::array())) {
        if (part["lane"] != lane) continue;
        if (part["afresh"]) rows.clear();
        for (const Json& row : part["rows"]) rows[row[0]] = row;
      }
      if (rows.size() >= count) return rows;
    }
    ADD_FAILURE() << "there are only " << rows.size() << " rows";
    return rows;
  }
  // Their boxes, without times, which differ.
  std::vector<Json> boxes(std::size_t lane = 0) {
    std::vector<Json> all;
    for (const auto& [frame, row] : rows(kFrames, lane))
      all.push_back({row[1], row[2], row[3], row[4], row[6]});
    return all;
  }
  Json after_job() {
    for (int i = 0; i < 1500; ++i) {
      const Json state = desk.state();
      if (state["job"].is_null()) return state;
      std::this_thread::sleep_for(milliseconds(20));
    }
    ADD_FAILURE() << "a job does not end";
    return {};
  }
  std::string refused(const Json& message) {
    return test::message_of<CallError>([&] { (void)desk.act(message); });
  }
  void follow_all() {
    desk.act({{"do", "mark"}, {"frame", 0}, {"region", box_on(0)}});
    desk.act({{"do", "go"}, {"to", kFrames - 1}});
  }

  Desk desk;
};

TEST_F(DeskOn, FollowsFromAMarkAndTellsOverlap) {
  const Json state = desk.state();
  EXPECT_EQ(state["input"]["frames"], kFrames);
  EXPECT_EQ(state["input"]["has_truth"], true);
  EXPECT_EQ(state["lanes"][0]["command"], "");
  follow_all();
  const auto all = rows(kFrames);
  EXPECT_EQ(all.at(0)[9], 1);  // the mark
  EXPECT_EQ(all.at(5)[9], 0);
  EXPECT_GT(all.at(5)[10].get<double>(), 0.5);
  EXPECT_EQ(desk.state()["reach"], kFrames - 1);
}

// The rows that are told are those of the call that is shown, and of the trace that is kept.
TEST_F(DeskOn, KeepsTheTraceThatItShows) {
  follow_all();
  const auto all = rows(kFrames);
  desk.act({{"do", "keep"}, {"what", "trace"}, {"lane", 0}});
  const Trace trace = read_trace(kept / "out/corr-plain-1.csv");
  ASSERT_EQ(trace.rows.size(), kFrames);
  for (const TraceRow& row : trace.rows) EXPECT_NEAR(row.box.box.x, all.at(row.frame)[1], 0.006);
  const std::string command = desk.state()["lanes"][0]["command"];
  test::expect_parts(command, {"mnemon follow ", "kites/crossing --tracker corr-plain --box 0:", "--trace "});
  EXPECT_EQ(command.find("--to"), std::string::npos);  // all of the frames
  test::expect_parts(read_file(kept / "out/corr-plain-1.sh"), {"#!/bin/sh", command.c_str()});
}

TEST_F(DeskOn, RunsAgainWithAnotherSettingAndGoesBack) {
  follow_all();
  const auto before = rows(kFrames);
  desk.act({{"do", "set"}, {"lane", 0}, {"values", {{"padding", 3}, {"learning_rate", 0.3}}}});
  const auto after = rows(kFrames);
  EXPECT_NE(after.at(20)[1], before.at(20)[1]);
  Json state = desk.state();
  EXPECT_EQ(state["lanes"][0]["set"]["padding"], 3.0);
  EXPECT_TRUE(state["lanes"][0]["before"]["set"].empty());
  test::expect_parts(state["lanes"][0]["command"].get<std::string>(),
                     {"--set learning_rate=0.3 --set padding=3 "});
  EXPECT_NE(desk.stage_png("before", 0, 20, "patch"), desk.stage_png("now", 0, 20, "patch"));
  desk.act({{"do", "set"}, {"undo", true}});
  auto again = rows(kFrames);
  for (auto& [frame, row] : again) row[8] = before.at(frame)[8];  // times
  EXPECT_EQ(again, before);
  desk.act({{"do", "set"}, {"undo", true}});  // the mark
  EXPECT_TRUE(desk.state()["marks"].empty());
  EXPECT_EQ(refused({{"do", "set"}, {"undo", true}}), "there is nothing to undo");
}

TEST_F(DeskOn, CorrectsFromAMarkOn) {
  follow_all();
  const auto before = rows(kFrames);
  desk.act({{"do", "mark"}, {"frame", 12}, {"region", {{"box", {300, 200, 40, 40}}}}});
  const auto after = rows(kFrames);
  EXPECT_EQ(after.at(11)[1], before.at(11)[1]);
  EXPECT_EQ(after.at(12)[1], 300.0);
  EXPECT_EQ(after.at(12)[9], 1);
  test::expect_parts(desk.state()["lanes"][0]["command"].get<std::string>(), {" --box 12:300,200,40,40"});
  desk.act({{"do", "mark"}, {"unmark", 12}});
  EXPECT_EQ(rows(kFrames).at(20)[1], before.at(20)[1]);
  EXPECT_EQ(refused({{"do", "mark"}, {"unmark", 12}}), "frame 12 is not marked");
}

TEST_F(DeskOn, HasTwoTrackersAndSeveralTargets) {
  follow_all();
  desk.act({{"do", "set"}, {"add", "stay"}});
  EXPECT_EQ(rows(kFrames, 1).at(20)[1], rows(kFrames).at(0)[1]);
  test::expect_parts(refused({{"do", "set"}, {"add", "stay"}}), {"2 trackers already"});
  desk.act({{"do", "target"}, {"new", true}});
  Json state = desk.state();
  EXPECT_EQ(state["target"], 1);
  EXPECT_EQ(state["lanes"].size(), 2U);
  EXPECT_TRUE(state["marks"].empty());
  desk.act({{"do", "target"}, {"index", 0}});
  EXPECT_EQ(desk.state()["marks"].size(), 1U);
  desk.act({{"do", "set"}, {"drop", 0}});
  EXPECT_EQ(desk.state()["lanes"][0]["tracker"], "stay");
  test::expect_parts(refused({{"do", "set"}, {"drop", 0}}), {"the last tracker stays"});
  desk.act({{"do", "set"}, {"undo", true}});
  EXPECT_EQ(desk.state()["lanes"].size(), 2U);
}

TEST_F(DeskOn, ShowsWhatWouldBeLearntAndStages) {
  const Json preview = desk.act({{"do", "preview"}, {"frame", 3}, {"lane", 0}, {"region", box_on(3)}});
  EXPECT_EQ(preview["stages"], (Json{"patch", "filter", "response"}));
  EXPECT_FALSE(desk.stage_png("preview", 0, 3, "patch").empty());
  EXPECT_TRUE(desk.state()["marks"].empty());  // nothing was marked
  follow_all();
  (void)rows(kFrames);
  const Json shown = desk.act({{"do", "stages"}, {"frame", 9}, {"lane", 0}, {"moment", "now"}});
  ASSERT_EQ(shown["stages"].size(), 3U);
  ASSERT_FALSE(shown["candidates"].empty());
  EXPECT_EQ(shown["candidates"][0]["outcome"], "taken");
  const Json& response = shown["stages"][2];
  EXPECT_EQ(response["name"], "response");
  ASSERT_EQ(response["area"].size(), 5U);
  // The target's middle lies in the middle of the window, or not far from it.
  const Box& target = truth().find(9)->box.box;
  EXPECT_NEAR(response["area"][0].get<double>() + 0.5 * response["area"][2].get<double>(),
              target.x + target.w / 2, 12);
  const Json value = desk.act({{"do", "value"},
                               {"frame", 9},
                               {"lane", 0},
                               {"moment", "now"},
                               {"name", "response"},
                               {"row", 0},
                               {"col", 1}});
  ASSERT_EQ(value["values"].size(), 1U);
  EXPECT_GE(value["values"][0], response["low"]);
  EXPECT_LE(value["values"][0], response["high"]);
  EXPECT_EQ(parse_picture(desk.stage_png("now", 0, 9, "patch"), "stage").channels(), 3);
  test::expect_parts(test::message_of<CallError>([&] { (void)desk.stage_png("now", 0, 9, "none"); }),
                     {"no stage 'none'"});
  test::expect_parts(test::message_of<CallError>([&] { (void)desk.mask_png("now", 0, 9); }),
                     {"answers no mask"});
}

TEST_F(DeskOn, LearnsWhatMatters) {
  follow_all();
  desk.act({{"do", "vary"}, {"lane", 0}, {"frame", 10}});
  const Json result = after_job()["result"];
  EXPECT_EQ(result["measure"], "mean overlap");
  EXPECT_GT(result["base"], 0.5);
  ASSERT_GT(result["rows"].size(), 5U);
  const auto size_of = [&](const Json& row) {
    return std::abs(row["result"].get<double>() - result["base"].get<double>());
  };
  for (std::size_t i = 1; i < result["rows"].size(); ++i)
    EXPECT_GE(size_of(result["rows"][i - 1]), size_of(result["rows"][i]));
  // Taking one of the values gives what was told.
  const Json& first = result["rows"][0];
  Json values;
  values[first["name"].get<std::string>()] = first["value"];
  desk.act({{"do", "set"}, {"lane", 0}, {"values", values}});
  double sum = 0;
  const auto all = rows(kFrames);
  for (int i = 1; i <= 10; ++i) sum += all.at(i)[10].get<double>();
  EXPECT_NEAR(sum / 10, first["result"].get<double>(), 1e-3);
}

TEST_F(DeskOn, LabelsAndKeepsWhatFollowAndLabelRead) {
  desk.act({{"do", "mark"}, {"frame", 2}, {"region", box_on(2)}});
  desk.act({{"do", "mark"}, {"frame", 20}, {"region", box_on(20)}});
  desk.act({{"do", "mark"}, {"frame", 23}, {"absent", true}});
  test::expect_parts(refused({{"do", "keep"}, {"what", "labels"}}), {"no labels yet"});
  desk.act({{"do", "label"}, {"lane", 0}});
  Json state = after_job();
  ASSERT_EQ(state["labelled"].size(), kFrames);
  EXPECT_NEAR(state["labelled"][11][0].get<double>(), truth().find(11)->box.box.x, 6);
  EXPECT_TRUE(state["labelled"][23].is_null());
  if (!state["review"].empty()) {
    const Json frame = state["review"][0]["frame"];
    desk.act({{"do", "accept"}, {"frame", frame}});
    EXPECT_EQ(desk.state()["review"].size() + 1, state["review"].size());
  }
  for (const char* what : {"labels", "marks", "plan"}) desk.act({{"do", "keep"}, {"what", what}});
  desk.act({{"do", "keep"}, {"what", "settings"}, {"lane", 0}});
  desk.act({{"do", "keep"}, {"what", "labels"}});  // again
  const Sequence labels = read_sequence(kept / "out/labels");
  EXPECT_EQ(labels.truth.rows.size(), kFrames);
  EXPECT_EQ(read_marks(kept / "out/marks.csv").size(), 3U);
  EXPECT_EQ(read_settings(kept / "out/corr-plain-1.toml", catalogue).tracker, "corr-plain");
  EXPECT_EQ(read_plan(kept / "out/plan.toml", catalogue).trackers.size(), 1U);
  EXPECT_EQ(desk.state()["kept"].size(), 4U);
}

TEST_F(DeskOn, KeepsAreasOutOfAllThatTrackersSee) {
  follow_all();
  const auto before = boxes();
  // A strip over the lower part of the target as it is marked.
  const Box first = truth().find(0)->box.box;
  const double top = first.y + 0.7 * first.h;
  const Json area = {{0, top}, {640, top}, {640, first.y + first.h}, {0, first.y + first.h}};
  desk.act({{"do", "keep_out"}, {"areas", {area}}});
  const auto after = boxes();
  EXPECT_NE(before.back(), after.back());
  const Json state = desk.state();
  EXPECT_EQ(state["keep_out"], Json({area}));
  test::expect_parts(state["lanes"][0]["command"].get<std::string>(), {" --keep-out "});
  // A tracker and a target that come later are shown as little.
  desk.act({{"do", "set"}, {"add", "corr-plain"}});
  EXPECT_EQ(boxes(1), after);
  test::expect_parts(refused({{"do", "keep_out"}, {"areas", {{{1, 1}, {2, 2}}}}}), {"three corners"});
  test::expect_parts(refused({{"do", "keep_out"}, {"areas", {{1, 2, 3}}}}), {"no proper 'areas'"});
  EXPECT_EQ(desk.state()["keep_out"], Json({area}));
  desk.act({{"do", "keep_out"}, {"areas", Json::array()}});
  EXPECT_EQ(boxes(), before);
}

// A mask is marked by a picture, of which a copy is kept for the call that does the same, under a name of its own each time.
TEST_F(DeskOn, MarksByAPictureOfAMask) {
  Image<Byte> mask(360, 640);
  const auto picture = [&](int side) {
    std::ranges::fill(mask.elements(), Byte{0});
    for (int y = 100; y < 100 + side; ++y) std::fill_n(mask.view().row(y) + 200, side, Byte{9});
    return Json{{"picture", base64(png_bytes(mask.view()))}};
  };
  desk.act({{"do", "mark"}, {"frame", 1}, {"region", picture(30)}});
  desk.act({{"do", "mark"}, {"frame", 1}, {"region", picture(40)}});
  const auto command = [&] { return desk.state()["lanes"][0]["command"].get<std::string>(); };
  EXPECT_EQ(desk.state()["marks"][0]["box"], (Json{200.0, 100.0, 40.0, 40.0, 0.0}));
  test::expect_parts(command(), {" --mask 1:", "out/mask-2-1.png"});
  desk.act({{"do", "set"}, {"undo", true}});
  EXPECT_EQ(desk.state()["marks"][0]["box"], (Json{200.0, 100.0, 30.0, 30.0, 0.0}));
  test::expect_parts(command(), {" --mask 1:", "out/mask-1-1.png"});
  const Image<Byte> kept_mask = read_mask(kept / "out/mask-1-1.png");
  EXPECT_EQ(std::ranges::count_if(kept_mask.elements(), [](Byte value) { return value > 0; }), 30 * 30);
  const auto refused_picture = [&](const Json& region) {
    return refused({{"do", "mark"}, {"frame", 1}, {"region", region}});
  };
  test::expect_parts(refused_picture(picture(0)), {"mask"});
  test::expect_parts(refused_picture({{"picture", base64(png_bytes(Image<Byte>(20, 30).view()))}}),
                     {"30 x 20 pixels, the frames have 640 x 360"});
  test::expect_parts(refused_picture({{"picture", "!"}}), {"no base64"});
  EXPECT_EQ(desk.state()["kept"].size(), 2U);
  // What another desk left in the folder stays.
  write_file(kept / "out/mask-3-1.png", "of before");
  desk.act({{"do", "mark"}, {"frame", 1}, {"region", picture(40)}});
  test::expect_parts(command(), {"out/mask-4-1.png"});
  EXPECT_EQ(read_file(kept / "out/mask-3-1.png"), "of before");
}

TEST_F(DeskOn, KeepsAFilm) {
  follow_all();
  (void)rows(kFrames);
  desk.act({{"do", "keep"}, {"what", "overlay"}});
  EXPECT_FALSE(after_job()["result"].contains("failure"));
  Sequence film = read_sequence(kept / "out/overlay.mp4");
  EXPECT_EQ(count_frames(film), kFrames);
}

TEST_F(DeskOn, SaysWhatCannotBeDone) {
  EXPECT_EQ(refused(Json::array()), "a message is a JSON object with 'do'");
  test::expect_parts(refused({{"do", "dance"}}), {"nothing called 'dance'"});
  test::expect_parts(refused({{"do", "mark"}, {"frame", "x"}, {"region", box_on(0)}}), {"no proper 'frame'"});
  test::expect_parts(refused({{"do", "mark"}, {"frame", 99}, {"region", box_on(0)}}),
                     {"no frame 99; there are 24"});
  test::expect_parts(refused({{"do", "mark"}, {"frame", 0}, {"region", {{"box", {900, 900, 5, 5}}}}}),
                     {"lies outside the picture"});
  EXPECT_THROW(desk.act({{"do", "mark"}, {"frame", 0}, {"region", {{"disc", {1, 2, 3}}}}}), DataError);
  test::expect_parts(refused({{"do", "set"}, {"lane", 0}, {"values", {{"padding", 99}}}}),
                     {"padding", "1 to 6"});
  test::expect_parts(refused({{"do", "set"}, {"lane", 0}, {"values", {{"paddin", 2}}}}), {"padding"});
  test::expect_parts(refused({{"do", "set"}, {"lane", 0}, {"tracker", "corr-plan"}}), {"corr-plain"});
  test::expect_parts(refused({{"do", "set"}, {"lane", 7}, {"tracker", "stay"}}), {"no lane 7"});
  test::expect_parts(refused({{"do", "open"}, {"sequence", "/etc"}}), {"none of the sequences"});
  test::expect_parts(refused({{"do", "keep"}, {"what", "../x"}, {"lane", 0}}), {"no '../x' to keep"});
  test::expect_parts(refused({{"do", "label"}, {"lane", 0}}), {"mark the target"});
  test::expect_parts(refused({{"do", "vary"}, {"lane", 0}, {"frame", 5}}), {"mark the target"});
  EXPECT_EQ(desk.state()["lanes"][0]["tracker"], "corr-plain");
  EXPECT_FALSE(fs::exists(kept / "out"));  // nothing was written
}

class DeskOnFolder : public DeskOn {
 protected:
  DeskOnFolder() : DeskOn(*made / "kites", "stay") {}
};

TEST_F(DeskOnFolder, ChoosesAmongSequences) {
  Json state = desk.state();
  ASSERT_EQ(state["choices"].size(), 2U);
  EXPECT_EQ(state["input"]["frames"], kFrames);
  desk.act({{"do", "open"}, {"sequence", state["choices"][1]}});
  state = desk.state();
  EXPECT_EQ(state["input"]["frames"], 8);
  EXPECT_TRUE(state["marks"].empty());
  EXPECT_EQ(state["lanes"][0]["tracker"], "stay");
}

// A live picture is held by marking it, and the tracker catches up.
class DeskOnCamera : public DeskOn {
 protected:
  DeskOnCamera() : DeskOn("camera:sim:" + crossing().string(), "corr-plain") {}
};

TEST_F(DeskOnCamera, CatchesUpWithALivePicture) {
  for (int i = 0; i < 500 && desk.state()["input"]["frames"] < 10; ++i)
    std::this_thread::sleep_for(milliseconds(10));
  EXPECT_EQ(desk.state()["input"]["is_live"], true);
  const Box& box = truth().find(0)->box.box;
  desk.act({{"do", "mark"}, {"frame", 0}, {"region", {{"box", {box.x, box.y, box.w, box.h}}}}});
  const int newest = desk.state()["input"]["frames"].get<int>() - 1;
  desk.act({{"do", "go"}, {"to", newest}});
  EXPECT_GE(rows(static_cast<std::size_t>(newest)).size(), static_cast<std::size_t>(newest));
  test::expect_parts(refused({{"do", "label"}, {"lane", 0}}), {"live picture"});
}

}  // namespace
}  // namespace mnemon
