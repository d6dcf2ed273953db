// SPDX-License-Identifier: MIT
// Trackers in other processes, as a user runs them: the examples, the program's own, and what is left when it is killed.
#include <chrono>
#include <csignal>
#include <fstream>
#include <string>
#include <thread>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/study/study.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

namespace fs = std::filesystem;

const std::string kSteady = MNEMON_DEMO "/kites/steady";
const std::string kProgram = MNEMON_PROGRAM_DIR "/mnemon";
const std::string kExamples = MNEMON_SOURCE_DIR "/examples/";

Outcome follow_by(const std::string& command, const TempFolder& folder, std::vector<std::string> more = {}) {
  std::vector<std::string> call{"follow", kSteady, "--command", command, "--to", "12", "--trace", "t.csv"};
  call.insert(call.end(), more.begin(), more.end());
  return mnemon(call, folder.path());
}

double mean_overlap(const fs::path& trace) {
  const Truth truth = read_truth(kSteady + "/truth.csv");
  double sum = 0;
  const Trace followed = read_trace(trace);
  for (const TraceRow& row : followed.rows) sum += overlap(truth.find(row.frame)->box, row.box);
  return sum / static_cast<double>(followed.rows.size());
}

}  // namespace

TEST(Process, FollowsWithoutAnyPackage) {
  const TempFolder folder;
  const Outcome outcome =
      follow_by("/usr/bin/python3 '" + kExamples + "reddest.py'", folder, {"--set", "reach=0.4"});
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"reddest.py on steady: frames 0 to 12"});
  EXPECT_GT(mean_overlap(folder / "t.csv"), 0.6);
}

TEST(Process, FollowsInNumPyAndShowsItsStages) {
  const TempFolder folder;
  const Outcome outcome =
      follow_by("/usr/bin/python3 " + kExamples + "look_alike.py", folder, {"--stages", "inner"});
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  EXPECT_GT(mean_overlap(folder / "t.csv"), 0.6);
  EXPECT_EQ(names_in(folder / "inner/response").size(), 13U);
}

TEST(Process, IsAsTheTrackerThatItServes) {
  const TempFolder folder;
  ASSERT_EQ(follow_by(kProgram + " process mask-plain", folder, {"--set", "smoothness=3"}).status, 0);
  const Trace apart = read_trace(folder / "t.csv");
  ASSERT_EQ(mnemon({"follow", kSteady, "--tracker", "mask-plain", "--set", "smoothness=3", "--to", "12",
                    "--trace", "here.csv"},
                   folder.path())
                .status,
            0);
  const Trace here = read_trace(folder / "here.csv");
  ASSERT_EQ(apart.rows.size(), here.rows.size());
  for (std::size_t i = 0; i < here.rows.size(); ++i) {
    EXPECT_EQ(apart.rows[i].box, here.rows[i].box);
    EXPECT_EQ(apart.rows[i].confidence, here.rows[i].confidence);
    EXPECT_EQ(apart.rows[i].minor_px, here.rows[i].minor_px);
  }
}

TEST(Process, SaysWhatWentWrong) {
  const TempFolder folder;
  const auto message = [&](int status, const std::string& command, std::vector<std::string> more = {}) {
    const Outcome outcome = follow_by(command, folder, more);
    EXPECT_EQ(outcome.status, status) << outcome.out;
    EXPECT_TRUE(names_in(folder.path()).empty());
    return outcome.err;
  };
  expect_parts(message(2, "no-such-program"), {"no program 'no-such-program'"});
  expect_parts(message(2, "  "), {"names no program"});
  expect_parts(message(2, "sh -c 'x"), {"does not end"});
  expect_parts(message(2, "cat", {"--tracker", "stay"}), {"--command brings its own tracker"});
  expect_parts(message(2, "cat", {"--set", "reach"}), {"--set reach"});
  expect_parts(message(1, "sh -c 'echo no model here >&2; exit 4'"), {"begin", "status 4", "no model here"});
  expect_parts(message(1, "sh -c 'echo ready; cat'"), {"ready", "log belongs on standard error"});
  expect_parts(message(1, kProgram + " process corr-plain", {"--set", "padding=77"}), {"padding", "77"});
  // Nothing of a command is seen by a shell.
  expect_parts(message(1, "echo $(touch here) ; touch there"), {"log belongs on standard error"});
}

TEST(Process, IsServedToProgramsAlone) {
  const TempFolder folder;
  const Outcome odd = run_program({"sh", "-c", "echo hello | " + kProgram + " process stay"}, folder.path());
  EXPECT_EQ(odd.status, 1);
  expect_parts(odd.err, {"no call in JSON: hello"});
  const Outcome early = run_program(
      {"sh", "-c", "echo '{\"id\":3,\"method\":\"follow\",\"params\":{}}' | " + kProgram + " process stay"},
      folder.path());
  expect_parts(early.out, {"\"id\":3", "'begin' comes first"});
  EXPECT_EQ(mnemon({"process", "corr-plane"}, folder.path()).status, 2);
}

TEST(Process, RunsThePlansTrackersApart) {
  const TempFolder folder;
  write_file(folder / "plan.toml",
             "format = \"mnemon-plan/1\"\nsequences = [\"" + kSteady +
                 "\"]\nprotocols = [\"restart\"]\n[[tracker]]\nname = \"shift-fixed\"\n[[tracker]]\nname = "
                 "\"shift-fixed\"\nlabel = \"apart\"\nisolated = true\nmemory_limit_mb = 4000\n");
  const Outcome outcome = mnemon({"bench", "plan.toml", "--out", "study"}, folder.path());
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  const Study study = read_study(folder / "study");
  ASSERT_EQ(study.runs.size(), 2U);
  EXPECT_EQ(study.runs[0].score->success_area, study.runs[1].score->success_area);
  EXPECT_TRUE(study.trackers[1].is_process());
}

// However the program ends, what it started ends too.
TEST(Process, IsNotLeftBehind) {
  const TempFolder folder;
  write_file(folder / "slow.sh", "echo $$ > number; mv number number.whole; exec sleep 300\n");
  const std::string call =
      kProgram + " follow " + kSteady +
      " --command 'sh slow.sh' & program=$!; "
      "while [ ! -e number.whole ]; do sleep 0.02; done; kill -9 $program; wait $program";
  static_cast<void>(run_program({"sh", "-c", call}, folder.path()));
  pid_t process = 0;
  std::ifstream(folder / "number.whole") >> process;
  ASSERT_GT(process, 0);
  bool is_alive = true;
  for (int i = 0; i < 500 && is_alive; ++i) {
    is_alive = ::kill(process, 0) == 0;
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  }
  EXPECT_FALSE(is_alive);
}

}  // namespace mnemon::test
