// SPDX-License-Identifier: MIT
// The program on everything frames may come from: pictures, videos, pipes and a camera's stand-in.
#include <algorithm>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/media/video_source.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

using Json = nlohmann::json;

const std::string kProgram = MNEMON_PROGRAM_DIR "/mnemon";
const std::string kSteady = std::string(MNEMON_DEMO) + "/kites/steady";
const std::string kBox = "154,107,50,61";

// The demo sequence as one file.
std::filesystem::path as_video(const std::filesystem::path& file, int frames) {
  const auto source = open_frames(read_sequence(kSteady));
  VideoSink sink(file, 30);
  for (int i = 0; i < frames; ++i) {
    const auto frame = source->next();
    sink.add(frame->rgb, frame->time_s);
  }
  sink.finish();
  return file;
}

Outcome shell(const std::string& command, const TempFolder& folder) {
  return run_program({"sh", "-c", command}, folder.path());
}

Trace followed(const std::string& input, const TempFolder& folder,
               const std::vector<std::string>& more = {}) {
  std::vector<std::string> call{"follow", input, "--tracker", "corr-plain", "--box", kBox, "--trace", "-"};
  call.insert(call.end(), more.begin(), more.end());
  const Outcome outcome = mnemon(call, folder.path());
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  return parse_trace(outcome.out, "stdout");
}

double least_overlap(const Trace& a, const Trace& b) {
  double least = 1;
  for (std::size_t i = 0; i < a.rows.size(); ++i)
    least = std::min(least, overlap(a.rows[i].box, b.rows[i].box));
  return least;
}

}  // namespace

TEST(Inputs, OfOneSequenceGiveOneTrace) {
  const TempFolder folder;
  as_video(folder / "clip.mp4", 150);
  as_video(folder / "clip.y4m", 150);
  const Trace pictures = followed(kSteady + "/frames", folder);
  const Trace video = followed("clip.mp4", folder);
  const Outcome piped =
      shell("cat clip.y4m | " + kProgram + " follow - --tracker corr-plain --box " + kBox, folder);
  ASSERT_EQ(piped.status, 0) << piped.err;
  const Trace stream = parse_trace(piped.out, "stdout");
  ASSERT_EQ(pictures.rows.size(), 150U);
  ASSERT_EQ(video.rows.size(), 150U);
  ASSERT_EQ(stream.rows.size(), 150U);
  // Full colour as YUV is off by rounding only; MPEG-4 by its quantiser, which moves the peak by a share of a pixel.
  EXPECT_GT(least_overlap(pictures, stream), 0.985);
  EXPECT_GT(least_overlap(pictures, video), 0.96);
}

TEST(Stream, IsFollowedAsItComes) {
  const TempFolder folder;
  as_video(folder / "clip.y4m", 12);
  const auto half = std::to_string(std::filesystem::file_size(folder / "clip.y4m") / 2);
  // Three rows are read, and the time noted, while the other half of the frames has not been sent yet.
  const Outcome outcome =
      shell("(head -c " + half + " clip.y4m; sleep 1.5; tail -c +$((" + half + " + 1)) clip.y4m) | " +
                kProgram + " follow - --tracker corr-plain --box " + kBox +
                " | (read a; read b; read c; date +%s%N > early; cat > rest; date +%s%N > late)",
            folder);
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.err, {"started on frame 0 from 154,107,50,61", "frames 0 to 11"});
  EXPECT_GT(std::stod(read_file(folder / "late")) - std::stod(read_file(folder / "early")), 0.7e9);
  const std::string rest = read_file(folder / "rest");
  EXPECT_EQ(std::count(rest.begin(), rest.end(), '\n'), 10);
}

TEST(Stream, KeepsWhatWasFollowedBeforeItBroke) {
  const TempFolder folder;
  as_video(folder / "clip.y4m", 5);
  const auto cut = std::to_string(std::filesystem::file_size(folder / "clip.y4m") - 1000);
  const Outcome outcome = shell("head -c " + cut + " clip.y4m | " + kProgram +
                                    " follow - --tracker corr-plain --box " + kBox + " --trace t.csv > rows",
                                folder);
  EXPECT_EQ(outcome.status, 1);
  expect_parts(outcome.err, {"4 rows are kept in t.csv.partial", "standard input: frame 4"});
  EXPECT_FALSE(std::filesystem::exists(folder / "t.csv"));
  EXPECT_EQ(read_trace(folder / "t.csv.partial").rows.size(), 4U);
}

