// SPDX-License-Identifier: MIT
#include <mnemon/report/paper.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/report/comparison.hpp>
#include <mnemon/report/selection.hpp>

#include "support/made_study.hpp"
#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

using test::study_of;

// Three trackers a, b, c on eight sequences; b is the best, c the second.
Study three() {
  return study_of({{0.1, 0.2, 0.1, 0.3, 0.2, 0.1, 0.2, 0.1},
                   {0.6, 0.8, 0.5, 0.9, 0.7, 0.6, 0.7, 0.6},
                   {0.5, 0.6, 0.5, 0.8, 0.6, 0.5, 0.6, 0.5}});
}

std::vector<std::string> labels_of(const Study& study) {
  std::vector<std::string> labels;
  for (const StudyTracker& tracker : study.trackers) labels.push_back(tracker.label);
  return labels;
}

}  // namespace

TEST(PaperTables, MarkTheBestAndTheSecond) {
  const Study study = three();
  const auto tables = paper_tables(Results(study), false);
  ASSERT_FALSE(tables.empty());
  test::expect_parts(tables[0].latex,
                     {"\\begin{tabular}{l", "\\toprule", "\nb & \\textbf{", "\nc & \\uline{"});
  EXPECT_EQ(tables[0].latex.find("a & \\textbf"), std::string::npos);
  test::expect_parts(tables[0].markdown, {"| b | **", "| c | <u>"});
  EXPECT_EQ(tables[0].latex.find(" to "), std::string::npos);
}

TEST(PaperTables, ShowIntervalsWhereAsked) {
  const Study study = three();
  const auto tables = paper_tables(Results(study), true);
  EXPECT_NE(tables[0].latex.find(" to "), std::string::npos);
  EXPECT_NE(tables[0].csv.find("success area,success area low,success area high"), std::string::npos);
}

TEST(PaperTables, LeaveFloorsUnmarked) {
  Study study = three();
  study.trackers[1].name = "stay";
  const auto tables = paper_tables(Results(study), false);
  EXPECT_EQ(tables[0].markdown.find("| b | **"), std::string::npos);
  test::expect_parts(tables[0].markdown, {"| c | **"});
}

TEST(Sets, HaveAColumnEach) {
  Study study = three();
  study.sequences[0].sets = {"first"};
  study.sequences[1].sets = {"first", "second"};
  const Results results(study);
  EXPECT_EQ(results.sets(), (std::vector<std::string>{"first", "second"}));
  const ReportTable table = merit_table(results, 0, comparisons(results, 0));
  ASSERT_EQ(table.columns.back().heading, "second");
  EXPECT_EQ(table.rows[0].cells.back(), "0.800");                     // b on the second sequence
  EXPECT_EQ(table.rows[0].cells[table.columns.size() - 2], "0.700");  // and on the first two
}

TEST(StepTimes, OfTwoProcessorsAreNotMixed) {
  Study study = three();
  study.builds = {{"0.1", "abc", "a compiler", "often", 2, "a"},
                  {"0.1", "abc", "a compiler", "seldom", 2, "a"}};
  for (StudyRun& run : study.runs) {
    run.timed = true;
    run.build = run.sequence == 0 ? 1 : 0;
    run.trace.rows.push_back({1, {{5, 5, 10, 10}, 0}, 1, true, run.build == 1 ? 100.0 : 2.0});
  }
  const Results results(study);
  EXPECT_EQ(results.timing_processor(), "often");
  EXPECT_EQ(results.step_times(0, 0), std::vector<double>(7, 2.0));
  test::expect_parts(summary_table(results, 0).footnote,
                     {"those on often; 3 runs timed on other processors"});
}

TEST(PaperText, IsTakenForItself) {
  EXPECT_EQ(latex_text("a_b & 50% {x}\\input"), "a\\_b \\& 50\\% \\{x\\}\\textbackslash{}input");
  EXPECT_EQ(latex_text("^~<"), "\\textasciicircum{}\\textasciitilde{}$<$");
  EXPECT_EQ(markdown_text("a|b *c* <i>"), "a\\|b \\*c\\* \\<i\\>");
}

TEST(WritePaper, PutsTablesAndFiguresInPlace) {
  const test::TempFolder folder;
  const auto paper = write_paper(three(), {8, true, true, false}, folder.path());
  EXPECT_EQ(paper, folder / "report/paper");
  const auto figures = test::names_in(paper / "figures");
  for (const char* name : {"success.pdf", "success.svg", "success.png", "figures.gp"})
    EXPECT_TRUE(figures.contains(name)) << name;
  EXPECT_TRUE(read_file(paper / "figures/success.pdf").starts_with("%PDF"));
  for (const char* name : {"trackers.tex", "trackers.md", "trackers.csv"})
    EXPECT_TRUE(test::names_in(paper / "tables").contains(name)) << name;
  EXPECT_THROW(write_paper(three(), {3, false, false, false}, folder.path()), CallError);
}

TEST(Selected, KeepsTheseAloneUnderNewLabels) {
  const Study study = three();
  const Study shown = selected(study, {{"c", "a"}, {{"c", "Ours"}}});
  EXPECT_EQ(labels_of(shown), (std::vector<std::string>{"a", "Ours"}));
  EXPECT_EQ(shown.runs.size(), 16U);
  for (const StudyRun& run : shown.runs) EXPECT_LT(run.tracker, 2);
  EXPECT_EQ(Results(shown).value(1, 0, 0, "success_area"), Results(study).value(2, 0, 0, "success_area"));
  EXPECT_EQ(labels_of(selected(study, {})), (std::vector<std::string>{"a", "b", "c"}));
}

TEST(Selected, SaysWhatItDoesNotKnow) {
  const Study study = three();
  EXPECT_THROW(static_cast<void>(selected(study, {{"d"}, {}})), CallError);
  EXPECT_THROW(static_cast<void>(selected(study, {{}, {{"a", "b"}}})), CallError);
  EXPECT_THROW(static_cast<void>(parse_renaming("no sign")), CallError);
  EXPECT_THROW(static_cast<void>(parse_labels("a,,b")), CallError);
  EXPECT_EQ(parse_renaming("a=b=c").label, "a=b");
}

}  // namespace mnemon
