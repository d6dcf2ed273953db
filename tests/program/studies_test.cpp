// SPDX-License-Identifier: MIT
// Studies as they are worked with: cut short and gone on with, compared, of sweeps and of generated sequences.
#include <algorithm>
#include <map>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/random.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

const std::string kDemo = MNEMON_DEMO;
const std::string kStudy = kDemo + "/study";
constexpr const char* kProgram = MNEMON_PROGRAM_DIR "/mnemon";

const char* const kTrackers = "[[tracker]]\nname = \"corr-plain\"\n[[tracker]]\nname = \"stay\"\n";

// Runs side by side, whose estimates are the same every time and which have no times.
const char* const kUntimed =
    "format = \"mnemon-plan/1\"\nsequences = [\"kites/*\"]\nprotocols = [\"single\", \"starts\", \"nudges\", "
    "\"restart\"]\n[protocol.single]\ntimed = false\n";

// Two short sequences and a plan for them.
class SmallStudy : public ::testing::Test {
 protected:
  void SetUp() override {
    // Rendered once, and copied for each test.
    static const TempFolder rendered;
    if (names_in(rendered.path()).empty()) {
      const Outcome made =
          mnemon({"scene", "steady", "loops", "--set", "frames=40", "--to", (rendered / "kites").string()});
      ASSERT_EQ(made.status, 0) << made.err;
    }
    fs::copy(rendered.path(), folder_.path(), fs::copy_options::recursive);
    write_file(folder_ / "plan.toml", std::string(kUntimed) + kTrackers);
  }
  Outcome bench(const std::string& out) {
    return mnemon({"bench", "plan.toml", "--out", out}, folder_.path());
  }

  // All that is in a study, as text by file.
  std::map<std::string, std::string> text_of(const std::string& study) {
    const fs::path to = folder_ / (study + "-text");
    EXPECT_EQ(mnemon({"export", study, "--to", to.string()}, folder_.path()).status, 0);
    std::map<std::string, std::string> files;
    for (const auto& entry : fs::recursive_directory_iterator(to))
      if (entry.is_regular_file()) files[fs::relative(entry.path(), to).string()] = read_file(entry.path());
    return files;
  }

  TempFolder folder_;
};

}  // namespace

TEST_F(SmallStudy, IsAsIfNothingHadHappenedAfterFiftyKills) {
  Random random(50);
  int killed = 0;
  for (int i = 0; i < 50; ++i) {
    const std::string seconds = std::to_string(random.uniform(0.005, 0.25));
    killed += run_program({"timeout", "-s", "KILL", seconds, kProgram, "bench", "plan.toml", "--out", "cut"},
                          folder_.path())
                          .status != 0
                  ? 1
                  : 0;
  }
  EXPECT_GT(killed, 10);
  EXPECT_EQ(bench("cut").status, 0);
  EXPECT_EQ(bench("whole").status, 0);
  const auto whole = text_of("whole");
  EXPECT_EQ(whole.size(), 4U + 2 * 2 * (1 + 10 + 12 + 1));
  EXPECT_EQ(text_of("cut"), whole);
  EXPECT_EQ(names_in(folder_ / "cut"), std::set<std::string>{"study.sqlite"});
}

TEST_F(SmallStudy, SurvivesADiskThatFills) {
  const std::string limited = "trap '' XFSZ; ulimit -f 300; exec \"$0\" bench plan.toml --out cut";
  const Outcome full = run_program({"bash", "-c", limited, kProgram}, folder_.path());
  EXPECT_EQ(full.status, 1);
  expect_parts(full.err, {"study.sqlite", "the disk is full or failing", "make room and run the same again"});
  const Outcome again = bench("cut");
  EXPECT_EQ(again.status, 0) << again.err;
  EXPECT_EQ(bench("whole").status, 0);
  EXPECT_EQ(text_of("cut"), text_of("whole"));
}

TEST_F(SmallStudy, IsTheSameForAnyNumberOfJobs) {
  EXPECT_EQ(mnemon({"bench", "plan.toml", "--out", "one", "--jobs", "1"}, folder_.path()).status, 0);
  EXPECT_EQ(mnemon({"bench", "plan.toml", "--out", "two", "--jobs", "2"}, folder_.path()).status, 0);
  EXPECT_EQ(text_of("one"), text_of("two"));
}

TEST_F(SmallStudy, IsMadeInSharesThatAreMerged) {
  for (const char* shard : {"2/2", "1/2"}) {
    const Outcome made = mnemon({"bench", "plan.toml", "--out", "cut", "--shard", shard}, folder_.path());
    EXPECT_EQ(made.status, 0) << made.err;
    expect_parts(made.out, {"Shard ", shard, "1 sequences", "mnemon merge cut"});
  }
  const Outcome merged = mnemon({"merge", "cut"}, folder_.path());
  EXPECT_EQ(merged.status, 0) << merged.err;
  expect_parts(merged.out, {"96 runs added, 0 kept, 0 replaced; 96 are planned.", "mnemon report cut"});
  EXPECT_EQ(bench("whole").status, 0);
  EXPECT_EQ(text_of("cut"), text_of("whole"));
  EXPECT_EQ(mnemon({"bench", "plan.toml", "--out", "cut", "--shard", "3/2"}, folder_.path()).status, 2);
  EXPECT_EQ(mnemon({"merge", "none"}, folder_.path()).status, 2);
}

