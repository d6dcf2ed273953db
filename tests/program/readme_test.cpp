// SPDX-License-Identifier: MIT
// Every command of the README is run, and every piece of code in it stands in a file that is built or run.
#include <sstream>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>

#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

namespace fs = std::filesystem;

const fs::path kSource = MNEMON_SOURCE_DIR;

struct Block {
  std::string kind;
  std::string text;
};

std::vector<Block> blocks_of(const std::string& markdown) {
  std::vector<Block> blocks;
  std::istringstream lines(markdown);
  bool inside = false;
  for (std::string line; std::getline(lines, line);) {
    if (line.rfind("```", 0) == 0) {
      inside = !inside;
      if (inside) blocks.push_back({line.substr(3), ""});
    } else if (inside) {
      blocks.back().text += line + "\n";
    }
  }
  return blocks;
}

bool is_make(const std::string& text) { return text.rfind("make ", 0) == 0; }

// A checkout as it is after `make demo`, made of links, in which commands can be run.
void furnish(const fs::path& folder) {
  make_folder(folder / "build/release");
  fs::create_directory_symlink(fs::path(MNEMON_PROGRAM_DIR), folder / "build/release/bin");
  fs::copy(fs::path(MNEMON_DEMO), folder / "demo", fs::copy_options::recursive);
  fs::create_directory_symlink(kSource / "examples", folder / "examples");
}

}  // namespace

TEST(Readme, CommandsAllRun) {
  const TempFolder folder;
  furnish(folder.path());
  int commands = 0;
  for (const Block& block : blocks_of(read_file(kSource / "README.md"))) {
    if (block.kind != "sh" || is_make(block.text)) continue;
    // The desk goes on until somebody ends it.
    std::string text = block.text;
    if (const auto at = text.find("mnemon desk"); at != std::string::npos)
      text.insert(at, "timeout --foreground --preserve-status 3 ");
    const Outcome outcome =
        run_program({"sh", "-ec", "PATH=\"$PWD/build/release/bin:$PATH\"\n" + text}, folder.path());
    EXPECT_EQ(outcome.status, 0) << block.text << outcome.err;
    ++commands;
  }
  EXPECT_GE(commands, 5);
}

TEST(Readme, MakeTargetsAreRunByTheChecks) {
  const std::string checks = read_file(kSource / ".ci/run");
  int targets = 0;
  for (const Block& block : blocks_of(read_file(kSource / "README.md"))) {
    if (block.kind != "sh" || !is_make(block.text)) continue;
    std::istringstream lines(block.text);
    for (std::string line; std::getline(lines, line); ++targets)
      EXPECT_NE(checks.find(line.substr(0, line.find(" #"))), std::string::npos) << line;
  }
  EXPECT_GE(targets, 2);
}

TEST(Readme, CodeStandsInTheExamples) {
  std::string examples;
  for (const auto& entry : fs::recursive_directory_iterator(kSource / "examples"))
    if (entry.is_regular_file()) examples += read_file(entry.path());
  int pieces = 0;
  for (const Block& block : blocks_of(read_file(kSource / "README.md"))) {
    if (block.kind != "cpp" && block.kind != "cmake") continue;
    EXPECT_NE(examples.find(block.text), std::string::npos) << block.text;
    ++pieces;
  }
  EXPECT_GE(pieces, 2);
}

TEST(Readme, PicturesAndLinksAreThere) {
  const std::string text = read_file(kSource / "README.md");
  int links = 0;
  for (auto at = text.find("]("); at != std::string::npos; at = text.find("](", at + 1)) {
    const std::string target = text.substr(at + 2, text.find(')', at) - at - 2);
    if (target.rfind("http", 0) == 0 || target.rfind('#', 0) == 0) continue;
    EXPECT_TRUE(fs::exists(kSource / target.substr(0, target.find('#')))) << target;
    ++links;
  }
  EXPECT_GE(links, 6);
}

}  // namespace mnemon::test
