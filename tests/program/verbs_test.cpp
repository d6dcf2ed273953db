// SPDX-License-Identifier: MIT
// The program as its users drive it, on the demo data: what it prints, what it leaves behind, its exit
// status.
#include <algorithm>
#include <cstdlib>
#include <map>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

using Json = nlohmann::json;

const std::filesystem::path kDemo = MNEMON_DEMO;
const std::string kKites = (kDemo / "kites").string();

Json json_of(const Outcome& outcome) {
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  return Json::parse(outcome.out);
}

}  // namespace

TEST(Help, HasPurposeExampleAndStatusForEveryVerb) {
  const Outcome help = mnemon({"--help"});
  EXPECT_EQ(help.status, 0);
  for (const char* verb : {"demo", "scene", "import", "check", "trackers", "follow", "label", "score",
                           "bench", "merge", "report", "film", "compare", "export"}) {
    expect_parts(help.out, {verb});
    const Outcome own = mnemon({verb, "--help"});
    EXPECT_EQ(own.status, 0);
    expect_parts(own.out,
                 {"Usage: mnemon", verb, "Example: mnemon", "Exit status: 0 done, 1 the work failed"});
    EXPECT_EQ(own.err, "");
  }
  EXPECT_EQ(mnemon({"--version"}).out, MNEMON_VERSION "\n");
}

TEST(Demo, ShowsWhatTheTrackerCanAndCannotDo) {
  const Json study = json_of(mnemon({"report", (kDemo / "study").string(), "--json"}));
  std::map<std::string, Json> score;
  for (const Json& run : study["runs"])
    if (run["tracker"] == "corr-plain" && run["protocol"] == "single") score[run["sequence"]] = run["score"];
  EXPECT_GE(score["steady"]["success_area"], 0.75);
  EXPECT_EQ(score["steady"]["losses"], 0);
  EXPECT_EQ(score["cloudbank"]["absent_frames"], 20);
  EXPECT_GT(score["cloudbank"]["absence_rate"], 0.5);
  // Its box keeps one size, so that on a kite that shrinks to a third it ends far too large.
  EXPECT_LT(score["climb"]["success_at_0.5"], 0.6);
  EXPECT_GT(score["climb"]["hit_rate_20"], 0.9);
  ASSERT_EQ(study["protocols"].size(), 5U);
  for (const Json& protocol : study["protocols"]) {
    // All twelve trackers are run once, two of them under every protocol.
    ASSERT_EQ(protocol["comparisons"].size(), protocol["protocol"] == "single" ? 66U : 1U);
    EXPECT_EQ(protocol["comparisons"].back()["worse"], "stay") << protocol["protocol"];
    EXPECT_TRUE(protocol["comparisons"].back()["separated"]) << protocol["protocol"];
  }
}

TEST(Demo, ShowsWhatMeasuringTheSizeIsWorth) {
  const Json study = json_of(mnemon({"report", (kDemo / "study").string(), "--json"}));
  std::map<std::string, double> on_scale;
  for (const auto& [label, scores] : study["protocols"][0]["trackers"].items())
    on_scale[label] = scores["by_tag"]["scale"]["mean"];
  EXPECT_GT(on_scale["corr-scaled"], on_scale["corr-kernel"] + 0.2);
  EXPECT_GT(on_scale["corr-reliable"], on_scale["corr-kernel"] + 0.2);
  EXPECT_GT(on_scale["shift-adaptive"], on_scale["shift-fixed"] + 0.1);
}

TEST(Demo, DoesOnlyWhatIsMissingTheSecondTime) {
  const auto written = std::filesystem::last_write_time(kDemo / "kites/steady/frames/000000.jpg");
  const Outcome again = mnemon({"demo", "--to", kDemo.string()});
  EXPECT_EQ(again.status, 0) << again.err;
  expect_parts(again.out, {"0 runs made, 960 kept", "Page: ", "index.html"});
  // Where nobody watches each step is a line; lines of progress are for terminals.
  EXPECT_EQ(again.err.find('\r'), std::string::npos);
  expect_parts(again.err, {"1 of 3: rendering 16 sequences", "2 of 3: running", "3 of 3: writing the page"});
  EXPECT_EQ(std::filesystem::last_write_time(kDemo / "kites/steady/frames/000000.jpg"), written);
}