TEST_F(SmallStudy, RunsOnlyTheProtocolsAskedFor) {
  const Outcome some =
      mnemon({"bench", "plan.toml", "--out", "some", "--protocol", "restart", "--protocol", "single"},
             folder_.path());
  EXPECT_EQ(some.status, 0) << some.err;
  expect_parts(some.out, {"group", "Under restart:", "8 runs made", "Side by side: "});
  EXPECT_EQ(some.out.find("Under starts:"), std::string::npos);
  const Outcome wrong = mnemon({"bench", "plan.toml", "--out", "some", "--protocol", "live"}, folder_.path());
  EXPECT_EQ(wrong.status, 2);
  expect_parts(wrong.err, {"no protocol 'live'", "single, starts, nudges, restart"});
}

TEST_F(SmallStudy, OfASweepSaysWhatToChooseAndOnWhat) {
  write_file(folder_ / "plan.toml",
             "format = \"mnemon-plan/1\"\nsequences = [\"kites/*\"]\n[protocol.single]\ntimed = "
             "false\n[[tracker]]\nname "
             "= \"corr-plain\"\nsweep = { padding = [1.5, 3], learning_rate = [0.05, 0.2] }\n");
  const Outcome swept = bench("swept");
  EXPECT_EQ(swept.status, 0) << swept.err;
  expect_parts(swept.out,
               {"Sweep of corr-plain:", "is the best of 4 variations on the 1 sequences that choose",
                "Most that the means differ by: learning_rate", "10 runs made"});
  EXPECT_EQ(mnemon({"report", "swept"}, folder_.path()).status, 0);
  expect_parts(read_file(folder_ / "swept/report/index.html"),
               {"is the best of 4 variations on the 1 sequences that choose"});
}

TEST_F(SmallStudy, OfGeneratedSequencesSaysWhereEachTrackerFalls) {
  write_file(
      folder_ / "plan.toml",
      std::string("format = \"mnemon-plan/1\"\n") + kTrackers +
          "[[stress]]\nscene = \"steady\"\nknob = \"fast\"\nlevels = [0, 1]\nrandom = 2\nframes = 12\n");
  const Outcome stressed = bench("stressed");
  EXPECT_EQ(stressed.status, 0) << stressed.err;
  expect_parts(stressed.out, {"steady under growing fast:", "below half at", "8 runs made"});
  EXPECT_EQ(mnemon({"report", "stressed"}, folder_.path()).status, 0);
  EXPECT_TRUE(names_in(folder_ / "stressed/report/figures").contains("stress-steady-fast.png"));
  expect_parts(bench("stressed").out, {"0 runs made, 8 kept"});
}

TEST(Compare, SaysWhatGotBetterFromOneTrackerToAnother) {
  const Outcome outcome = mnemon({"compare", kStudy, "--label", "stay", "--label", "corr-plain"});
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"stay -> corr-plain: success_area under single, 16 sequences: better on ",
                             "steady", "tag", "lookalike", "Over all 16: ", ": better."});
  const Outcome back = mnemon({"compare", kStudy, "--label", "corr-plain", "--label", "stay"});
  expect_parts(back.out, {": worse."});
  const Json json = Json::parse(mnemon({"compare", kStudy, "--label", "stay", "--label", "corr-plain",
                                        "--protocol", "restart", "--measure", "restarts_per_1000", "--json"})
                                    .out);
  EXPECT_EQ(json[0]["protocol"], "restart");
  EXPECT_LT(json[0]["overall"]["difference"], 0);
}

TEST(Compare, FindsAStudyAsItIsUnchanged) {
  const Outcome outcome = mnemon({"compare", kStudy, kStudy});
  EXPECT_EQ(outcome.status, 0) << outcome.err;
  expect_parts(outcome.out, {"corr-plain: success_area", "stay: success_area", "worse on 0, as it was on 16",
                             "As they were: ", ": not separated."});
}

TEST(Compare, RefusesWhatIsNotThere) {
  const auto refusal = [](std::vector<std::string> arguments) {
    arguments.insert(arguments.begin(), {"compare", kStudy});
    const Outcome outcome = mnemon(arguments);
    EXPECT_EQ(outcome.status, 2);
    return outcome.err;
  };
  expect_parts(refusal({"--label", "corr-plian", "--label", "stay"}), {"did you mean 'corr-plain'"});
  expect_parts(refusal({"--label", "stay"}), {"--label twice"});
  expect_parts(refusal({"--label", "corr-plain", "--label", "stay", "--measure", "succes_area"}),
               {"did you mean 'success_area'"});
  EXPECT_EQ(mnemon({"compare", kDemo}).status, 1);
}

}  // namespace mnemon::test
