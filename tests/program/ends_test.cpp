// SPDX-License-Identifier: MIT
// However the program ends (signals, readers that have gone, full disks, other programs' pipes), nothing is lost and
// nothing looks whole that is not.
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

const std::string kProgram = MNEMON_PROGRAM_DIR "/mnemon";
const std::string kSteady = std::string(MNEMON_DEMO) + "/kites/steady";
const std::string kStudy = std::string(MNEMON_DEMO) + "/study";
const std::string kFollow = kProgram + " follow - --tracker corr-plain --box 154,107,50,61 --trace t.csv";

class Ends : public ::testing::Test {
 protected:
  void SetUp() override {
    const auto source = open_frames(read_sequence(kSteady));
    VideoSink sink(folder_ / "clip.y4m", 30);
    for (int i = 0; i < 8; ++i) sink.add(source->next()->rgb, i / 30.0);
    sink.finish();
  }

  Outcome shell(const std::string& command) const {
    return run_program({"bash", "-c", command}, folder_.path());
  }

  // A stream that brings eight frames and then nothing more for a long time, to which a signal comes.
  Outcome stalled(const std::string& signal) const {
    return shell("set -m; mkfifo pipe; (cat clip.y4m; exec sleep 20) > pipe & writer=$!; " + kFollow +
                 " < pipe > rows & program=$!; until [ \"$(wc -l < rows)\" -ge 9 ]; do sleep 0.02; done; "
                 "kill -s " +
                 signal +
                 " $program; (sleep 5; kill -s KILL $program) 2> /dev/null & watch=$!; "
                 "wait $program; status=$?; kill $watch $writer; exit $status");
  }

  TempFolder folder_;
};

}  // namespace

TEST_F(Ends, AStalledStreamEndsByTheFirstSignal) {
  for (const char* signal : {"INT", "TERM", "HUP"}) {
    const Outcome outcome = stalled(signal);
    EXPECT_EQ(outcome.status, 0) << signal << outcome.err;
    expect_parts(outcome.err, {"frames 0 to 7"});
    EXPECT_EQ(read_trace(folder_ / "t.csv").rows.size(), 8U) << signal;
    EXPECT_EQ(names_in(folder_.path()), (std::set<std::string>{"clip.y4m", "pipe", "rows", "t.csv"}))
        << signal;
    for (const char* made : {"pipe", "rows", "t.csv"}) std::filesystem::remove(folder_ / made);
  }
}

TEST_F(Ends, AKilledStreamKeepsItsRows) {
  EXPECT_EQ(stalled("KILL").status, 128 + 9);
  EXPECT_EQ(read_trace(folder_ / "t.csv.partial").rows.size(), 8U);
  EXPECT_FALSE(std::filesystem::exists(folder_ / "t.csv"));
  // The next one keeps them too.
  shell("head -c 2000000 clip.y4m | " + kFollow);
  EXPECT_EQ(read_trace(folder_ / "t.csv.partial").rows.size(), 8U);
  EXPECT_TRUE(std::filesystem::exists(folder_ / "t.csv.partial2"));
}

TEST_F(Ends, AStreamWhoseReaderHasGoneKeepsItsRows) {
  const Outcome outcome = shell("set -o pipefail; cat clip.y4m | " + kFollow + " | head -n 2 > few");
  EXPECT_EQ(outcome.status, 128 + 13);
  expect_parts(outcome.err, {"rows are kept in t.csv.partial"});
  EXPECT_EQ(names_in(folder_.path()), (std::set<std::string>{"clip.y4m", "few", "t.csv.partial"}));
}

TEST_F(Ends, WorkThatIsInterruptedLeavesNothing) {
  for (const char* work : {" follow '$1' --tracker corr-plain --overlay seen --stages inner --trace t.csv",
                           " scene steady loops --to made"}) {
    std::string call = kProgram + work;
    if (const auto at = call.find("$1"); at != std::string::npos) call.replace(at, 2, kSteady);
    const Outcome outcome =
        shell(call +
              " & program=$!; until [ -n \"$(find . -name '.*.part' | head -n 1)\" ]; do sleep 0.01; "
              "done; kill -s TERM $program; wait $program");
    EXPECT_EQ(outcome.status, 128 + 15) << outcome.err;
    const std::string left = shell("find . -name '.?*'; ls").out;
    EXPECT_EQ(left.find(".part"), std::string::npos) << left;
    EXPECT_EQ(left.find("seen"), std::string::npos) << left;
  }
}

TEST_F(Ends, OutputsMayBePipesAndDevices) {
  const Outcome outcome = shell(kProgram + " follow " + kSteady +
                                " --tracker corr-plain --to 9 --trace >(wc -l > lines; touch counted)"
                                "; until [ -e counted ]; do sleep 0.02; done; cat lines");
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  EXPECT_NE(outcome.out.find("11\n"), std::string::npos) << outcome.out;
  EXPECT_EQ(shell(kProgram + " follow " + kSteady +
                  " --tracker corr-plain --to 3 --trace /dev/null --review /dev/null")
                .status,
            0);
  EXPECT_TRUE(std::filesystem::is_character_file("/dev/null"));
}