TEST(Demo, DoesNotTouchWhatItDidNotMake) {
  const TempFolder folder;
  write_file(folder / "kites/steady/mine.txt", "mine");
  const Outcome outcome = mnemon({"demo", "--to", folder.path().string()});
  EXPECT_EQ(outcome.status, 2);
  expect_parts(outcome.err, {"steady", "not made by"});
  EXPECT_EQ(read_file(folder / "kites/steady/mine.txt"), "mine");
}

TEST(Trackers, AreListedAndDescribed) {
  expect_parts(mnemon({"trackers"}).out, {"corr-plain", "CVPR 2010", "stay"});
  expect_parts(mnemon({"trackers", "corr-plain"}).out, {"padding", "= 2", "1 to 6 target sizes", "Lui"});
  const Json json = json_of(mnemon({"trackers", "corr-plain", "--json"}));
  EXPECT_EQ(json["parameters"][0]["name"], "pace");
  EXPECT_EQ(json["parameters"][0]["presets"]["quick"]["window_samples"], 32);
  EXPECT_EQ(json["parameters"][1]["name"], "padding");
  EXPECT_EQ(json["parameters"][1]["low"], 1.0);
  expect_parts(mnemon({"trackers", "corr-plain"}).out, {"quick sets window_samples = 32"});
  EXPECT_EQ(json_of(mnemon({"trackers", "--json"})).size(), 12U);
}

TEST(Check, SaysWhatIsWrongWithASequenceAndGoesOnToTheNext) {
  const TempFolder folder;
  const Outcome good = mnemon({"check", kKites + "/steady"});
  EXPECT_EQ(good.status, 0) << good.err;
  expect_parts(good.out, {"steady: 150 frames of 640 x 360 px, all as it should be"});
  std::filesystem::create_directory(folder / "still");
  for (const char* name : {"a.jpg", "b.jpg", "c.jpg"})
    std::filesystem::copy_file(kKites + "/steady/frames/000000.jpg", folder / "still" / name);
  std::filesystem::create_directory(folder / "damaged");
  write_file(folder / "damaged/a.jpg", "no picture");
  const Outcome bad = mnemon({"check", "nowhere", "damaged", "still"}, folder.path());
  EXPECT_EQ(bad.status, 1);
  expect_parts(bad.out, {"nowhere", "no such sequence", "damaged", "a.jpg", "still: 3 frames",
                         "odd    frames 1 to 2: the same picture",
                         "3 sequences: 2 with something wrong, 1 with something odd"});
  expect_parts(bad.err, {"something is wrong with 2 sequences"});
  const Outcome json = mnemon({"check", "--json", "damaged", "still"}, folder.path());
  EXPECT_EQ(json.status, 1);
  const Json all = Json::parse(json.out);
  EXPECT_EQ(all[0]["findings"][0]["wrong"], true);
  EXPECT_EQ(all[1]["findings"][0]["frames"], (Json{1, 2}));
}

TEST(Check, TakesAPlanForAllThatItNames) {
  const TempFolder folder;
  write_file(folder / "plan.toml", "format = \"mnemon-plan/1\"\nsequences = [\"" + kKites + "/steady\", \"" +
                                       kKites + "/speck\"]\n[[tracker]]\nname = \"stay\"\n");
  const Outcome outcome = mnemon({"check", (folder / "plan.toml").string()});
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"steady: 150 frames", "speck: ", "2 sequences: 0 with something wrong"});
}

TEST(Follow, TakesTheUsualTrackerWhereNoneIsNamed) {
  const Outcome followed = mnemon({"follow", kKites + "/speck", "--to", "20"});
  EXPECT_EQ(followed.status, 0) << followed.err;
  expect_parts(followed.out, {"fusion on speck: frames 0 to 20"});
}

TEST(Follow, WritesATraceThatScores) {
  const TempFolder folder;
  const std::string trace = (folder / "steady.csv").string();
  const Outcome followed =
      mnemon({"follow", kKites + "/steady", "--tracker", "corr-plain", "--trace", trace});
  EXPECT_EQ(followed.status, 0) << followed.err;
  expect_parts(followed.out, {"corr-plain on steady: frames 0 to 149", "success area 0.9", "frames/s"});
  EXPECT_EQ(followed.err, "");
  EXPECT_EQ(read_trace(trace).rows.size(), 150U);
  const Outcome scored =
      mnemon({"score", "--truth", kKites + "/steady/truth.csv", "--trace", trace, "--json"});
  const Json score = json_of(scored);
  EXPECT_EQ(score["scored_frames"], 149);
  EXPECT_EQ(score["overlap_curve"].size(), 101U);
  expect_parts(mnemon({"score", "--truth", kKites + "/steady/truth.csv", "--trace", trace}).out,
               {"success_area", "frames_per_s"});
}

