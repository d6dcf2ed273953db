// SPDX-License-Identifier: MIT
#include <mnemon/run/process/child.hpp>

#include <chrono>
#include <csignal>
#include <fstream>
#include <string>
#include <thread>

#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

using test::TempFolder;

Child::Deadline soon() { return std::chrono::steady_clock::now() + std::chrono::seconds(10); }

std::vector<std::string> shell(const std::string& text) { return {"sh", "-c", text}; }

bool is_alive(pid_t process) { return ::kill(process, 0) == 0; }

// Whether a process is gone within some seconds.
bool goes(pid_t process) {
  for (int i = 0; i < 500 && is_alive(process); ++i)
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  return !is_alive(process);
}

std::string message_of_line(const std::string& text) {
  Child child(shell(text), ".", {});
  return test::message_of<Error>([&] { (void)child.read_line(soon()); });
}

}  // namespace

TEST(Child, IsSpokenToByLines) {
  const TempFolder folder;
  Child child(shell("read a; echo \"you said $a\"; read b; echo $b; pwd"), folder.path(), {});
  child.write_line("hello 'there' $HOME", soon());
  EXPECT_EQ(child.read_line(soon()), "you said hello 'there' $HOME");
  child.write_line("again", soon());
  EXPECT_EQ(child.read_line(soon()), "again");
  EXPECT_EQ(std::filesystem::canonical(child.read_line(soon())), std::filesystem::canonical(folder.path()));
}

// More than any pipe holds, either way at once.
TEST(Child, TakesAndGivesLongLines) {
  Child child({"cat"}, ".", {});
  const std::string line(3 << 20, 'y');
  child.write_line(line, soon());
  EXPECT_EQ(child.read_line(soon()), line);
}

TEST(Child, SaysHowItEnded) {
  test::expect_parts(message_of_line("exit 3"), {"'sh' ended with status 3"});
  test::expect_parts(message_of_line("kill -9 $$"), {"was ended by signal 9"});
  test::expect_parts(message_of_line("exec >&-; sleep 60"), {"closed its standard output"});
  test::expect_parts(test::message_of<CallError>([] { (void)Child({"no-such-program"}, ".", {}); }),
                     {"no program 'no-such-program'"});
  test::expect_parts(test::message_of<CallError>([] { (void)Child({"sh"}, "/no/such/folder", {}); }),
                     {"no folder /no/such/folder"});
  test::expect_parts(test::message_of<CallError>([] { (void)Child({}, ".", {}); }), {"names no program"});
}

TEST(Child, IsReadToItsEndWhereItTakesNothingMore) {
  Child child(shell("exec <&-; echo closed; echo last words"), ".", {});
  EXPECT_EQ(child.read_line(soon()), "closed");
  child.write_line("nobody reads this", soon());
  EXPECT_EQ(child.read_line(soon()), "last words");
  const auto message = test::message_of<Error>([&] { child.write_line("nor this", soon()); });
  test::expect_parts(message, {"'sh' ended with status 0"});
}

TEST(Child, IsNotWaitedForLongerThanAskedFor) {
  Child child(shell("sleep 60"), ".", {});
  const auto before = std::chrono::steady_clock::now();
  const auto message =
      test::message_of<Error>([&] { (void)child.read_line(before + std::chrono::milliseconds(100)); });
  test::expect_parts(message, {"did not answer in time"});
  EXPECT_LT(std::chrono::steady_clock::now() - before, std::chrono::seconds(5));
}

TEST(Child, KeepsTheEndOfItsLog) {
  Child child(shell("for i in $(seq 5000); do echo \"note $i\" >&2; done; echo done; read a"), ".", {});
  EXPECT_EQ(child.read_line(soon()), "done");
  const std::string log = child.log_tail();
  EXPECT_TRUE(log.ends_with("note 5000")) << log;
  EXPECT_LE(log.size(), 2000U);
}

TEST(Child, StaysWithinItsMemory) {
  Child child(shell("ulimit -v"), ".", {.memory_mb = 512});
  EXPECT_EQ(child.read_line(soon()), std::to_string(512 * 1024));
  Child free(shell("ulimit -v"), ".", {});
  EXPECT_EQ(free.read_line(soon()), "unlimited");
}

TEST(Child, TellsTheMostMemoryItTook) {
  Child child(shell("echo there; read a"), ".", {});
  (void)child.read_line(soon());
  const auto peak = child.peak_bytes();
  ASSERT_TRUE(peak);
  EXPECT_GT(*peak, 1e5);
  EXPECT_LT(*peak, 1e9);
}

TEST(Child, EndsByItselfWhereItIsLet) {
  const TempFolder folder;
  Child child(shell("cat > /dev/null; sleep 0.1; touch ended"), folder.path(), {});
  child.end(std::chrono::seconds(10));
  EXPECT_TRUE(std::filesystem::exists(folder / "ended"));
}

// The child, one that it started, and one that made itself independent.
TEST(Child, LeavesNoProcessBehind) {
  std::vector<pid_t> all;
  {
    Child child(shell("sleep 300 & echo $!; setsid sleep 300 & echo $!; echo $$; sleep 300"), ".", {});
    for (int i = 0; i < 3; ++i) all.push_back(std::stoi(child.read_line(soon())));
    for (const pid_t process : all) EXPECT_TRUE(is_alive(process));
  }
  for (const pid_t process : all) EXPECT_TRUE(goes(process)) << process;
}

// Even where the program that started it is killed.
TEST(Child, DiesWithItsHost) {
  const TempFolder folder;
  const pid_t host = ::fork();
  if (host == 0) {
    Child child(shell("echo $$ > number; mv number number.whole; trap '' TERM HUP; sleep 300"), folder.path(),
                {});
    ::pause();
    ::_exit(0);
  }
  pid_t process = 0;
  for (int i = 0; i < 1000 && process == 0; ++i) {
    std::ifstream(folder / "number.whole") >> process;
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  }
  ASSERT_GT(process, 0);
  EXPECT_TRUE(is_alive(process));
  ::kill(host, SIGKILL);
  ::waitpid(host, nullptr, 0);
  EXPECT_TRUE(goes(process));
}

}  // namespace mnemon
