// SPDX-License-Identifier: MIT
#include <mnemon/study/slurm.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/temp_folder.hpp"

namespace mnemon {

TEST(SlurmRequest, RefusesWhatIsOutOfRange) {
  EXPECT_NO_THROW(SlurmRequest{}.check());
  const auto refuses = [](int SlurmRequest::*member, int value) {
    SlurmRequest request;
    request.*member = value;
    EXPECT_THROW(request.check(), CallError) << value;
  };
  refuses(&SlurmRequest::shards, 0);
  refuses(&SlurmRequest::shards, 100001);
  refuses(&SlurmRequest::memory_mb, 0);
  refuses(&SlurmRequest::tries, 0);
}

// A line of the script's header must not become a command.
TEST(SlurmRequest, RefusesLinesThatEndTheHeader) {
  SlurmRequest request;
  request.lines = {"--account=lab\nrm -r everything"};
  EXPECT_THROW(request.check(), CallError);
  request.lines = {"--account=lab"};
  EXPECT_NO_THROW(request.check());
}

TEST(ShardState, SaysNothingOfAFileThatIsNone) {
  const test::TempFolder folder;
  EXPECT_EQ(shard_state(folder / "1-of-2.sqlite").planned, 0);
  write_file(folder / "1-of-2.sqlite", "half a file");
  const ShardState state = shard_state(folder / "1-of-2.sqlite");
  EXPECT_EQ(state.planned, 0);
  EXPECT_EQ(state.made, 0);
  EXPECT_TRUE(state.finished_by.empty());
}

}  // namespace mnemon
