// SPDX-License-Identifier: MIT
#include <atomic>
#include <fstream>
#include <stdexcept>
#include <thread>
#include <vector>

#include <gtest/gtest.h>
#include <sys/stat.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {

using test::message_of;
using test::names_in;
using test::TempFolder;

TEST(WriteFile, MakesFoldersAndReadsBack) {
  const TempFolder folder;
  const std::string text("a\0b\n", 4);
  write_file(folder / "deep/er/file", text);
  EXPECT_EQ(read_file(folder / "deep/er/file"), text);
  EXPECT_EQ(names_in(folder / "deep/er"), std::set<std::string>{"file"});
}

TEST(WriteFile, KeepsWhatWasThereWhereItFails) {
  const TempFolder folder;
  write_file(folder / "file", "before");
  std::filesystem::create_directory(folder / "other");
  message_of<DataError>([&] { write_file(folder / "other", "x"); });
  message_of<DataError>([&] { write_file(folder / "file/below", "x"); });
  EXPECT_EQ(read_file(folder / "file"), "before");
  EXPECT_EQ(names_in(folder.path()), (std::set<std::string>{"file", "other"}));
}

TEST(ReadFile, SaysWhatIsWrong) {
  const TempFolder folder;
  test::expect_parts(message_of<DataError>([&] { (void)read_file(folder / "no"); }),
                     {"no", "there is no such file"});
  test::expect_parts(message_of<DataError>([&] { (void)read_file(folder.path()); }), {"is a folder"});
  write_file(folder / "empty", "");
  EXPECT_EQ(read_file(folder / "empty"), "");
}

TEST(ReadFile, ReadsAPipeWhoseSizeNobodyTells) {
  const TempFolder folder;
  ASSERT_EQ(::mkfifo((folder / "pipe").c_str(), 0600), 0);
  std::string text(200'001, '.');  // more than a first guess
  for (std::size_t i = 0; i < text.size(); ++i) text[i] = static_cast<char>(i * i >> 3);
  std::thread writer([&] { std::ofstream(folder / "pipe", std::ios::binary) << text; });
  const std::string read = read_file(folder / "pipe");
  writer.join();
  EXPECT_EQ(read, text);
}

TEST(WriteFile, FollowsLinks) {
  const TempFolder folder;
  write_file(folder / "real/file", "before");
  std::filesystem::create_symlink("real/file", folder / "link");
  std::filesystem::create_symlink("link", folder / "second");
  write_file(folder / "second", "after");
  EXPECT_EQ(read_file(folder / "real/file"), "after");
  EXPECT_TRUE(std::filesystem::is_symlink(folder / "link"));
  std::filesystem::create_symlink("real/new", folder / "dangling");
  write_file(folder / "dangling", "new");
  EXPECT_EQ(read_file(folder / "real/new"), "new");
  EXPECT_EQ(names_in(folder / "real"), (std::set<std::string>{"file", "new"}));
}

TEST(WriteFile, RefusesACircleOfLinks) {
  const TempFolder folder;
  std::filesystem::create_symlink("b", folder / "a");
  std::filesystem::create_symlink("a", folder / "b");
  test::expect_parts(message_of<DataError>([&] { write_file(folder / "a", "x"); }), {"circle"});
}

TEST(WriteFile, WritesIntoAPipeAndADevice) {
  const TempFolder folder;
  ASSERT_EQ(::mkfifo((folder / "pipe").c_str(), 0600), 0);
  std::string read;
  std::thread reader([&] { read = read_file(folder / "pipe"); });
  write_file(folder / "pipe", "through");
  reader.join();
  EXPECT_EQ(read, "through");
  EXPECT_TRUE(std::filesystem::is_fifo(folder / "pipe"));
  write_file("/dev/null", "nothing");
  EXPECT_TRUE(std::filesystem::is_character_file("/dev/null"));
  EXPECT_EQ(names_in(folder.path()), std::set<std::string>{"pipe"});
  message_of<DataError>([&] { write_file("/dev/full", "x"); });
}

TEST(ScratchFolder, GoesAwayWithItsObject) {
  const TempFolder folder;
  {
    const ScratchFolder scratch(folder / "in");
    write_file(scratch.path() / "deep/file", "x");
    EXPECT_EQ(scratch.path().parent_path(), folder / "in");
  }
  EXPECT_TRUE(names_in(folder / "in").empty());
}

TEST(NewFolder, AppearsOnlyWhenFinished) {
  const TempFolder folder;
  NewFolder made(folder / "made");
  write_file(made.path() / "a", "1");
  EXPECT_FALSE(std::filesystem::exists(folder / "made"));
  made.finish();
  EXPECT_EQ(names_in(folder.path()), std::set<std::string>{"made"});
  EXPECT_EQ(read_file(folder / "made/a"), "1");
}

TEST(NewFolder, LeavesNothingWhereItIsGivenUp) {
  const TempFolder folder;
  {
    NewFolder made(folder / "made/");
    write_file(made.path() / "a", "1");
  }
  EXPECT_TRUE(names_in(folder.path()).empty());
}

TEST(NewFolder, DoesNotTouchWhatIsThere) {
  const TempFolder folder;
  write_file(folder / "made/mine", "1");
  test::expect_parts(message_of<CallError>([&] { const NewFolder made(folder / "made"); }),
                     {"made", "not empty"});
  EXPECT_EQ(names_in(folder.path()), std::set<std::string>{"made"});
}

TEST(NewFolder, ReplacesOnlyWhatItMay) {
  const TempFolder folder;
  write_file(folder / "made/000001.png", "1");
  write_file(folder / "made/stage/000001.png", "1");
  const auto replace = [&] {
    NewFolder made(folder / "made", Replace::if_only_numbered_pictures());
    write_file(made.path() / "000002.png", "2");
    made.finish();
  };
  replace();
  EXPECT_EQ(names_in(folder / "made"), std::set<std::string>{"000002.png"});
  EXPECT_EQ(names_in(folder.path()), std::set<std::string>{"made"});
  write_file(folder / "made/mine.txt", "1");
  message_of<CallError>(replace);
  EXPECT_EQ(names_in(folder / "made"), (std::set<std::string>{"000002.png", "mine.txt"}));
  { const NewFolder given_up(folder / "made", Replace::if_only_of({"000002.png", "mine.txt"})); }
  EXPECT_EQ(names_in(folder / "made"), (std::set<std::string>{"000002.png", "mine.txt"}));
}

TEST(ForEachIndex, CallsEachOnceOnAnyNumberOfThreads) {
  for (const int jobs : {0, 1, 2, 7}) {
    std::vector<std::atomic<int>> calls(500);
    for_each_index(500, jobs, [&](int i) { ++calls[i]; });
    for (const auto& count : calls) EXPECT_EQ(count, 1);
  }
}

TEST(ForEachIndex, PassesOnWhatIsThrown) {
  for (const int jobs : {1, 2})
    EXPECT_THROW(for_each_index(50, jobs,
                                [](int i) {
                                  if (i == 20) throw std::runtime_error("x");
                                }),
                 std::runtime_error);
}

TEST(CoreCount, IsAtLeastOne) { EXPECT_GE(core_count(), 1); }

}  // namespace mnemon
