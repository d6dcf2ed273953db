// SPDX-License-Identifier: MIT
#include <mnemon/study/merge.hpp>

#include <map>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/export.hpp>
#include <mnemon/study/runner.hpp>
#include <mnemon/study/shard.hpp>

#include "support/messages.hpp"
#include "support/small_demo.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

namespace fs = std::filesystem;

// Four short sequences, and what comes of a plan over them.
class Shards : public ::testing::Test {
 protected:
  static constexpr const char* kPlan =
      "protocols = [\"single\", \"starts\"]\n[protocol.single]\ntimed = false\n[protocol.starts]\ncount = 2\n"
      "[[tracker]]\nname = \"shift-fixed\"\n[[tracker]]\nname = \"stay\"\nprotocols = [\"single\"]\n"
      "[[set]]\nname = \"two\"\nsequences = [\"c*\"]\n";

  void SetUp() override {
    static const test::TempFolder rendered;
    if (test::names_in(rendered.path()).empty()) {
      test::render_small(rendered.path(), "steady", 12);
      test::render_small(rendered.path(), "cloudbank", 30, 6);
      test::render_small(rendered.path(), "crossing", 14);
      test::render_small(rendered.path(), "speck", 20);
    }
    fs::copy(rendered.path(), folder_.path(), fs::copy_options::recursive);
  }

  RunSummary run(const std::string& study, std::optional<Shard> shard = {},
                 const std::string& plan = kPlan) const {
    const Catalogue catalogue = Catalogue::standard();
    const Plan read = read_plan(test::write_plan(folder_.path(), plan), catalogue);
    RunOptions options;
    options.shard = shard;
    return run_plan(read, catalogue, folder_ / study, options);
  }

  // All of a study as text by file.
  std::map<std::string, std::string> text_of(const std::string& study) const {
    const Study read = read_study(folder_ / study);
    EXPECT_EQ(read.missing_runs, 0);
    const fs::path to = folder_ / (study + "-text");
    export_study(folder_ / study, to, fs::exists(to));
    std::map<std::string, std::string> files;
    for (const auto& entry : fs::recursive_directory_iterator(to))
      if (entry.is_regular_file()) files[fs::relative(entry.path(), to).string()] = read_file(entry.path());
    return files;
  }

  test::TempFolder folder_;
};

TEST_F(Shards, MakeTheStudyThatOneGoMakes) {
  run("whole");
  for (const int number : {2, 3, 1}) run("cut", Shard{number, 3});
  const MergeSummary merged = merge_shards(folder_ / "cut");
  EXPECT_EQ(merged.added, 4 * (1 + 2) + 4);
  EXPECT_EQ(merged.planned, merged.added);
  EXPECT_TRUE(merged.missing_shards.empty());
  EXPECT_EQ(text_of("cut"), text_of("whole"));
  const Study a = read_study(folder_ / "cut");
  const Study b = read_study(folder_ / "whole");
  ASSERT_EQ(a.runs.size(), b.runs.size());
  for (std::size_t i = 0; i < a.runs.size(); ++i) {
    EXPECT_EQ(a.runs[i].tracker, b.runs[i].tracker);
    EXPECT_EQ(a.runs[i].sequence, b.runs[i].sequence);
    ASSERT_EQ(a.runs[i].crops.size(), b.runs[i].crops.size());
    for (std::size_t k = 0; k < a.runs[i].crops.size(); ++k)
      EXPECT_EQ(a.runs[i].crops[k].jpeg, b.runs[i].crops[k].jpeg);
  }
  for (std::size_t i = 0; i < a.sequences.size(); ++i) {
    EXPECT_EQ(a.sequences[i].name, b.sequences[i].name);
    EXPECT_EQ(a.sequences[i].sets, b.sequences[i].sets);
    EXPECT_EQ(a.sequences[i].truth.rows, b.sequences[i].truth.rows);
    EXPECT_EQ(a.sequences[i].truth.others, b.sequences[i].truth.others);
  }
}

TEST_F(Shards, MergeAsTheyComeAndAgain) {
  run("cut", Shard{1, 2});
  const MergeSummary first = merge_shards(folder_ / "cut");
  EXPECT_EQ(first.missing_shards, std::vector<std::string>{"2/2"});
  EXPECT_EQ(merge_shards(folder_ / "cut").added, 0);
  run("cut", Shard{2, 2});
  EXPECT_EQ(merge_shards(folder_ / "cut").added, 16 - first.added);
  const auto once = text_of("cut");
  const MergeSummary again = merge_shards(folder_ / "cut");
  EXPECT_EQ(again.kept, 16);
  EXPECT_EQ(text_of("cut"), once);
  run("whole");
  EXPECT_EQ(once, text_of("whole"));
}

TEST_F(Shards, GoOnWhereTheyWereInterrupted) {
  run("cut", Shard{1, 2});
  EXPECT_EQ(run("cut", Shard{1, 2}).made, 0);
  EXPECT_FALSE(fs::exists(folder_ / "cut" / kStudyFile));
  EXPECT_EQ(test::names_in(folder_ / "cut/shards"), std::set<std::string>{"1-of-2.sqlite"});
}

TEST_F(Shards, TellWhatTwoBuildsMade) {
  run("cut", Shard{1, 1});
  merge_shards(folder_ / "cut");
  {
    Database shard(shard_file(folder_ / "cut", {1, 1}), Database::Mode::create);
    shard.run("UPDATE builds SET code = '0'");
  }
  const MergeSummary merged = merge_shards(folder_ / "cut");
  EXPECT_EQ(merged.replaced, 16);  // '0' comes first, in whichever order the two come
  ASSERT_EQ(merged.conflicts.size(), 16U);
  test::expect_parts(merged.conflicts[0], {" on ", " under ", "code 0 on", "the study has that of"});
  EXPECT_EQ(merge_shards(folder_ / "cut").kept, 16);
}

TEST_F(Shards, PutARunInPlaceOfOneThatFailed) {
  run("cut", Shard{1, 1});
  merge_shards(folder_ / "cut");
  {
    Database study(folder_ / "cut" / kStudyFile, Database::Mode::create);
    study.run("UPDATE runs SET failure = 'out of luck'");
  }
  const MergeSummary merged = merge_shards(folder_ / "cut");
  EXPECT_EQ(merged.replaced, 16);
  EXPECT_TRUE(merged.conflicts.empty());
}

TEST_F(Shards, OfDifferentPlansAreNotMixed) {
  run("cut", Shard{1, 2});
  run("cut", Shard{2, 2}, test::kOneTracker);
  test::expect_parts(test::message_of<DataError>([&] { merge_shards(folder_ / "cut"); }),
                     {"2-of-2.sqlite", "another plan", "remove"});
  test::expect_parts(test::message_of<CallError>([&] { merge_shards(folder_ / "none"); }),
                     {"no shards", "--shard K/N"});
}

TEST_F(Shards, MayBeMoreThanSequences) {
  int sequences = 0;
  for (int number = 1; number <= 6; ++number) sequences += run("cut", Shard{number, 6}).sequences;
  EXPECT_EQ(sequences, 4);
  EXPECT_EQ(merge_shards(folder_ / "cut").added, 16);
}

}  // namespace
}  // namespace mnemon
