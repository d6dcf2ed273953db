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
      {"plan.toml:5", "padding = 30 for 'corr-plain' is out of range: 1 to 6 target sizes (2 if left out)"});
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

}  // namespace mnemon