TEST(Follow, PrintsTheTraceWhereAskedTo) {
  const Outcome outcome =
      mnemon({"follow", kKites + "/climb", "--tracker", "corr-plain", "--trace", "-", "--from", "20", "--to",
              "24", "--box", "200,100,60,70", "--set", "padding=3"});
  const Trace trace = parse_trace(outcome.out, "stdout");
  ASSERT_EQ(trace.rows.size(), 5U);
  EXPECT_EQ(trace.rows[0].frame, 20);
  EXPECT_EQ(trace.rows[0].box.box, (Box{200, 100, 60, 70}));
}

TEST(Follow, GivesTheSameBoxesEveryTime) {
  const auto boxes = [] {
    std::vector<OrientedBox> seen;
    const Outcome outcome =
        mnemon({"follow", kKites + "/cloudbank", "--tracker", "corr-plain", "--trace", "-"});
    for (const TraceRow& row : parse_trace(outcome.out, "stdout").rows) seen.push_back(row.box);
    return seen;
  };
  EXPECT_EQ(boxes(), boxes());
}

TEST(Follow, DrawsOverlaysAndStages) {
  const TempFolder folder;
  const Outcome outcome =
      mnemon({"follow", kKites + "/cloudbank", "--tracker", "corr-plain", "--from", "50", "--to", "80",
              "--overlay", (folder / "seen").string(), "--stages", (folder / "inner").string(), "--json"});
  EXPECT_GT(json_of(outcome)["lost_frames"], 5);
  EXPECT_EQ(names_in(folder.path()), (std::set<std::string>{"inner", "seen"}));
  EXPECT_EQ(names_in(folder / "seen").size(), 31U);
  EXPECT_EQ(names_in(folder / "inner"), (std::set<std::string>{"filter", "patch", "response"}));
  const Image<Byte> lost = read_picture(folder / "seen/000078.png");
  const Image<Byte> plain = read_picture(kDemo / "kites/cloudbank/frames/000078.jpg");
  EXPECT_EQ(lost.cols(), 640);
  EXPECT_FALSE(std::ranges::equal(lost.elements(), plain.elements()));
}

TEST(Scene, RendersWithKnobsAndRandomNumbers) {
  const TempFolder folder;
  const auto render = [&](const char* to, const char* random, const char* jobs) {
    return mnemon({"scene", "steady", "--to", (folder / to).string(), "--set", "frames=6", "--set",
                   "hidden_frames=2", "--random", random, "--jobs", jobs, "--json"});
  };
  const Json json = json_of(render("a", "7", "1"));
  EXPECT_EQ(json[0]["frames"], 6);
  EXPECT_EQ(json[0]["absent_frames"], 2);
  EXPECT_EQ(render("b", "7", "2").status, 0);
  EXPECT_EQ(render("c", "8", "2").status, 0);
  const std::string frame = "steady/frames/000003.jpg";
  EXPECT_EQ(read_file(folder / "a" / frame), read_file(folder / "b" / frame));
  EXPECT_NE(read_file(folder / "a" / frame), read_file(folder / "c" / frame));
  EXPECT_EQ(render("a", "7", "1").status, 2);  // already there
}

TEST(Scene, DiffersByOneGreyLevelAtMostOnAnOlderProcessor) {
  // The C library is told that the processor lacks what its newer functions use, so that it takes older ones, whose
  // sines and exponentials may round otherwise.
  const TempFolder folder;
  const std::vector<std::string> call{MNEMON_PROGRAM_DIR "/mnemon",
                                      "scene",
                                      "cloudbank",
                                      "--set",
                                      "frames=30",
                                      "--set",
                                      "hidden_frames=5",
                                      "--png",
                                      "--to"};
  std::vector<std::string> here = call;
  here.push_back((folder / "here").string());
  std::vector<std::string> older{"env", "GLIBC_TUNABLES=glibc.cpu.hwcaps=-AVX512F,-AVX2,-AVX,-FMA,-FMA4"};
  older.insert(older.end(), call.begin(), call.end());
  older.push_back((folder / "older").string());
  ASSERT_EQ(run_program(here).status, 0);
  ASSERT_EQ(run_program(older).status, 0);
  for (const char* frame : {"000000.png", "000011.png", "000029.png"}) {
    const Image<Byte> a = read_picture(folder / "here/cloudbank/frames" / frame);
    const Image<Byte> b = read_picture(folder / "older/cloudbank/frames" / frame);
    int widest = 0;
    for (std::size_t i = 0; i < a.elements().size(); ++i)
      widest = std::max(widest, std::abs(a.elements()[i] - b.elements()[i]));
    EXPECT_LE(widest, 1) << frame;
  }
}

