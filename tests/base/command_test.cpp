// SPDX-License-Identifier: MIT
#include <mnemon/base/command.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

TEST(RunCommand, GivesStatusAndWhatWasSaid) {
  const CommandResult said = run_command({"sh", "-c", "echo out; echo err >&2; exit 3"});
  EXPECT_EQ(said.status, 3);
  test::expect_parts(said.output, {"out\n", "err\n"});
  EXPECT_EQ(run_command({"sh", "-c", "kill -9 $$"}).status, 128 + 9);
  EXPECT_EQ(run_command({"cat"}).output, "");  // nothing comes in
}

TEST(RunCommand, HandsWordsOverAsTheyAre) {
  EXPECT_EQ(run_command({"printf", "%s|", "a b", "$(id)", "'", ""}).output, "a b|$(id)|'||");
  const test::TempFolder folder;
  EXPECT_EQ(run_command({"pwd"}, folder.path()).output, folder.path().string() + "\n");
}

TEST(RunCommand, BoundsWhatIsKept) {
  const CommandResult much = run_command({"head", "-c", "3000000", "/dev/zero"});
  EXPECT_EQ(much.status, 0);
  EXPECT_LT(much.output.size(), 1'100'000U);
}

TEST(RunCommand, SaysThatThereIsNoSuchProgram) {
  test::expect_parts(test::message_of<Error>([] { (void)run_command({"no-such-program"}); }),
                     {"'no-such-program' cannot be run"});
}

// What a shell makes of the word is the text again.
TEST(ShellWord, QuotesWhatAShellWouldRead) {
  EXPECT_EQ(shell_word("demo/kites_1.mp4"), "demo/kites_1.mp4");
  EXPECT_EQ(shell_word("a b"), "'a b'");
  EXPECT_EQ(shell_word("it's $(rm) `x`"), "'it'\\''s $(rm) `x`'");
  EXPECT_EQ(shell_word(""), "''");
  for (const char* text : {"plain", "a b", "it's $(rm) `x`", "", "line\nend", "\\"})
    EXPECT_EQ(run_command({"sh", "-c", "printf %s " + shell_word(text)}).output, text);
}

}  // namespace
}  // namespace mnemon
