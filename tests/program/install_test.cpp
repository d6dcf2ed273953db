// SPDX-License-Identifier: MIT
// The library as another project gets it: installed, found by find_package, and used by the examples.
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/small_demo.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

namespace fs = std::filesystem;

void expect_done(const Outcome& outcome) { ASSERT_EQ(outcome.status, 0) << outcome.out << outcome.err; }

}  // namespace

TEST(InstalledPackage, BuildsAndRunsTheExamplesOutsideTheTree) {
  const TempFolder folder;
  const std::string installed = (folder / "installed").string();
  expect_done(run_program({"cmake", "--install", MNEMON_BUILD_DIR, "--prefix", installed}));
  fs::copy(fs::path(MNEMON_SOURCE_DIR) / "examples", folder / "examples");
  expect_done(run_program({"cmake", "-S", (folder / "examples").string(), "-B", (folder / "built").string(),
                           "-DCMAKE_PREFIX_PATH=" + installed, "-DCMAKE_BUILD_TYPE=Release"}));
  expect_done(run_program({"cmake", "--build", (folder / "built").string(), "-j2"}));

  const fs::path kites = fs::path(MNEMON_DEMO) / "kites";
  const Outcome one = run_program(
      {(folder / "built/follow_one").string(), (kites / "steady").string(), "168", "102", "49", "58"});
  expect_done(one);
  expect_parts(one.out, {"frame 1: at (", "frame 149: at (", "confidence"});
  EXPECT_EQ(run_program({(folder / "built/follow_one").string()}).status, 2);

  render_small(folder.path(), "steady", 12);
  const fs::path plan = write_plan(
      folder.path(), "[[tracker]]\nname = \"reddest\"\nset = { reach_px = 3 }\n" + std::string(kOneTracker));
  const Outcome own =
      run_program({(folder / "built/own_tracker").string(), plan.string(), (folder / "study").string()});
  expect_done(own);
  expect_parts(own.out, {"reddest", "corr-plain", "success area"});

  expect_parts(run_program({installed + "/bin/mnemon", "trackers"}).out, {"corr-plain"});
}

}  // namespace mnemon::test
