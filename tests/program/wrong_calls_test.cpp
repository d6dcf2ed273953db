// SPDX-License-Identifier: MIT
// Wrong calls and bad data: one clear message, the right status, nothing on standard output, nothing left
// behind.
#include <algorithm>
#include <initializer_list>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

class WrongCall : public ::testing::Test {
 protected:
  // A sequence of three even frames with truth.
  void SetUp() override {
    for (int i = 0; i < 3; ++i) put_frame(i, 64);
    write_file(folder_ / "in/sequence.toml",
               "format = \"mnemon-sequence/1\"\nframes = \"frames/%d.png\"\ntruth = \"truth.csv\"\n");
    write_file(folder_ / "in/truth.csv", "frame,x,y,w,h\n0,10,10,20,20\n1,10,10,20,20\n2,10,10,20,20\n");
  }

  void put_frame(int i, int cols) const {
    Image<Byte> picture(48, cols, 3);
    for (std::size_t k = 0; k < picture.elements().size(); ++k)
      picture.elements()[k] = static_cast<Byte>(k * k);
    write_png(folder_ / ("in/frames/" + std::to_string(i) + ".png"), picture.view());
  }

  void expect(int status, const std::vector<std::string>& call,
              std::initializer_list<const char*> parts) const {
    const Outcome outcome = mnemon(call, folder_.path());
    EXPECT_EQ(outcome.status, status) << outcome.err;
    EXPECT_EQ(outcome.out, "");
    expect_parts(outcome.err, parts);
    EXPECT_EQ(outcome.err.rfind("mnemon", 0), 0U) << outcome.err;
    EXPECT_LE(std::ranges::count(outcome.err, '\n'), 2) << outcome.err;
    EXPECT_EQ(names_in(folder_.path()), std::set<std::string>{"in"}) << "something was left behind";
  }

  void expect_follow(int status, std::vector<std::string> more,
                     std::initializer_list<const char*> parts) const {
    std::vector<std::string> call{"follow",  "in",        "--tracker", "corr-plain", "--trace",
                                  "out.csv", "--overlay", "seen",      "--stages",   "inner"};
    call.insert(call.end(), more.begin(), more.end());
    expect(status, call, parts);
  }

  TempFolder folder_;
};

}  // namespace

TEST_F(WrongCall, NoVerbOrAnUnknownOne) {
  expect(2, {}, {"subcommand", "--help"});
  expect(2, {"folow"}, {"folow", "did you mean 'follow'"});
}

TEST_F(WrongCall, NoSuchTracker) {
  expect(2, {"follow", "in", "--tracker", "corr-plian"}, {"corr-plian", "did you mean 'corr-plain'"});
  expect(2, {"trackers", "blob"}, {"blob", "known are corr-plain"});
}

TEST_F(WrongCall, NoSuchParameterOrValue) {
  expect_follow(2, {"--set", "pading=2"}, {"pading", "did you mean 'padding'"});
  expect_follow(2, {"--set", "padding=90"}, {"padding = 90", "1 to 6"});
  expect_follow(2, {"--set", "padding"}, {"name=value"});
  expect(2, {"scene", "steady", "--to", "out", "--set", "gust=7"}, {"gust = 7", "0 to 1"});
  expect(2, {"scene", "stedy", "--to", "out"}, {"stedy", "did you mean 'steady'"});
}

TEST_F(WrongCall, NoSuchFile) {
  expect(2, {"follow", "nowhere", "--tracker", "corr-plain"}, {"nowhere", "no such sequence"});
  expect(1, {"bench", "none.toml", "--out", "in/study"}, {"none.toml", "no such file"});
  expect(1, {"score", "--truth", "none.csv", "--trace", "none.csv"}, {"none.csv", "no such file"});
  expect(1, {"check", "none.toml"}, {"none.toml", "no such file"});
  expect(2, {"check"}, {"which sequences?"});
  expect(2, {"check", MNEMON_SOURCE_DIR "/demo/stress.toml"}, {"stress.toml", "no sequences on disk"});
  expect(1, {"report", "in"}, {"study.sqlite", "no such study"});
  expect(1, {"export", "in", "--to", "out"}, {"study.sqlite", "no such study"});
}

