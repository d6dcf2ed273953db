// SPDX-License-Identifier: MIT
// Labels, titles and names of folders are text wherever they come from and wherever they go: no shell, plot script,
// page or terminal takes them for anything else.
#include <string>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

namespace fs = std::filesystem;

class HostileNames : public ::testing::Test {
 protected:
  void SetUp() override {
    const Outcome made = mnemon({"scene", "steady", "--set", "frames=12", "--to", (folder_ / "in").string()});
    ASSERT_EQ(made.status, 0) << made.err;
  }

  void copy_scene(const std::string& name) const {
    fs::copy(folder_ / "in/steady", folder_ / "in" / name, fs::copy_options::recursive);
  }

  [[nodiscard]] Outcome run(const std::vector<std::string>& call) const {
    return mnemon(call, folder_.path());
  }

  void plan(const std::string& title, const std::vector<std::string>& labels) const {
    std::string text =
        "format = \"mnemon-plan/1\"\ntitle = \"" + title +
        "\"\nsequences = [\"in/*\"]\nprotocols = [\"single\", \"starts\"]\n[protocol.starts]\ncount = 1\n";
    for (const std::string& label : labels)
      text += "[[tracker]]\nname = \"stay\"\nlabel = \"" + label + "\"\n";
    write_file(folder_ / "plan.toml", text);
  }

  TempFolder folder_;
};

}  // namespace

TEST_F(HostileNames, RunNoCommand) {
  copy_scene("`touch made-1`");
  copy_scene("|touch made-2;");
  copy_scene("$(touch made-3)");
  copy_scene("it's '; system 'touch made-4");
  plan("`touch made-5`", {"`touch made-6`", "'.system('touch made-7').'", "<!--<script>alert(1)</script>"});
  for (const char* study : {"|touch made-8; `touch made-9`", "-e"}) {
    ASSERT_EQ(run({"bench", "plan.toml", "--out", study}).status, 0);
    const Outcome report = run({"report", "--", study});
    EXPECT_EQ(report.status, 0) << report.err;
    EXPECT_TRUE(fs::exists(folder_ / study / "report/figures/success.svg"));
  }
  for (const auto& entry : fs::recursive_directory_iterator(folder_.path()))
    EXPECT_FALSE(entry.path().filename().string().starts_with("made-")) << entry.path();
}

TEST_F(HostileNames, ReachNoTerminalRaw) {
  copy_scene("red\x1b[31m");
  plan("bell\\u0007", {"clear\\u001b[2J", "two\\nlines"});
  const Outcome bench = run({"bench", "plan.toml", "--out", "study"});
  EXPECT_EQ(bench.status, 0) << bench.err;
  EXPECT_EQ(plain_text(bench.out), bench.out);
  EXPECT_NE(bench.out.find("two\uFFFDlines"), std::string::npos) << bench.out;
  const Outcome compare = run({"compare", "study"});
  EXPECT_EQ(plain_text(compare.out), compare.out);
  const Outcome wrong = run({"compare", "study", "--label", "no\x1b[2J", "--label", "such"});
  EXPECT_EQ(wrong.status, 2);
  EXPECT_EQ(plain_text(wrong.err), wrong.err);
}

TEST_F(HostileNames, NeedNotBeUtf8) {
  copy_scene("gu\xffsty");
  plan("plain", {"stay"});
  const Outcome bench = run({"bench", "plan.toml", "--out",
                             "stu\xfe"
                             "dy",
                             "--json"});
  EXPECT_EQ(bench.status, 0) << bench.err;
  EXPECT_NE(nlohmann::json::parse(bench.out)["sequences"].dump().find("gu\uFFFDsty"), std::string::npos);
  const Outcome report = run({"report",
                              "stu\xfe"
                              "dy",
                              "--json"});
  EXPECT_EQ(report.status, 0) << report.err;
  EXPECT_EQ(plain_text(read_file(folder_ / "stu\xfe"
                                           "dy/report/index.html")),
            read_file(folder_ / "stu\xfe"
                                "dy/report/index.html"));
}

TEST_F(HostileNames, AreToldApartInExports) {
  for (const char* name : {"a b", "a-b", "кот", "пёс"}) copy_scene(name);
  copy_scene(std::string(120, 'x') + "1");
  copy_scene(std::string(120, 'x') + "2");
  plan("plain", {"x/y", "x-y"});
  ASSERT_EQ(run({"bench", "plan.toml", "--out", "study"}).status, 0);
  const Outcome exported = run({"export", "study", "--to", "text"});
  EXPECT_EQ(exported.status, 0) << exported.err;
  expect_parts(exported.out, {"28 traces"});  // 2 trackers, 7 sequences, 2 protocols
  int files = 0;
  for (const auto& entry : fs::recursive_directory_iterator(folder_ / "text/traces"))
    files += entry.is_regular_file() ? 1 : 0;
  EXPECT_EQ(files, 28);
  const std::string index = read_file(folder_ / "text/traces.csv");
  EXPECT_EQ(std::count(index.begin(), index.end(), '\n'), 29);
  expect_parts(index,
               {"file,tracker,sequence,protocol,start,repeat", "x%2Fy/a%20b.single.csv,x/y,a b,single,0,0",
                "x-y/a-b.starts.0.csv,x-y,a-b,starts,0,0"});
}

TEST_F(HostileNames, AreReadBackAsExported) {
  copy_scene("a b");
  plan("plain", {"x/y"});
  ASSERT_EQ(run({"bench", "plan.toml", "--out", "study"}).status, 0);
  ASSERT_EQ(run({"export", "study", "--to", "text"}).status, 0);
  std::string text = read_file(folder_ / "plan.toml");
  text += "[[tracker]]\nlabel = \"again\"\ntraces = \"text/traces/x%2Fy\"\n";
  write_file(folder_ / "plan.toml", text);
  const Outcome bench = run({"bench", "plan.toml", "--out", "study"});
  EXPECT_EQ(bench.status, 0) << bench.err;
  expect_parts(bench.out, {"4 runs made, 4 kept from before, 0 failed"});
}

}  // namespace mnemon::test
