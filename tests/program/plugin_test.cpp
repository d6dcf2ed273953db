// SPDX-License-Identifier: MIT
// Trackers that come with a shared library.
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/study.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

const std::string kSteady = MNEMON_DEMO "/kites/steady";
const std::string kPlugin = MNEMON_BUILD_DIR "/examples/reddest.so";

std::string message(int status, const std::string& plugin, const TempFolder& folder) {
  const Outcome outcome = mnemon({"trackers", "--plugin", plugin}, folder.path());
  EXPECT_EQ(outcome.status, status) << outcome.out;
  return outcome.err;
}

}  // namespace

TEST(Plugin, AddsItsTrackersToEveryCommand) {
  const TempFolder folder;
  expect_parts(mnemon({"trackers", "--plugin", kPlugin}, folder.path()).out, {"corr-plain", "reddest"});
  expect_parts(mnemon({"trackers", "reddest", "--plugin", kPlugin}, folder.path()).out,
               {"reach_px", "1 to 64 px"});
  const Outcome followed = mnemon(
      {"follow", kSteady, "--plugin", kPlugin, "--tracker", "reddest", "--set", "reach_px=3", "--to", "9"},
      folder.path());
  EXPECT_EQ(followed.status, 0) << followed.err;
  expect_parts(followed.out, {"reddest on steady: frames 0 to 9"});
  expect_parts(
      mnemon({"follow", kSteady, "--plugin", kPlugin, "--tracker", "reddest", "--set", "reach_px=999"},
             folder.path())
          .err,
      {"reach_px", "1 to 64"});
}

TEST(Plugin, IsNamedByPlans) {
  const TempFolder folder;
  std::filesystem::copy(kPlugin, folder / "mine.so");
  write_file(folder / "plan.toml",
             "format = \"mnemon-plan/1\"\nplugins = [\"mine.so\"]\nsequences = [\"" + kSteady +
                 "\"]\n[protocol.single]\ntimed = false\n[[tracker]]\nname = \"reddest\"\n");
  const auto bench = [&] { return mnemon({"bench", "plan.toml", "--out", "study"}, folder.path()); };
  EXPECT_EQ(bench().status, 0);
  EXPECT_EQ(read_study(folder / "study").runs.size(), 1U);
  expect_parts(bench().out, {"0 runs made, 1 kept"});
  // Another file is another tracker.
  std::string bytes = read_file(kPlugin);
  write_file(folder / "mine.so", bytes + "x");
  expect_parts(bench().out, {"1 runs made, 0 kept"});
  write_file(folder / "plan.toml", read_file(folder / "plan.toml") + "label = \"apart\"\nisolated = true\n");
  expect_parts(bench().err, {"'reddest' cannot be isolated"});
}

TEST(Plugin, SaysWhatIsWrongWithIt) {
  const TempFolder folder;
  expect_parts(message(2, "none.so", folder), {"none.so", "no such plug-in"});
  write_file(folder / "text.so", "not a library");
  expect_parts(message(1, "text.so", folder), {"cannot be loaded", "text.so"});
  expect_parts(message(1, MNEMON_OTHER_PLUGIN, folder),
               {"was built for another program", "Mnemon 0.0.0", "This program: Mnemon"});
  const Outcome twice = mnemon({"trackers", "--plugin", kPlugin, "--plugin", kPlugin}, folder.path());
  EXPECT_EQ(twice.status, 2);
  expect_parts(twice.err, {"there is a tracker 'reddest' already"});
}

// It exports its one function, and takes what it needs of the library from the program.
TEST(Plugin, BringsNoCopyOfTheLibrary) {
  const TempFolder folder;
  const Outcome defined = run_program({"nm", "-D", "--defined-only", kPlugin}, folder.path());
  EXPECT_EQ(defined.status, 0);
  expect_parts(defined.out, {" T mnemon_plugin_1"});
  EXPECT_EQ(defined.out.find("6mnemon"), std::string::npos) << defined.out;
  const Outcome needed = run_program({"nm", "-D", "--undefined-only", kPlugin}, folder.path());
  expect_parts(needed.out, {"_ZN6mnemon9Catalogue3add", "_ZN6mnemon"});
}

}  // namespace mnemon::test
