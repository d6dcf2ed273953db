// SPDX-License-Identifier: MIT
#include <mnemon/study/plan.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

class PlanOnDisk : public ::testing::Test {
 protected:
  void SetUp() override {
    for (const char* name : {"kites/a2", "kites/a10", "more/b"}) make_folder(folder_ / name);
    write_file(folder_ / "kites/notes.txt", "x");
  }

  [[nodiscard]] Plan read(const std::string& text) const {
    write_file(folder_ / "plan.toml", "format = \"mnemon-plan/1\"\n" + text);
    return read_plan(folder_ / "plan.toml", Catalogue::standard());
  }
  [[nodiscard]] std::string refusal(const std::string& text) const {
    return test::message_of<DataError>([&] { (void)read(text); });
  }

  test::TempFolder folder_;
};

const std::string kSequences = "sequences = [\"kites/*\"]\n";
const std::string kTracker = "[[tracker]]\nname = \"corr-plain\"\n";

}  // namespace

TEST_F(PlanOnDisk, ReadsTrackersWithLabelsAndParameters) {
  const Plan plan =
      read("title = \"t\"\n" + kSequences + "protocols = [\"single\"]\n" + kTracker +
           "[[tracker]]\nname = \"corr-plain\"\nlabel = \"wide\"\nset = { padding = 3, warps = 2 }\n");
  EXPECT_EQ(plan.title, "t");
  ASSERT_EQ(plan.trackers.size(), 2U);
  EXPECT_EQ(plan.trackers[0].label, "corr-plain");
  EXPECT_EQ(plan.trackers[1].label, "wide");
  EXPECT_EQ(plan.trackers[1].set.at("padding"), ParamValue(3));
}

TEST_F(PlanOnDisk, RunsATrackerUnderItsOwnProtocols) {
  const std::string head = kSequences + "protocols = [\"single\", \"live\"]\n" + kTracker;
  const Plan plan = read(head + "protocols = [\"live\"]\n[[tracker]]\nname = \"stay\"\n");
  EXPECT_EQ(plan.trackers[0].protocols, std::vector<std::string>{"live"});
  EXPECT_TRUE(plan.trackers[1].protocols.empty());
  test::expect_parts(refusal(head + "protocols = [\"restrat\"]\n"), {"plan.toml:", "restrat", "not among"});
  test::expect_parts(refusal(head + "protocols = []\n"), {"plan.toml:", "no protocols"});
}

TEST_F(PlanOnDisk, NamesSetsOfItsSequences) {
  const std::string head = "sequences = [\"kites/*\", \"more/b\"]\n" + kTracker;
  const Plan plan = read(
      head +
      "[[set]]\nname = \"kites\"\nsequences = [\"a*\"]\n[[set]]\nname = \"rest\"\nsequences = [\"b\"]\n");
  ASSERT_EQ(plan.sets.size(), 2U);
  EXPECT_EQ(plan.sets[0].sequences, (std::vector<std::string>{"a2", "a10"}));
  EXPECT_EQ(plan.sets[1].sequences, std::vector<std::string>{"b"});
  test::expect_parts(refusal(head + "[[set]]\nname = \"x\"\nsequences = [\"a3\"]\n"),
                     {"plan.toml:", "like 'a3'", "'a2'"});
  test::expect_parts(
      refusal(head +
              "[[set]]\nname = \"x\"\nsequences = [\"b\"]\n[[set]]\nname = \"x\"\nsequences = [\"b\"]\n"),
      {"two sets are called 'x'"});
}

TEST_F(PlanOnDisk, SaysHowListsOfBoxesAreRead) {
  const std::string head = kSequences + "[[tracker]]\ntraces = \"more\"\n";
  EXPECT_FALSE(read(head).trackers[0].form);
  const Plan plan = read(head + "columns = \"cx,cy,w,h\"\none_based = true\nabsent = [\"nan\", \"zero\"]\n");
  ASSERT_TRUE(plan.trackers[0].form);
  EXPECT_EQ(plan.trackers[0].form->columns, (std::vector<std::string>{"cx", "cy", "w", "h"}));
  EXPECT_TRUE(plan.trackers[0].form->one_based);
  EXPECT_TRUE(plan.trackers[0].form->absent.zero);
  test::expect_parts(refusal(head + "columns = \"x,y,w\"\n"), {"plan.toml:5"});
  test::expect_parts(refusal(head + "absent = [\"zeros\"]\n"), {"plan.toml:5", "did you mean 'zero'"});
}

