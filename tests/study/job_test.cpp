// SPDX-License-Identifier: MIT
#include <mnemon/study/job.hpp>

#include <map>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

constexpr int kClosedFrames = 100;

// That of every sequence here.
Truth closed_truth() {
  Truth truth;
  for (int i = 0; i < kClosedFrames; ++i) truth.rows.push_back({i, {{5, 5, 10, 10}, 0}, true, 1, {}});
  return truth;
}

// A sequence that nobody may open: listing jobs reads no frame.
BenchSequence closed(const std::string& name) {
  BenchSequence bench;
  bench.study.name = name;
  bench.study.frames = kClosedFrames;
  bench.open = []() -> OpenSequence { throw Error("was opened"); };
  return bench;
}

BenchSequence generated() {
  BenchSequence bench = closed("steady.gust-1.1");
  bench.study.stress = {"steady", "gust", 1, 1};
  return bench;
}

PlannedTracker tracker(const std::string& name) { return {name, name, {}, 1, "", {}, {}, {}, {}}; }

Plan plan_of(std::vector<PlannedTracker> trackers, const std::vector<std::string>& protocols = {"single"}) {
  Plan plan;
  plan.trackers = std::move(trackers);
  for (const std::string& name : protocols) plan.protocols.push_back(make_protocol(name));
  return plan;
}

class Jobs : public ::testing::Test {
 protected:
  JobList list(const Plan& plan) {
    for (BenchSequence& sequence : sequences_) {
      sequence.study.truth = closed_truth();
      sequence.starts.clear();
      count_starts(plan, sequence);
    }
    return list_jobs(plan, catalogue_, sequences_);
  }

  Catalogue catalogue_ = Catalogue::standard();
  std::vector<BenchSequence> sequences_;
};

}  // namespace

TEST_F(Jobs, AreOneForEachStartAndRepeatInThePlansOrder) {
  sequences_ = {closed("a"), closed("b")};
  Plan plan = plan_of({tracker("corr-plain"), tracker("stay")}, {"single", "restart"});
  plan.trackers[1].repeats = 2;
  const JobList all = list(plan);
  std::size_t at = 0;
  for (const PlannedTracker& one : plan.trackers)
    for (const BenchSequence& sequence : sequences_)
      for (const Protocol& protocol : plan.protocols)
        for (int start = 0; start < static_cast<int>(starts_of(protocol, closed_truth()).size()); ++start)
          for (int repeat = 0; repeat < one.repeats; ++repeat, ++at) {
            ASSERT_LT(at, all.jobs.size());
            const Job& job = all.jobs[at];
            EXPECT_EQ(job.tracker, &one);
            EXPECT_EQ(job.sequence, &sequence);
            EXPECT_EQ(job.protocol, &protocol);
            EXPECT_EQ(job.start, start);
            EXPECT_EQ(job.repeat, repeat);
          }
  EXPECT_EQ(at, all.jobs.size());
  EXPECT_TRUE(all.left_out.empty());
}

TEST_F(Jobs, KnowATrackerByAllItsParametersAndNotByItsLabel) {
  Plan plan = plan_of({tracker("corr-plain"), tracker("corr-plain"), tracker("corr-plain")});
  plan.trackers[1].label = "the same";
  plan.trackers[2].set["padding"] = 2.25;
  const JobList all = list(plan);
  ASSERT_EQ(all.trackers.size(), 3U);
  EXPECT_EQ(all.trackers[0].params, all.trackers[1].params);
  EXPECT_NE(all.trackers[0].params, all.trackers[2].params);
  const Json params = Json::parse(all.trackers[2].params);
  EXPECT_EQ(params["padding"], 2.25);
  EXPECT_EQ(params.size(), catalogue_.entry("corr-plain").schema.fields.size());
}

TEST_F(Jobs, HaveCropsUnderTheFirstProtocolAlone) {
  sequences_ = {closed("a"), generated()};
  Plan plan = plan_of({tracker("stay")}, {"single", "restart"});
  plan.trackers[0].repeats = 2;
  plan.stress.push_back({"steady", "gust", {1}, 1, {}});
  for (const bool keeps_stages : {false, true}) {
    plan.keep_stages = keeps_stages;
    for (const Job& job : list(plan).jobs) {
      const bool is_first = job.protocol == plan.protocols.data() && job.start == 0 && job.repeat == 0;
      EXPECT_EQ(job.has_crops, is_first);
      EXPECT_EQ(job.keeps_stages, is_first && keeps_stages);
    }
  }
}

TEST_F(Jobs, OnGeneratedSequencesAreOneUntimedRunEach) {
  sequences_ = {generated()};
  Plan plan = plan_of({tracker("stay"), tracker("traces")}, {"restart", "single"});
  plan.trackers[1].traces = {"nowhere"};
  plan.stress.push_back({"steady", "gust", {1}, 1, {}});
  const JobList all = list(plan);
  ASSERT_EQ(all.jobs.size(), 1U);
  EXPECT_EQ(all.jobs[0].protocol, &stress_protocol());
  EXPECT_FALSE(all.jobs[0].is_timed());
}

TEST_F(Jobs, AreTimedWhereTheProtocolIs) {
  sequences_ = {closed("a")};
  Plan plan = plan_of({tracker("stay")});
  EXPECT_TRUE(list(plan).jobs.at(0).is_timed());
  plan.protocols[0] = make_protocol("single", {{"timed", false}});
  EXPECT_FALSE(list(plan).jobs.at(0).is_timed());
}

TEST_F(Jobs, OfASequenceThatCannotBeReadAreOneRunThatSaysSo) {
  sequences_ = {closed("a")};
  sequences_[0].study.failure = "is damaged";
  EXPECT_EQ(list(plan_of({tracker("stay")}, {"starts"})).jobs.size(), 1U);
}

TEST_F(Jobs, TakeTracesWhereverTheyAre) {
  const test::TempFolder folder;
  write_file(folder / "traces/a.csv", "of a");
  write_file(folder / "traces/b.single.csv", "of b");
  sequences_ = {closed("a"), closed("b"), closed("c")};
  Plan plan = plan_of({tracker("theirs")}, {"single", "restart"});
  plan.trackers[0].traces = {folder / "traces"};
  const JobList all = list(plan);
  // What stands beside others is missing: its run will say so. A protocol without any is told once.
  ASSERT_EQ(all.jobs.size(), 3U);
  EXPECT_EQ(all.jobs[0].trace, folder / "traces/a.csv");
  EXPECT_EQ(all.jobs[0].source, fingerprint("of a"));
  EXPECT_EQ(all.jobs[1].trace, folder / "traces/b.single.csv");
  EXPECT_EQ(all.jobs[2].trace, folder / "traces/c.csv");
  EXPECT_EQ(all.jobs[2].source, "");
  EXPECT_EQ(all.left_out, (std::vector<std::string>{"theirs has no traces under restart"}));
  for (const Job& job : all.jobs) EXPECT_FALSE(job.is_timed());
}

}  // namespace mnemon