TEST_F(WrongCall, BoxOutsideThePictureOrWithoutSize) {
  expect_follow(2, {"--box", "100,10,20,20"}, {"100,10,20,20", "outside", "64 x 48"});
  expect_follow(2, {"--box", "10,10,0,20"}, {"10,10,0,20", "no area"});
  expect_follow(2, {"--box", "10,10,20"}, {"10,10,20", "x,y,w,h"});
  expect_follow(2, {"--box", "10,10,20,nan"}, {"no area"});
}

TEST_F(WrongCall, FramesThatAreNotThere) {
  expect_follow(2, {"--from", "9", "--box", "1,1,9,9"}, {"3 frames", "no frame 9"});
  expect_follow(2, {"--from", "2", "--to", "1"}, {"end at 1"});
  expect_follow(2, {"--from", "-1"}, {"--from"});
}

TEST_F(WrongCall, TruncatedPng) {
  const std::string whole = read_file(folder_ / "in/frames/2.png");
  write_file(folder_ / "in/frames/2.png", std::string_view(whole).substr(0, whole.size() / 2));
  expect_follow(1, {}, {"2.png", "not a whole PNG"});
}

TEST_F(WrongCall, MixedFrameSizes) {
  put_frame(1, 65);
  expect_follow(1, {}, {"1.png", "65 x 48", "64 x 48", "one size"});
}

TEST_F(WrongCall, MissingFrame) {
  std::filesystem::remove(folder_ / "in/frames/1.png");
  expect_follow(1, {}, {"1.png", "is missing"});
}

TEST_F(WrongCall, EmptyFolder) {
  make_folder(folder_ / "in/empty");
  expect(1, {"follow", "in/empty", "--tracker", "corr-plain", "--box", "1,1,5,5"},
         {"empty", "no PNG or JPEG"});
}

TEST_F(WrongCall, NothingToSeedFrom) {
  std::filesystem::remove(folder_ / "in/sequence.toml");
  expect(2, {"follow", "in/frames", "--tracker", "corr-plain"}, {"no truth box", "x,y,w,h"});
}

TEST_F(WrongCall, TextInANumberColumn) {
  write_file(folder_ / "in/truth.csv", "frame,x,y,w,h\n0,10,ten,20,20\n");
  expect_follow(1, {}, {"truth.csv:2:6", "'ten'", "column 'y'"});
  write_file(folder_ / "in/trace.csv", "frame,x,y,w,h\n0,10,10,20,20\n");
  expect(1, {"score", "--truth", "in/truth.csv", "--trace", "in/trace.csv"}, {"truth.csv:2:6"});
}

TEST_F(WrongCall, TraceWithoutRows) {
  write_file(folder_ / "in/trace.csv", "frame,x,y,w,h\n");
  expect(1, {"score", "--truth", "in/truth.csv", "--trace", "in/trace.csv"}, {"trace.csv", "no rows"});
}

TEST_F(WrongCall, PlanThatIsWrong) {
  write_file(folder_ / "in/plan.toml",
             "format = \"mnemon-plan/1\"\nsequences = [\".\"]\n[[tracker]]\nname = \"corr-plain\"\nset = { "
             "warps = -1 }\n");
  expect(1, {"bench", "in/plan.toml", "--out", "out"}, {"plan.toml:5", "warps = -1", "0 to 256"});
  const std::string head = "format = \"mnemon-plan/1\"\n[[tracker]]\nname = \"corr-plain\"\n";
  const auto refused = [&](const std::string& text, std::initializer_list<const char*> parts) {
    write_file(folder_ / "in/plan.toml", head + text);
    expect(1, {"bench", "in/plan.toml", "--out", "out"}, parts);
  };
  refused("", {"plan.toml", "'sequences' is missing"});
  refused("sweep = { pading = [1] }\n", {"plan.toml:4", "did you mean 'padding'"});
  refused("[[stress]]\nscene = \"steady\"\nknob = \"noize\"\nlevels = [0]\n",
          {"plan.toml:6", "did you mean 'noise'"});
  refused("traces = \"none\"\n", {"plan.toml", "'name' is not known here"});
}

