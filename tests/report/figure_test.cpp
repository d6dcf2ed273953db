// SPDX-License-Identifier: MIT
#include <mnemon/report/figure/figure_list.hpp>

#include <algorithm>
#include <cmath>
#include <set>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/report/figure_json.hpp>

#include "support/made_study.hpp"

namespace mnemon {
namespace {

constexpr int kStudyFrames = 120;
constexpr int kSequences = 3;

OrientedBox target(int frame) { return {{10.0 + 3 * frame, 20, 20, 20}, 0}; }

// A tracker that is off by some pixels to the right, takes so long a step, and from a frame on claims nothing.
struct Made {
  double off_px;
  double step_ms;
  int lost_from = kStudyFrames;
};

StudyRun run_of(const Study& study, int tracker, int sequence, const Made& made) {
  StudyRun run;
  run.tracker = tracker;
  run.sequence = sequence;
  run.timed = true;
  for (int i = 0; i < kStudyFrames; ++i) {
    OrientedBox box = target(i);
    if (i > 0) box.box.x += made.off_px;
    run.trace.rows.push_back({i, box, i < made.lost_from ? 0.95 : 0.05, i < made.lost_from, made.step_ms,
                              i == 0 ? Event::seed : Event::none});
  }
  const Truth& truth = study.sequences[static_cast<std::size_t>(sequence)].truth;
  run.score = std::make_shared<const RunScore>(score_run(truth, run.trace));
  run.troubles = troubles_of_run(truth, run.trace, {});
  return run;
}

Study made_study(const std::vector<Made>& trackers) {
  Study study;
  study.protocols.push_back(make_protocol("single"));
  for (int s = 0; s < kSequences; ++s) {
    StudySequence sequence;
    sequence.name = "s" + std::to_string(s);
    sequence.frames = kStudyFrames;
    sequence.size = {640, 60};
    sequence.rate_hz = 30;
    if (s > 0) sequence.tags = {"fast"};
    for (int i = 0; i < kStudyFrames; ++i) sequence.truth.rows.push_back({i, target(i), true});
    study.sequences.push_back(sequence);
  }
  for (std::size_t t = 0; t < trackers.size(); ++t) {
    study.trackers.push_back({std::string(1, static_cast<char>('a' + t)), "x", "{}", ""});
    for (int s = 0; s < kSequences; ++s)
      study.runs.push_back(run_of(study, static_cast<int>(t), s, trackers[t]));
  }
  return study;
}

const FigureSeries& line_of(const ReportFigure& figure, const std::string& label) {
  const auto at = std::ranges::find(figure.lines, label, &FigureSeries::label);
  if (at == figure.lines.end()) throw std::runtime_error("no series " + label);
  return *at;
}

// 20 px boxes that are off by d share 20 - d of 20 + d.
double overlap_off(double d) { return (20 - d) / (20 + d); }

}  // namespace

TEST(AccuracySpeed, FindsThoseThatNothingBeatsInBoth) {
  // a is accurate and slow, b is quick and less so, c is slower than b and worse.
  const Study study = made_study({{0, 10}, {4, 1}, {8, 2}});
  const auto figures = accuracy_speed_figures(Results(study));
  ASSERT_EQ(figures.size(), 1U);
  std::vector<std::string> front;
  for (const int place : figures[0].front) front.push_back(figures[0].lines[place].label);
  EXPECT_EQ(front, (std::vector<std::string>{"a", "b"}));
  EXPECT_NEAR(line_of(figures[0], "b").x[0], 1000, 1e-6);
  EXPECT_NEAR(line_of(figures[0], "b").y[0], overlap_off(4), 1e-12);
}

TEST(AccuracySpeed, LeavesOutFloorsAndWhatHasNoTimes) {
  Study study = made_study({{0, 10}, {4, 1}});
  study.trackers[1].name = "stay";
  EXPECT_EQ(accuracy_speed_figures(Results(study))[0].lines.size(), 1U);
  for (StudyRun& run : study.runs) run.timed = false;
  EXPECT_TRUE(accuracy_speed_figures(Results(study)).empty());
}

TEST(Curves, HaveTheirMeansWithinTheirIntervals) {
  const Study study = made_study({{3, 1}, {6, 1}});
  for (const ReportFigure& figure : curve_figures(Results(study)))
    for (const FigureSeries& line : figure.lines)
      for (std::size_t i = 0; i < line.x.size(); ++i) {
        EXPECT_LE(line.low[i], line.y[i]);
        EXPECT_GE(line.high[i], line.y[i]);
      }
}

TEST(Tags, AreMeansOverSequencesWithTheTag) {
  Study study = made_study({{0, 1}});
  // On the sequence without the tag.
  test::change_score(study.runs[0], [](RunScore& score) { score.success_area = 0.1; });
  const auto figures = tag_figures(Results(study));
  ASSERT_EQ(figures.size(), 1U);
  EXPECT_EQ(figures[0].categories, std::vector<std::string>{"fast"});
  EXPECT_NEAR(figures[0].lines[0].y[0], 1, 1e-12);
}

TEST(Losses, AreCountedByCause) {
  const Study study = made_study({{0, 1}, {0, 1, 60}});
  const auto figures = loss_figures(Results(study));
  const ReportFigure& losses = figures[0];
  ASSERT_EQ(losses.name, "losses");
  ASSERT_EQ(losses.lines.size(), 1U);
  EXPECT_EQ(losses.lines[0].label, "said lost");
  EXPECT_EQ(losses.categories, (std::vector<std::string>{"a", "b"}));
  EXPECT_EQ(losses.lines[0].y, (std::vector<double>{0, kSequences}));
}

TEST(Confidence, IsRightAsOftenAsItSaysOnTheDiagonal) {
  // Off by 10 px the overlap is a third: claims at 0.95 that are never on the target.
  const Study study = made_study({{0, 1}, {10, 1}});
  const auto figures = confidence_figures(Results(study));
  ASSERT_EQ(figures.size(), 1U);
  EXPECT_EQ(line_of(figures[0], "a").y, std::vector<double>{1});
  EXPECT_NEAR(line_of(figures[0], "a").x[0], 0.95, 1e-12);
  EXPECT_EQ(line_of(figures[0], "b").y, std::vector<double>{0});
}

TEST(OverlapLost, AddsUpToWhatIsMissing) {
  const Study study = made_study({{5, 1}});
  const auto figures = overlap_part_figures(Results(study));
  double sum = 0;
  for (const FigureSeries& part : figures[0].lines) sum += part.y[0];
  EXPECT_NEAR(sum, 1 - overlap_off(5), 1e-12);
  EXPECT_NEAR(line_of(figures[0], "offset of the centre").y[0], sum, 1e-12);
}

TEST(Covered, IsTheShareOfTheTargetInTheBox) {
  const Study study = made_study({{5, 1}});
  const auto figures = overlap_part_figures(Results(study));
  EXPECT_EQ(figures[1].name, "covered");
  EXPECT_NEAR(figures[1].lines[0].y[0], 15.0 / 20, 1e-12);
}

TEST(Steadiness, OfABoxThatIsOffByTheSameIsNothing) {
  const Study steady = made_study({{5, 1}});
  const auto figures = steadiness_figures(Results(steady));
  ASSERT_EQ(figures.size(), 2U);
  EXPECT_NEAR(figures[0].lines[0].y[0], 0, 1e-9);
  // The target moves by 3 px a frame to the right, so that 6 px to the left are two frames behind.
  const Study behind = made_study({{-6, 1}});
  EXPECT_NEAR(steadiness_figures(Results(behind))[1].lines[0].y[0], 2, 1e-6);
}

TEST(Wear, FallsWhereTheTargetIsLost) {
  const Study study = made_study({{0, 1, 61}});
  const auto figures = wear_figures(Results(study));
  const std::vector<double>& overlaps = figures[0].lines[0].y;
  ASSERT_EQ(overlaps.size(), 10U);
  for (int i = 0; i < 10; ++i) EXPECT_NEAR(overlaps[i], i < 5 ? 1 : 0, 1e-12) << i;
}

TEST(FigureList, NamesEveryFigureOnce) {
  const Study study = made_study({{0, 1}, {4, 2}});
  std::set<std::string> names;
  std::vector<ReportFigure> figures = figures_of(answered_questions(Results(study)));
  visit_overlap_figures(Results(study), [&](const ReportFigure& one) { figures.push_back(one); });
  for (const ReportFigure& figure : figures) EXPECT_TRUE(names.insert(figure.name).second) << figure.name;
  for (const char* name : {"accuracy-speed", "success", "centre", "tags", "confidence", "jitter", "lag",
                           "overlap-lost", "covered", "wear", "step-time", "overlap-s0"})
    EXPECT_TRUE(names.contains(name)) << name;
  EXPECT_FALSE(names.contains("luck"));  // of one protocol alone
}

TEST(FigureJson, HasEveryValue) {
  const Study study = made_study({{0, 1, 60}});
  const Json groups = answers_json(answered_questions(Results(study)));
  ASSERT_FALSE(groups.empty());
  for (const Json& group : groups)
    for (const Json& figure : group["figures"])
      for (const Json& series : figure["series"]) EXPECT_EQ(series["x"].size(), series["y"].size());
  EXPECT_EQ(groups[0]["question"], "Which to take");
}

// What only processes tell: the most memory that they took, and the size of their models.
TEST(Figures, TellThePriceOfProcesses) {
  Study study = test::study_of({{0.5, 0.6}, {0.4, 0.5}});
  EXPECT_TRUE(memory_figures(Results(study)).empty());
  study.trackers[1].name = "process";
  study.trackers[1].params = R"({"process": {"command": ["x"], "model_bytes": 25e6}})";
  study.runs[2].peak_bytes = 3e8;
  study.runs[3].peak_bytes = 4e8;
  const auto figures = memory_figures(Results(study));
  ASSERT_EQ(figures.size(), 2U);
  EXPECT_EQ(figures[0].name, "memory");
  EXPECT_EQ(figures[0].lines.at(0).y, std::vector<double>{400});
  EXPECT_EQ(figures[1].name, "model");
  ASSERT_EQ(figures[1].lines.size(), 1U);
  EXPECT_EQ(figures[1].lines[0].y, std::vector<double>{25});
}

}  // namespace mnemon