TEST(Stream, PrintsJsonLines) {
  const TempFolder folder;
  as_video(folder / "clip.y4m", 4);
  const Outcome outcome =
      shell("cat clip.y4m | " + kProgram + " follow - --tracker corr-plain --json --box " + kBox, folder);
  std::istringstream lines(outcome.out);
  std::vector<Json> read;
  for (std::string line; std::getline(lines, line);) read.push_back(Json::parse(line));
  ASSERT_EQ(read.size(), 5U);
  EXPECT_EQ(read[0]["event"], "seed");
  EXPECT_EQ(read[3]["frame"], 3);
  EXPECT_EQ(read[4]["frames"], 4);
}

TEST(Camera, StandInGivesFramesAtTheirRate) {
  const TempFolder folder;
  const Outcome outcome = shell("date +%s%N > a; " + kProgram + " follow camera:sim:" + kSteady +
                                    " --tracker corr-plain --to 45 --json > rows; date +%s%N > b",
                                folder);
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  EXPECT_GT(std::stod(read_file(folder / "b")) - std::stod(read_file(folder / "a")), 1.2e9);
  expect_parts(outcome.err, {"started on frame "});
}

TEST(Camera, WaitsForARegion) {
  const TempFolder folder;
  const Outcome outcome = shell("(sleep 0.2; echo 20:160,90,50,60) | " + kProgram +
                                    " follow camera:sim:" + kSteady + " --tracker corr-plain --wait --to 30",
                                folder);
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.err, {"waiting for a region", "started on frame 2"});
  const Trace trace = parse_trace(outcome.out, "stdout");
  EXPECT_GE(trace.rows.front().frame, 20);
  EXPECT_EQ(trace.rows.front().box.box, (Box{160, 90, 50, 60}));
  const Trace recorded = followed(kSteady, folder, {"--to", "9"});
  const Outcome waited = shell("echo 4:154,107,50,61 | " + kProgram + " follow " + kSteady +
                                   " --tracker corr-plain --wait --to 9 --trace -",
                               folder);
  EXPECT_EQ(parse_trace(waited.out, "stdout").rows.front().frame, 4);
}

TEST(Camera, SaysThatNoRegionCame) {
  const TempFolder folder;
  const Outcome outcome =
      shell(kProgram + " follow " + kSteady + " --tracker corr-plain --wait < /dev/null", folder);
  EXPECT_EQ(outcome.status, 2);
  expect_parts(outcome.err, {"waiting for a region", "standard input ended before a region came"});
}

TEST(Camera, LaterLinesCorrectTheTracker) {
  const TempFolder folder;
  const Outcome outcome = shell("(echo 160,90,50,60; sleep 0.7; echo 30,40,50,60) | " + kProgram +
                                    " follow camera:sim:" + kSteady + " --tracker stay --wait --to 45",
                                folder);
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  const Trace trace = parse_trace(outcome.out, "stdout");
  const auto mark = std::ranges::find(trace.rows, Event::mark, &TraceRow::event);
  ASSERT_NE(mark, trace.rows.end());
  EXPECT_EQ(mark->box.box, (Box{30, 40, 50, 60}));
  EXPECT_EQ(trace.rows.front().box.box, (Box{160, 90, 50, 60}));
  EXPECT_EQ(trace.rows.back().box.box, (Box{30, 40, 50, 60}));
}

TEST(Follow, GoesOnFromMarks) {
  const TempFolder folder;
  const Outcome outcome = mnemon({"follow",     kSteady,
                                  "--tracker",  "stay",
                                  "--box",      "2:10,20,30,40",
                                  "--oriented", "5:100,80,40,20,30",
                                  "--polygon",  "7:50,50,90,50,70,80",
                                  "--box",      "9:20,20,60,60",
                                  "--include",  "9:50,50",
                                  "--to",       "11",
                                  "--box",      "400:1,1,5,5",
                                  "--trace",    "t.csv"},
                                 folder.path());
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.err, {"mark of frame 400 was not used"});
  const Trace trace = read_trace(folder / "t.csv");
  ASSERT_EQ(trace.rows.size(), 10U);
  EXPECT_EQ(trace.rows[0].box.box, (Box{10, 20, 30, 40}));
  EXPECT_EQ(trace.rows[5].box.box, (Box{50, 50, 40, 30}));  // an outline, by the box around it
  for (const TraceRow& row : trace.rows) {
    const bool is_mark = row.frame == 5 || row.frame == 7 || row.frame == 9;
    EXPECT_EQ(row.event, row.frame == 2 ? Event::seed : is_mark ? Event::mark : Event::none) << row.frame;
  }
}