TEST_F(PlanOnDisk, SaysWhatIsKeptToLookAt) {
  EXPECT_FALSE(read(kSequences + kTracker).keep_stages);
  const Plan plan = read("keep_stages = \"losses\"\ncrops_mb = 2.5\n" + kSequences + kTracker);
  EXPECT_TRUE(plan.keep_stages);
  EXPECT_EQ(plan.crops_mb, 2.5);
  test::expect_parts(refusal("keep_stages = \"always\"\n" + kSequences + kTracker),
                     {"plan.toml:2", "losses", "never"});
  test::expect_parts(refusal("crops_mb = -1\n" + kSequences + kTracker), {"plan.toml:2", "0 to 10000"});
}

TEST_F(PlanOnDisk, FindsFoldersFromItsFileInNaturalOrder) {
  const Plan plan = read("sequences = [\"kites/*\", \"more/b\", \"more/?\"]\n" + kTracker);
  std::vector<std::string> names;
  for (const auto& folder : plan.sequences) names.push_back(folder.filename().string());
  EXPECT_EQ(names, (std::vector<std::string>{"a2", "a10", "b"}));
  EXPECT_EQ(plan.title, "plan");
  ASSERT_EQ(plan.protocols.size(), 1U);
  EXPECT_EQ(plan.protocols[0].name, "single");
}

TEST_F(PlanOnDisk, SaysWhereItIsWrong) {
  test::expect_parts(refusal(kSequences), {"plan.toml", "no [[tracker]]"});
  test::expect_parts(refusal("sequences = [\"kits/*\"]\n" + kTracker), {"plan.toml:2", "kits/*"});
  test::expect_parts(refusal("sequences = []\n" + kTracker), {"plan.toml:2", "no sequences"});
  test::expect_parts(refusal(kSequences + "protocols = [\"singel\"]\n" + kTracker),
                     {"plan.toml:3", "did you mean 'single'"});
  test::expect_parts(refusal(kSequences + "[[tracker]]\nname = \"corr-plian\"\n"),
                     {"plan.toml:4", "did you mean 'corr-plain'"});
  test::expect_parts(
      refusal(kSequences + kTracker + "set = { padding = 30 }\n"),
      {"plan.toml:5",
       "padding = 30 for 'corr-plain' is out of range: 1 to 6 target sizes (1.6 if left out)"});
  test::expect_parts(refusal(kSequences + kTracker + "set = { pading = 3 }\n"),
                     {"plan.toml:5", "did you mean 'padding'"});
  test::expect_parts(refusal(kSequences + kTracker + kTracker),
                     {"plan.toml", "two trackers are labelled 'corr-plain'"});
  test::expect_parts(refusal(kSequences + "tracker = 3\n"), {"plan.toml:3", "[[tracker]]"});
  test::expect_parts(refusal("sequence = []\n"), {"plan.toml:2:1", "did you mean 'sequences'"});
}

TEST_F(PlanOnDisk, RefusesTwoSequencesOfOneName) {
  make_folder(folder_ / "more/a2");
  test::expect_parts(refusal("sequences = [\"kites/a2\", \"more/a2\"]\n" + kTracker),
                     {"two sequences", "a2"});
}

TEST_F(PlanOnDisk, ReadsProtocolsWithTheirParameters) {
  const Plan plan =
      read(kSequences + "protocols = [\"restart\", \"single\"]\n[protocol.restart]\nloss_patience = 9\n" +
           kTracker);
  ASSERT_EQ(plan.protocols.size(), 2U);
  EXPECT_EQ(plan.protocols[0].params.at("loss_patience"), ParamValue(9));
  EXPECT_EQ(plan.protocols[0].params.at("restart_gap"), ParamValue(5));
  test::expect_parts(refusal(kSequences + "[protocol.restart]\nloss_patience = 9\n" + kTracker),
                     {"plan.toml:3", "'restart' is not among the plan's protocols"});
  test::expect_parts(
      refusal(kSequences + "protocols = [\"restart\"]\n[protocol.restart]\nloss_patence = 9\n" + kTracker),
      {"plan.toml:5", "did you mean 'loss_patience'"});
  test::expect_parts(refusal(kSequences + "protocols = [\"live\", \"live\"]\n" + kTracker),
                     {"plan.toml:3", "twice"});
}

TEST_F(PlanOnDisk, IsLimitedToSomeProtocols) {
  Plan plan = read(kSequences + "protocols = [\"restart\", \"single\", \"live\"]\n" + kTracker);
  limit_protocols(plan, {});
  EXPECT_EQ(plan.protocols.size(), 3U);
  limit_protocols(plan, {"live", "single"});
  ASSERT_EQ(plan.protocols.size(), 2U);
  EXPECT_EQ(plan.protocols[0].name, "single");
  test::expect_parts(test::message_of<CallError>([&] { limit_protocols(plan, {"strats"}); }),
                     {"'strats'", "single, live"});
}