TEST_F(Ends, AFullDiskOnStandardOutputIsAFailure) {
  for (const char* call :
       {"trackers", "trackers --json", "--help", "follow --help",
        "compare $1 --label stay --label corr-plain", "follow $2 --tracker stay --to 5 --trace -",
        "follow $2 --tracker stay --to 5 --json", "export $1 --to text",
        "score --truth $2/truth.csv --trace t.csv"}) {
    write_file(folder_ / "t.csv", "frame,x,y,w,h\n0,1,1,9,9\n");
    const Outcome outcome =
        shell("set -- " + kStudy + " " + kSteady + "; " + kProgram + " " + call + " > /dev/full");
    EXPECT_EQ(outcome.status, 1) << call;
    expect_parts(outcome.err, {"mnemon: standard output cannot be written", "No space left"});
  }
}

TEST_F(Ends, StandardErrorThatCannotBeWrittenChangesNothing) {
  EXPECT_EQ(shell(kProgram + " trackers no-such 2> /dev/full").status, 2);
  EXPECT_EQ(shell(kProgram + " no-such 2> /dev/full").status, 2);
  EXPECT_EQ(shell(kProgram + " follow --box 2>&-").status, 2);
  EXPECT_EQ(shell("cat clip.y4m | " + kFollow + " > rows 2> /dev/full").status, 0);
  EXPECT_EQ(read_trace(folder_ / "t.csv").rows.size(), 8U);
}

TEST_F(Ends, AReaderThatHasSeenEnoughIsNoMessage) {
  const Outcome outcome = shell("set -o pipefail; (sleep 0.3; exec " + kProgram + " trackers --json) | true");
  EXPECT_EQ(outcome.status, 128 + 13);
  EXPECT_EQ(outcome.err, "");
}

TEST_F(Ends, FramesBehindTheLastOneTakenCountUpToTheEnd) {
  // Of a tracker's camera frames are dropped; those before `--to` are rows, whichever of them was the last one taken.
  const Outcome outcome = shell(kProgram + " follow camera:sim:" + kSteady +
                                " --tracker mask-plain --to 33 --overlay seen > rows");
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  const Trace trace = read_trace(folder_ / "rows");
  EXPECT_EQ(trace.rows.back().frame, 33);
  EXPECT_EQ(trace.rows.size(), static_cast<std::size_t>(33 - trace.rows.front().frame + 1));
}

TEST_F(Ends, ACutVideoIsToldAsAFileToo) {
  std::filesystem::resize_file(folder_ / "clip.y4m", std::filesystem::file_size(folder_ / "clip.y4m") - 1000);
  const Outcome outcome =
      mnemon({"follow", "clip.y4m", "--tracker", "stay", "--box", "154,107,50,61"}, folder_.path());
  EXPECT_EQ(outcome.status, 1);
  expect_parts(outcome.err, {"clip.y4m", "frame 7", "end within it"});
}

TEST_F(Ends, AStreamThatIsTooLargeIsTold) {
  for (const char* size : {"W40000 H40000", "W14000 H14000"}) {
    const Outcome outcome = shell("(printf 'YUV4MPEG2 " + std::string(size) +
                                  " F30:1 C444\\nFRAME\\n'; head -c 9999 /dev/zero) | " + kFollow);
    EXPECT_EQ(outcome.status, 1);
    expect_parts(outcome.err, {"standard input:", "frames"});
    EXPECT_EQ(outcome.err.find("busy"), std::string::npos) << outcome.err;
    EXPECT_EQ(outcome.err.find("Invalid argument"), std::string::npos) << outcome.err;
  }
}

TEST_F(Ends, OneSequenceOfASingleFrameEndsNoReport) {
  ASSERT_EQ(
      shell(kProgram + " scene steady loops --set frames=8 --to in && rm in/steady/frames/00000[1-7].jpg && "
                       "head -n 2 in/steady/truth.csv > t && mv t in/steady/truth.csv && mkdir in/empty")
          .status,
      0);
  write_file(folder_ / "plan.toml",
             "format = \"mnemon-plan/1\"\nsequences = [\"in/*\", \"gone\"]\n"
             "protocols = [\"single\", \"restart\", \"live\"]\n[[tracker]]\nname = \"corr-plain\"\n");
  const Outcome bench = mnemon({"bench", "plan.toml", "--out", "study"}, folder_.path());
  EXPECT_EQ(bench.status, 1);
  expect_parts(bench.err, {"6 of 12 runs failed"});
  expect_parts(bench.out,
               {"gone: ", "empty: holds no PNG or JPEG pictures", "corr-plain is the most accurate"});
  const Outcome report = mnemon({"report", "study"}, folder_.path());
  EXPECT_EQ(report.status, 0) << report.err;
  EXPECT_TRUE(std::filesystem::exists(folder_ / "study/report/figures/overlap-steady.svg"));
}

TEST_F(Ends, APipeAmongFramesIsRefused) {
  const Outcome outcome = shell(
      "cp -r " + kSteady +
      "/frames . && last=$(ls frames | tail -n 1) && rm frames/$last && mkfifo frames/$last && timeout 10 " +
      kProgram + " follow frames --tracker stay --box 154,107,50,61");
  EXPECT_EQ(outcome.status, 1);
  expect_parts(outcome.err, {"is a pipe or a device"});
}

TEST_F(Ends, RegionsThatAreNotUsedAreTold) {
  const Outcome outcome = shell("printf '3:10,10,20,20\\n5:154,107,50,61\\n1,2,3,4\\n' | " + kProgram +
                                " follow " + kSteady + " --tracker stay --wait --to 9 --trace t.csv");
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  // The one without a frame comes first.
  EXPECT_EQ(read_trace(folder_ / "t.csv").rows.front().frame, 0);
  expect_parts(outcome.err, {"the region 3:10,10,20,20 came after the first and was not used",
                             "the region 5:154,107,50,61 came after the first and was not used"});
}

}  // namespace mnemon::test
