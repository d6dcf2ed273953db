// SPDX-License-Identifier: MIT
#include <mnemon/study/executor.hpp>

#include <algorithm>
#include <chrono>
#include <mutex>
#include <stdexcept>
#include <string>
#include <thread>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/sequence/trace.hpp>

namespace mnemon {
namespace {

constexpr int kFramesMade = 12;

Image<Byte> picture(int frame) {
  Image<Byte> rgb(36, 64, 3);
  for (int r = 10; r < 20; ++r)
    for (int c = 10 + frame; c < 22 + frame; ++c) rgb(r, c, 0) = 250;
  return rgb;
}

// Frames out of nothing, with a red square that moves to the right.
BenchSequence made(const std::string& name) {
  BenchSequence bench;
  bench.study.name = name;
  bench.study.frames = kFramesMade;
  for (int i = 0; i < kFramesMade; ++i)
    bench.study.truth.rows.push_back({i, {{10.0 + i, 10, 12, 10}, 0}, true, 1, {}});
  bench.open = [truth = bench.study.truth] {
    OpenSequence open;
    open.facts.truth = truth;
    open.frames = {kFramesMade, {64, 36}, 30, picture, {}};
    return open;
  };
  return bench;
}

BenchSequence unreadable(const std::string& name) {
  BenchSequence bench = made(name);
  bench.open = []() -> OpenSequence { throw DataError({"b/sequence.toml"}, "is damaged"); };
  return bench;
}

class Execution : public ::testing::Test {
 protected:
  Execution() {
    for (const char* name : {"stay", "shift-fixed"})
      plan_.trackers.push_back({name, name, {}, 1, "", {}, {}, {}, {}});
    plan_.protocols.push_back(make_protocol("single", {{"timed", false}}));
    plan_.protocols.push_back(make_protocol("starts"));
  }

  [[nodiscard]] std::vector<Job> jobs() {
    for (BenchSequence& sequence : sequences_)
      if (sequence.starts.empty()) count_starts(plan_, sequence);
    return list_jobs(plan_, catalogue_, sequences_).jobs;
  }

  // Name of the sequence and trace of each run, as they were handed over.
  std::vector<std::string> execute_on(int threads) {
    std::vector<std::string> done;
    execute(jobs(), catalogue_, {threads, {}, {}}, [&](const Job& job, const StudyRun& run, const Ground&) {
      done.push_back(job.sequence->study.name + " " + job.tracker->name + " " + run.failure +
                     trace_text(run.trace));
    });
    return done;
  }

  Catalogue catalogue_ = Catalogue::standard();
  Plan plan_;
  std::vector<BenchSequence> sequences_;
};

}  // namespace

TEST_F(Execution, WorksOffEachSequenceByItself) {
  sequences_ = {made("a"), made("b")};
  const std::vector<std::string> done = execute_on(2);
  ASSERT_EQ(done.size(), jobs().size());
  for (std::size_t i = 0; i < done.size(); ++i) EXPECT_EQ(done[i][0], i < done.size() / 2 ? 'a' : 'b') << i;
}

TEST_F(Execution, GivesTheSameRunsOnAnyNumberOfThreads) {
  sequences_ = {made("a"), made("b")};
  std::vector<std::string> one = execute_on(1);
  std::vector<std::string> three = execute_on(3);
  std::ranges::sort(one);
  std::ranges::sort(three);
  EXPECT_EQ(one, three);
  EXPECT_NE(one.front().find(",1,"), std::string::npos);  // they have rows at all
}

TEST_F(Execution, FailsTheRunsOfASequenceThatCannotBeOpenedAndGoesOn) {
  sequences_ = {unreadable("a"), made("b")};
  int failed = 0;
  int scored = 0;
  execute(jobs(), catalogue_, {2, {}, {}}, [&](const Job& job, const StudyRun& run, const Ground&) {
    if (job.sequence == sequences_.data()) {
      ++failed;
      EXPECT_EQ(run.failure, "b/sequence.toml: is damaged");
    } else {
      EXPECT_EQ(run.failure, "");
      scored += run.score && run.score->success_area ? 1 : 0;
    }
  });
  EXPECT_EQ(failed, scored);
  EXPECT_EQ(failed + scored, static_cast<int>(jobs().size()));
}

TEST_F(Execution, HandsRunsOverOneAtATime) {
  sequences_ = {made("a")};
  std::mutex busy;
  execute(jobs(), catalogue_, {4, {}, {}}, [&](const Job&, const StudyRun&, const Ground&) {
    const std::unique_lock held(busy, std::try_to_lock);
    EXPECT_TRUE(held.owns_lock());
    std::this_thread::sleep_for(std::chrono::milliseconds(2));
  });
}

TEST_F(Execution, EndsWhereRunsCannotBeTaken) {
  sequences_ = {made("a"), made("b")};
  int taken = 0;
  const auto take = [&](const Job&, const StudyRun&, const Ground&) {
    ++taken;
    throw std::runtime_error("no room");
  };
  EXPECT_THROW(execute(jobs(), catalogue_, {1, {}, {}}, take), std::runtime_error);
  EXPECT_LT(taken, static_cast<int>(jobs().size()));
}

TEST_F(Execution, SumsUpTheTimeOfWhatItDid) {
  sequences_ = {made("a")};
  plan_.protocols = {make_protocol("single")};
  const WorkTimes times =
      execute(jobs(), catalogue_, {1, {}, {}}, [](const Job&, const StudyRun& run, const Ground&) {
        EXPECT_TRUE(run.timed);
        EXPECT_TRUE(run.trace.rows.back().step_ms);
      });
  EXPECT_GT(times.timed_ms, 0);
  EXPECT_EQ(times.work_ms, 0);
}

}  // namespace mnemon