// A tracker that is shown what comes before the mark takes its frames by steps from the mark on, too.
TEST(Follow, BeginsAtTheMarkWhateverTheStep) {
  const TempFolder folder;
  for (const char* tracker : {"blob-motion", "stay"}) {
    const Outcome outcome = mnemon({"follow", kSteady, "--tracker", tracker, "--box", "5:150,100,50,60",
                                    "--step", "4", "--to", "13", "--trace", "t.csv"},
                                   folder.path());
    EXPECT_EQ(outcome.status, 0) << outcome.err;
    const Trace trace = read_trace(folder / "t.csv");
    ASSERT_EQ(trace.rows.size(), 9U) << tracker;
    for (const TraceRow& row : trace.rows)
      EXPECT_EQ(row.event, row.frame == 5             ? Event::seed
                           : (row.frame - 5) % 4 == 0 ? Event::none
                                                      : Event::skip);
  }
}

TEST(Follow, SaysWhatIsWrongWithMarks) {
  const TempFolder folder;
  const auto message = [&](std::vector<std::string> marks) {
    std::vector<std::string> call{"follow", kSteady, "--tracker", "stay"};
    call.insert(call.end(), marks.begin(), marks.end());
    const Outcome outcome = mnemon(call, folder.path());
    EXPECT_EQ(outcome.status, 2) << outcome.out;
    return outcome.err;
  };
  expect_parts(message({"--oriented", "1,2,3,4"}), {"--oriented 1,2,3,4", "x,y,w,h,angle"});
  expect_parts(message({"--polygon", "1,2,3,4,5"}), {"three corners and more"});
  expect_parts(message({"--include", "x:1,2"}), {"--include x:1,2", "x,y in pixels"});
  expect_parts(message({"--box", "3:1,1,9,9", "--box", "3:2,2,9,9"}), {"--box 3:2,2,9,9", "marked already"});
  expect_parts(message({"--polygon", "1,1,9,1,5,9", "--include", "5,5"}), {"go with --box"});
  expect_parts(message({"--box", "1,1,9,9", "--box", "3:2,2,9,9", "--from", "3"}),
               {"--box 3:2,2,9,9 is for frame 3", "first region is on frame 3"});
  expect_parts(message({"--box", "3:1,1,9,9", "--from", "5"}),
               {"--box 3:1,1,9,9 names its frame", "--from 5"});
  expect_parts(message({"--keep-out", "1,2,3,4"}), {"--keep-out 1,2,3,4", "three corners"});
  expect_parts(message({"--keep-out", "3:1,1,9,1,5,9"}), {"--keep-out 3:", "kept out of all"});
  expect_parts(message({"--keep-out", "1,1,9,1,5,1"}), {"on a line"});
  expect_parts(message({"--box", "1,1,9,9", "--keep-out", "0,0,50,0,0,50"}), {"area to keep out"});
  const Outcome missing =
      mnemon({"follow", kSteady, "--tracker", "stay", "--mask", "none.png"}, folder.path());
  EXPECT_EQ(missing.status, 1);
  expect_parts(missing.err, {"none.png", "no such file"});
}

// The target flies into an area that is kept out, and is lost there.
TEST(Follow, KeepsAreasOut) {
  const TempFolder folder;
  const Sequence sequence = read_sequence(kSteady);
  const Box last = sequence.truth.rows.at(40).box.box;
  const std::string area = fmt::format("{0},{1},{2},{1},{2},{3},{0},{3}", last.x - 20, last.y - 20,
                                       last.x + last.w + 20, last.y + last.h + 20);
  const auto present = [&](const std::vector<std::string>& more) {
    std::vector<std::string> call{"follow", kSteady, "--tracker", "corr-scaled",
                                  "--to",   "40",    "--trace",   "t.csv"};
    call.insert(call.end(), more.begin(), more.end());
    EXPECT_EQ(mnemon(call, folder.path()).status, 0);
    const Trace trace = read_trace(folder / "t.csv");
    std::filesystem::remove(folder / "t.csv");
    return trace.rows.at(0).present && trace.rows.at(40).present;
  };
  EXPECT_TRUE(present({}));
  EXPECT_FALSE(present({"--keep-out", area}));
}

