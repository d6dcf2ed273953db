// SPDX-License-Identifier: MIT
#include <mnemon/study/folder_lock.hpp>

#include <filesystem>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>

#include "study/study_on_disk.hpp"
#include "support/messages.hpp"
#include "support/small_demo.hpp"

namespace mnemon {
namespace {

using test::kOneTracker;
using test::message_of;

class StudyLocked : public test::StudyOnDisk {};

}  // namespace

TEST_F(StudyLocked, IsOneWritersAtATime) {
  const StudyWriter first(folder_ / "study");
  EXPECT_TRUE(first.keeps_others_out());
  test::expect_parts(message_of<Error>([&] { run(kOneTracker); }),
                     {"another program is running a plan into this study", "process", "since 20"});
}

TEST_F(StudyLocked, IsFreeAgainOnceItsWriterIsDone) {
  run(kOneTracker);
  EXPECT_FALSE(std::filesystem::exists(folder_ / "study/study.lock"));
  write_file(folder_ / "study/study.lock", "process 1 on a machine that lost its power");  // left behind
  EXPECT_EQ(run(kOneTracker).kept, 2);
}

}  // namespace mnemon