TEST(Progress, ShowsOnATerminalWithTheTimeLeft) {
  const TempFolder folder;
  const std::string call =
      MNEMON_PROGRAM_DIR "/mnemon scene steady --set frames=40 --to " + folder.path().string();
  const Outcome outcome = run_program({"script", "-qec", call, "/dev/null"});  // gives it a terminal
  EXPECT_EQ(outcome.status, 0);
  expect_parts(outcome.out,
               {"rendering steady: ", " of 40  █", "░, ", " s left", "40 frames, the target absent on 0"});
}

TEST(Label, FillsTheFramesBetweenMarks) {
  const TempFolder folder;
  const Truth truth = read_truth(kDemo / "kites/cloudbank/truth.csv");
  std::string marks = "frame,x,y,w,h\n";
  for (const int frame : {0, 50, 149}) {
    const Box& box = truth.find(frame)->box.box;
    marks += std::to_string(frame) + "," + std::to_string(box.x) + "," + std::to_string(box.y) + "," +
             std::to_string(box.w) + "," + std::to_string(box.h) + "\n";
  }
  write_file(folder / "marks.csv", marks);
  const std::string to = (folder / "labelled").string();
  const std::vector<std::string> call{
      "label",     kKites + "/cloudbank", "--marks", (folder / "marks.csv").string(),
      "--tracker", "mask-plain",          "--to",    to};
  const Outcome outcome = mnemon(call);
  ASSERT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"150 frames labelled from 3 marks by mask-plain", "with masks", "review.csv"});
  EXPECT_EQ(names_in(to),
            (std::set<std::string>{"marks.csv", "masks", "review.csv", "sequence.toml", "truth.csv"}));
  const Truth labels = read_truth(folder / "labelled/truth.csv");
  double sum = 0;
  int present = 0;
  for (const TruthRow& row : truth.rows) {
    if (!row.present) continue;
    const TruthRow* label = labels.find(row.frame);
    ASSERT_NE(label, nullptr) << row.frame;
    sum += label->present ? overlap(label->box, row.box) : 0;
    ++present;
  }
  EXPECT_GT(sum / present, 0.85);
  EXPECT_FALSE(labels.find(75)->present);  // behind the cloud
  expect_parts(read_file(folder / "labelled/review.csv"), {"frame,sure,why", ",away"});
  // What it wrote is a sequence that other verbs take, and it is not written over.
  EXPECT_EQ(mnemon({"check", to}).status, 0);
  EXPECT_EQ(mnemon(call).status, 2);
  const Outcome wrong = mnemon({"label", kKites + "/cloudbank", "--marks", (folder / "none.csv").string(),
                                "--to", (folder / "other").string()});
  EXPECT_EQ(wrong.status, 1);
  EXPECT_FALSE(std::filesystem::exists(folder / "other"));
}

TEST(Export, WritesPlainText) {
  const TempFolder folder;
  const Outcome outcome = mnemon({"export", (kDemo / "study").string(), "--to", (folder / "text").string()});
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"960 traces"});
  EXPECT_EQ(names_in(folder / "text"),
            (std::set<std::string>{"curves.csv", "losses.csv", "scores.csv", "traces", "traces.csv"}));
  EXPECT_EQ(read_trace(folder / "text/traces/corr-plain/climb.single.csv").rows.size(), 150U);
}

TEST(Bench, RunsAPlan) {
  const TempFolder folder;
  write_file(folder / "plan.toml",
             "format = \"mnemon-plan/1\"\nsequences = [\"" + kKites +
                 "/climb\"]\n[[tracker]]\nname = \"corr-plain\"\nset = { window_samples = 32 }\n");
  const Outcome outcome = mnemon({"bench", "plan.toml", "--out", "study", "--jobs", "2"}, folder.path());
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"climb", "mean of 1", "1 runs made", "mnemon report study"});
  EXPECT_EQ(names_in(folder / "study"), std::set<std::string>{"study.sqlite"});
}

}  // namespace mnemon::test