TEST(Follow, WritesVideosAndMasks) {
  const TempFolder folder;
  const Outcome outcome =
      mnemon({"follow", kSteady, "--tracker", "corr-plain", "--from", "3", "--to", "14", "--step", "2",
              "--width", "320", "--overlay", "seen.mkv", "--masks", "masks", "--trace", "t.csv"},
             folder.path());
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"frames 3 to 13", "5 not taken"});
  EXPECT_EQ(names_in(folder.path()), (std::set<std::string>{"masks", "seen.mkv", "t.csv"}));
  const auto frames = open_video(folder / "seen.mkv");
  int seen = 0;
  while (const auto frame = frames->next()) {
    EXPECT_EQ(frame->size(), (FrameSize{640, 410}));  // with two lines of text below
    EXPECT_NEAR(frame->time_s, seen++ / 15.0, 2e-3);
  }
  EXPECT_EQ(seen, 6);
  const Trace trace = read_trace(folder / "t.csv");
  EXPECT_EQ(names_in(folder / "masks").size(), 6U);
  const Image<Byte> mask = read_mask(folder / "masks/000013.png");
  const Box& box = trace.rows.back().box.box;
  EXPECT_NEAR(static_cast<double>(std::ranges::count(mask.elements(), 255)), box.w * box.h,
              2 * (box.w + box.h));
}

TEST(Follow, DrawsOtherTracesBeside) {
  const TempFolder folder;
  const std::vector<std::string> call{"follow", kSteady, "--tracker", "corr-plain", "--to", "5"};
  const auto with = [&](std::vector<std::string> more) {
    std::vector<std::string> all = call;
    all.insert(all.end(), more.begin(), more.end());
    EXPECT_EQ(mnemon(all, folder.path()).status, 0);
  };
  with({"--trace", "first.csv", "--overlay", "alone"});
  with({"--beside", "first.csv", "--overlay", "both"});
  EXPECT_FALSE(std::ranges::equal(read_picture(folder / "alone/000005.png").elements(),
                                  read_picture(folder / "both/000005.png").elements()));
}

TEST(Import, MakesASequenceOfAnyListWithoutACopy) {
  const TempFolder folder;
  const Truth truth = read_truth(kSteady + "/truth.csv");
  std::string corners;
  for (const TruthRow& row : truth.rows) {
    const Box& box = row.box.box;
    corners += std::to_string(box.x + 1) + "\t" + std::to_string(box.y + 1) + "\t" +
               std::to_string(box.x + box.w + 1) + "\t" + std::to_string(box.y + box.h + 1) + "\n";
  }
  write_file(folder / "corners.txt", corners);
  const Outcome made =
      mnemon({"import", kSteady + "/frames", "--boxes", "corners.txt", "--columns", "x1,y1,x2,y2",
              "--one-based", "--to", "mine/steady", "--tag", "fast", "--json"},
             folder.path());
  ASSERT_EQ(made.status, 0) << made.err;
  EXPECT_EQ(Json::parse(made.out)["boxes"], 150);
  EXPECT_EQ(names_in(folder / "mine/steady"),
            (std::set<std::string>{"glance.png", "sequence.toml", "truth.csv"}));
  EXPECT_GT(read_picture(folder / "mine/steady/glance.png").cols(), 1200);
  const Sequence sequence = read_sequence(folder / "mine/steady");
  EXPECT_EQ(sequence.tags, std::vector<std::string>{"fast"});
  for (std::size_t i = 0; i < truth.rows.size(); ++i)
    EXPECT_GT(overlap(sequence.truth.rows[i].box, truth.rows[i].box), 0.9999);
  const Outcome followed = mnemon({"follow", "mine/steady", "--tracker", "corr-plain"}, folder.path());
  expect_parts(followed.out, {"success area 0.9", "over 149 present frames"});
}

TEST(Import, WarnsOfBoxesOutside) {
  const TempFolder folder;
  write_file(folder / "boxes.txt", "5000,5000,20,20\n10,10,20,20\n0,0,0,0\n");
  const Outcome outcome =
      mnemon({"import", kSteady + "/frames", "--boxes", "boxes.txt", "--absent", "zero", "--to", "out"},
             folder.path());
  EXPECT_EQ(outcome.status, 0);
  expect_parts(outcome.err, {"1 boxes lie wholly outside"});
  expect_parts(outcome.out, {"150 frames, 2 with a box, 1 with the target absent, 147 without truth"});
}