TEST_F(PlanOnDisk, UnfoldsSweepsAfterTheirEntry) {
  const Plan plan = read(kSequences + kTracker +
                         "label = \"filter\"\nset = { warps = 2 }\nsweep = { padding = [1.5, 3] }\n");
  ASSERT_EQ(plan.trackers.size(), 3U);
  EXPECT_EQ(plan.trackers[0].sweep, "");
  EXPECT_EQ(plan.trackers[2].label, "filter: padding=3");
  EXPECT_EQ(plan.trackers[2].sweep, "filter");
  EXPECT_EQ(plan.trackers[2].set.at("warps"), ParamValue(2));
  test::expect_parts(refusal(kSequences + kTracker + "sample = 3\n"),
                     {"plan.toml:5", "'sample' belongs to a 'sweep'"});
}

TEST_F(PlanOnDisk, TakesEveryTrackerByAStar) {
  const Plan plan = read(kSequences + "[[tracker]]\nname = \"*\"\n");
  const Catalogue catalogue = Catalogue::standard();
  ASSERT_EQ(plan.trackers.size(), catalogue.entries().size());
  EXPECT_EQ(plan.trackers[2].label, catalogue.entries()[2].name);
  test::expect_parts(refusal(kSequences + "[[tracker]]\nname = \"*\"\nlabel = \"all\"\n"),
                     {"'label' is not known here"});
}

TEST_F(PlanOnDisk, NamesWhatIsCalledOtherwiseNow) {
  test::expect_parts(refusal(kSequences + "[[tracker]]\nname = \"mask-cut\"\n"),
                     {"it is called 'mask-plain' now"});
  test::expect_parts(refusal(kSequences + kTracker + "set = { template_px = 64 }\n"),
                     {"it is called 'window_samples' now"});
  test::expect_parts(
      refusal(kSequences + "[[tracker]]\nname = \"blob-motion\"\nset = { chain = \"grey curve\" }\n"),
      {"'curve', which is called 'gamma' now"});
}

TEST_F(PlanOnDisk, ChecksRulesBetweenParameters) {
  test::expect_parts(
      refusal(kSequences +
              "[[tracker]]\nname = \"blob-motion\"\nset = { shadow_from = 0.9, shadow_to = 0.4 }\n"),
      {"plan.toml:", "shadow_from = 0.9 is above shadow_to = 0.4"});
}

TEST_F(PlanOnDisk, ReadsStress) {
  const std::string stress = "[[stress]]\nscene = \"steady\"\nknob = \"occlusion\"\n";
  const Plan plan = read(kTracker + stress + "levels = [0, 0.25, 1]\nrandom = 3\nframes = 40\n");
  EXPECT_TRUE(plan.sequences.empty());
  ASSERT_EQ(plan.stress.size(), 1U);
  EXPECT_EQ(plan.stress[0].levels, (std::vector<double>{0, 0.25, 1}));
  EXPECT_EQ(plan.stress[0].random, 3);
  test::expect_parts(refusal(kTracker + stress + "levels = [0, 2]\n"),
                     {"plan.toml:6", "occlusion = 2", "0 to 1"});
  test::expect_parts(refusal(kTracker + stress + "levels = [0]\nrandom = 20000000\n"),
                     {"'random' must be from 1 to 10000"});
  test::expect_parts(refusal(kTracker + stress + "levels = [0.5, 0.2]\n"),
                     {"plan.toml:7", "'levels' must rise"});
  test::expect_parts(refusal(kTracker + "[[stress]]\nscene = \"stedy\"\nknob = \"noise\"\nlevels = [0]\n"),
                     {"did you mean 'steady'"});
}

TEST_F(PlanOnDisk, ChecksTracesRepeatsAndLimits) {
  test::expect_parts(refusal(kSequences + "[[tracker]]\ntraces = \"nowhere\"\n"), {"plan.toml:4", "nowhere"});
  const Plan plan = read(kSequences + "step_limit_ms = 20\n[[tracker]]\ntraces = \"more\"\n");
  EXPECT_EQ(plan.trackers[0].label, "more");
  EXPECT_EQ(plan.step_limit_ms, 20);
  test::expect_parts(refusal(kSequences + "[[tracker]]\nname = \"stay\"\nrepeats = 2\n"),
                     {"plan.toml:5", "no parameter 'random_seed'"});
  test::expect_parts(refusal(kSequences + kTracker + "repeats = 0\n"), {"plan.toml:5", "from 1 to 10000"});
  test::expect_parts(refusal(kSequences + "step_limit_ms = -1\n" + kTracker), {"plan.toml:3", "above 0"});
}

}  // namespace mnemon