TEST_F(WrongCall, StudiesThatAreNone) {
  expect(1, {"compare", "in"}, {"study.sqlite", "no such study"});
  expect(1, {"report", "in"}, {"study.sqlite", "no such study"});
  write_file(folder_ / "in/study.sqlite",
             "this is no database, though it is long enough to be taken for one at first");
  expect(1, {"compare", "in"}, {"study.sqlite", "not a database"});
  expect(1, {"export", "in", "--to", "out"}, {"study.sqlite", "not a database"});
}

TEST_F(WrongCall, PlacesThatAreTaken) {
  expect(2, {"follow", "in", "--tracker", "corr-plain", "--overlay", "in/frames"}, {"frames", "not empty"});
  write_file(folder_ / "in/taken/steady/x", "");
  expect(2, {"scene", "steady", "--to", "in/taken"}, {"steady", "already there"});
}

TEST_F(WrongCall, PlacesThatAreNoFolders) {
  expect(2, {"follow", "in", "--tracker", "corr-plain", "--overlay", "seen.webm"},
         {"--overlay seen.webm", "folder", ".mp4"});
  expect(2, {"follow", "in", "--tracker", "corr-plain", "--overlay", "seen.png"},
         {"--overlay seen.png", "folder", ".mp4"});
  expect(2, {"follow", "in", "--tracker", "corr-plain", "--stages", "inner.mp4"},
         {"--stages inner.mp4", "folder"});
  expect(2, {"follow", "in", "--tracker", "corr-plain", "--masks", "masks.avi"},
         {"--masks masks.avi", "folder"});
}

TEST_F(WrongCall, PlacesThatCannotBeWritten) {
  expect(1, {"follow", "in", "--tracker", "corr-plain", "--trace", "in/truth.csv/out.csv"}, {"truth.csv"});
}

TEST_F(WrongCall, InputsThatAreNotThere) {
  const auto follow = [&](int status, const char* input, std::initializer_list<const char*> parts) {
    expect(status, {"follow", input, "--tracker", "corr-plain", "--box", "5,5,20,20"}, parts);
  };
  follow(2, "camera:", {"camera:", "/dev/video0"});
  follow(1, "camera:/dev/none", {"camera:/dev/none", "cannot be opened as a camera"});
  follow(2, "camera:sim:none", {"none", "no such sequence"});
  follow(2, "in/truth.csv", {"in/truth.csv", "is no sequence", "video file"});
  follow(1, "-", {"standard input", "YUV4MPEG2"});  // the tests' own standard input holds nothing
}

TEST_F(WrongCall, RegionsThatAreNone) {
  expect_follow(2, {"--box", "3:1,2,3"}, {"--box 3:1,2,3", "25:101.5,80,40,36"});
  expect_follow(2, {"--box", "x:1,2,3,4"}, {"--box x:1,2,3,4"});
  expect_follow(2, {"--box", "1:5,5,20,20", "--from", "1"}, {"--box 1:5,5,20,20", "--from 1"});
  expect(2, {"follow", "-", "--tracker", "corr-plain", "--wait"}, {"standard input", "--box FRAME:X,Y,W,H"});
  expect(2, {"follow", "in", "--tracker", "corr-plain", "--beside", "in/truth.csv"},
         {"--beside", "--overlay"});
}

TEST_F(WrongCall, ListsOfBoxesThatAreNone) {
  const auto import = [&](int status, std::vector<std::string> more,
                          std::initializer_list<const char*> parts) {
    std::vector<std::string> call{"import", "in/frames", "--to", "out"};
    call.insert(call.end(), more.begin(), more.end());
    expect(status, call, parts);
  };
  import(1, {"--boxes", "in/none.txt"}, {"in/none.txt", "no such file"});
  import(1, {"--boxes", "in/sequence.toml"}, {"sequence.toml:1"});
  import(2, {"--boxes", "in/truth.csv", "--columns", "x,y,w"}, {"x,y,w make no box"});
  import(2, {"--boxes", "in/truth.csv", "--absent", "never"}, {"--absent", "never"});
  import(2, {"--boxes", "in/truth.csv", "--rate", "0"}, {"--rate"});
  import(2, {"--boxes", "in/truth.csv", "--tag", "blurr"}, {"'blurr'", "did you mean 'blur'"});
}

}  // namespace mnemon::test