TEST(Bench, RunsOnVideos) {
  const TempFolder folder;
  as_video(folder / "clip.mp4", 40);
  ASSERT_EQ(
      mnemon({"import", "clip.mp4", "--boxes", kSteady + "/truth.csv", "--to", "kites/clip"}, folder.path())
          .status,
      1);  // there are boxes for frames that the video lacks
  const Truth truth = read_truth(kSteady + "/truth.csv");
  write_file(folder / "boxes.csv", truth_text({{truth.rows.begin(), truth.rows.begin() + 40}}));
  ASSERT_EQ(
      mnemon({"import", "clip.mp4", "--boxes", "boxes.csv", "--to", "kites/clip"}, folder.path()).status, 0);
  write_file(folder / "plan.toml",
             "format = \"mnemon-plan/1\"\nsequences = [\"kites/*\"]\n[[tracker]]\nname = \"corr-plain\"\n");
  const Outcome outcome = mnemon({"bench", "plan.toml", "--out", "study"}, folder.path());
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"clip", "1 runs made"});
  EXPECT_EQ(mnemon({"report", "study"}, folder.path()).status, 0);
}

TEST(Import, TakesManySequencesAtOnceAndGoesOnWhereOneIsBroken) {
  const TempFolder folder;
  // A usual layout: a folder a sequence, with boxes that are parted and left out in several ways.
  const Truth truth = read_truth(kSteady + "/truth.csv");
  for (int k = 0; k < 12; ++k) {
    const std::filesystem::path at = folder / ("data/s" + std::to_string(k));
    make_folder(at / "pictures");
    std::string boxes;
    for (int i = 0; i < 20; ++i) {
      std::filesystem::create_symlink(kSteady + "/frames/" + numbered_name("%06d.jpg", i),
                                      at / "pictures" / numbered_name("%04d.jpg", i));
      const Box& box = truth.rows[static_cast<std::size_t>(i)].box.box;
      const char* sign = k % 3 == 0 ? "," : k % 3 == 1 ? "\t" : " ";
      boxes += i == 7 ? fmt::format("0{0}0{0}0{0}0\n", sign)
                      : fmt::format("{1}{0}{2}{0}{3}{0}{4}\n", sign, box.x, box.y, box.w, box.h);
    }
    write_file(at / "boxes.txt", k == 5 ? "no boxes\n" : boxes);
    write_file(at / "words.txt", "Fast, FOC\n");
  }
  write_file(folder / "map.toml", "FOC = \"occlusion\"\n");
  const std::vector<std::string> call{"import",    "data/*",   "--frames", "pictures", "--boxes",
                                      "boxes.txt", "--absent", "zero,nan", "--tags",   "words.txt",
                                      "--tag-map", "map.toml", "--to",     "mine"};
  const Outcome outcome = mnemon(call, folder.path());
  EXPECT_EQ(outcome.status, 1);
  expect_parts(outcome.err, {"left out: data/s5", "boxes.txt:1", "1 of 12 folders could not be imported"});
  expect_parts(outcome.out,
               {"mine: 11 of 12 folders are sequences now, with 220 frames; the target is absent on 11",
                "mnemon bench mine/plan.toml"});
  const Sequence read = read_sequence(folder / "mine/s4");
  EXPECT_EQ(read.tags, (std::vector<std::string>{"occlusion", "fast"}));
  EXPECT_FALSE(read.truth.rows[7].present);
  EXPECT_EQ(read.truth.rows[8].box.box, truth.rows[8].box.box);
  EXPECT_FALSE(std::filesystem::exists(folder / "mine/s5"));
  EXPECT_GT(read_picture(folder / "mine/glance.jpg").cols(), 1000);
  // Its plan runs.
  write_file(folder / "mine/plan.toml",
             read_file(folder / "mine/plan.toml") + "[protocol.single]\ntimed = false\n");
  const Outcome bench = mnemon({"bench", "mine/plan.toml", "--out", "study"}, folder.path());
  EXPECT_EQ(bench.status, 0) << bench.err;
  expect_parts(bench.out, {"33 runs made"});
  EXPECT_EQ(mnemon(call, folder.path()).status, 2);  // nothing is written over
  const Outcome wrong = mnemon({"import", "none/*", "--boxes", "b.txt", "--to", "out"}, folder.path());
  EXPECT_EQ(wrong.status, 2);
  expect_parts(wrong.err, {"no folder is like 'none/*'"});
  expect_parts(
      mnemon({"import", "data/s0/pictures", "--boxes", "data/s0/boxes.txt", "--masks", "m", "--to", "out"},
             folder.path())
          .err,
      {"--masks is for many sequences"});
}

}  // namespace mnemon::test
