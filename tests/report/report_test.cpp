// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <csignal>
#include <limits>
#include <string>
#include <utility>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sys/resource.h>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/overlay.hpp>
#include <mnemon/report/page.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/report/strip.hpp>
#include <mnemon/report/study_json.hpp>
#include <mnemon/report/study_text.hpp>
#include <mnemon/report/table.hpp>

#include "support/made_study.hpp"
#include "support/messages.hpp"
#include "support/page_data.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

constexpr int kPageFrames = 20;

Truth small_truth() {
  Truth truth;
  for (int i = 0; i < kPageFrames; ++i) truth.rows.push_back({i, {{10, 10, 20, 20}, 0}, i < 8 || i > 11, 1});
  return truth;
}

StudyRun small_run(const Truth& truth, int tracker, double off_px) {
  StudyRun run;
  run.tracker = tracker;
  run.timed = true;
  for (int i = 0; i < kPageFrames; ++i)
    run.trace.rows.push_back({i,
                              {{10 + off_px, 10, 20, 20}, 0},
                              0.9,
                              i < 8 || i > 11,
                              1.0 + 0.1 * i,
                              i == 0 ? Event::seed : Event::none});
  run.score = std::make_shared<const RunScore>(score_run(truth, run.trace));
  return run;
}

std::string in_thousandths(double value) {
  std::string text = std::to_string(std::lround(value * 1000));
  return "0." + std::string(3 - text.size(), '0') + text;
}

// Two trackers that ran and one that failed, on one sequence, made by hand.
Study small_study() {
  Study study;
  study.title = "Kites & <others>";
  study.builds = {{"0.1", "abc", "a compiler", "a processor", 2, "an arithmetic"}};
  const std::string jpeg = jpeg_bytes(Image<Byte>(36, 64, 3).view(), 90);
  StudySequence gusty;
  gusty.name = "gusty";
  gusty.title = "A gust";
  gusty.frames = kPageFrames;
  gusty.size = {64, 36};
  gusty.rate_hz = 30;
  gusty.tags = {"fast"};
  gusty.measured_tags = {"small"};
  gusty.truth = small_truth();
  gusty.pictures = {{0, jpeg}, {9, jpeg}, {19, jpeg}};
  study.sequences.push_back(gusty);
  study.protocols = {make_protocol("single")};
  study.trackers = {{"near", "corr-plain", "{\"padding\":2.0}", ""},
                    {"far </script>", "corr-plain", "{}", ""},
                    {"broken", "x", "{}", ""}};
  study.runs = {small_run(study.sequences[0].truth, 0, 1), small_run(study.sequences[0].truth, 1, 8)};
  StudyRun broken;
  broken.tracker = 2;
  broken.failure = "out of luck";
  study.runs.push_back(broken);
  study.missing_runs = 2;
  return study;
}

}  // namespace

TEST(Base64, OfTheStandardsExamples) {
  const char* pairs[][2] = {{"", ""},
                            {"f", "Zg=="},
                            {"fo", "Zm8="},
                            {"foo", "Zm9v"},
                            {"foob", "Zm9vYg=="},
                            {"fooba", "Zm9vYmE="},
                            {"foobar", "Zm9vYmFy"},
                            {"\xff\xfe", "//4="}};
  for (const auto& [bytes, text] : pairs) EXPECT_EQ(base64(bytes), text);
}

TEST(Palette, HasSevenColours) {
  for (int i = 0; i < 7; ++i)
    for (int k = 0; k < i; ++k) EXPECT_NE(tracker_colour(i), tracker_colour(k));
  EXPECT_EQ(tracker_colour(7), tracker_colour(0));
  EXPECT_EQ(tracker_colour(0), "#e69e00");
}

TEST(Tables, HoldTheScores) {
  const Study study = small_study();
  const ReportTable runs = test::sequence_table(Results(study));
  ASSERT_EQ(runs.rows.size(), 3U);
  EXPECT_EQ(runs.rows[0].cells[0], in_thousandths(*study.runs[0].score->success_area));
  EXPECT_EQ(runs.rows[2].note, "out of luck");
  const ReportTable summary = summary_table(Results(study), 0);
  EXPECT_EQ(summary.rows[1].sequence, "mean of 1");
  EXPECT_EQ(summary.rows[2].sequence, "mean of 0");
  EXPECT_EQ(summary.rows[2].cells[0], "-");
}

TEST(Tables, LineUpAsText) {
  const Study study = small_study();
  const std::string text = table_text(test::sequence_table(Results(study)));
  test::expect_parts(text, {"tracker", "over", "success area", "near", "gusty", "failed: out of luck"});
  const auto first = text.find('\n');
  const auto second = text.find('\n', first + 1);
  EXPECT_EQ(second - first - 1, first);
}

TEST(StudyText, SaysWhatIsMissing) {
  const Study study = small_study();
  const std::string text = study_text(Results(study));
  test::expect_parts(text, {"mean of 1", "By difficulty", "group", "2 planned runs are not in this study yet",
                            "out of luck (on gusty under single)"});
}

TEST(StudyText, FitsAHundredColumns) {
  Study study = small_study();
  study.trackers[0].label = "a tracker with a name that takes up half of a terminal";
  std::size_t length = 0;
  for (const char c : study_text(Results(study), Pairs::left_out)) {
    length = c == '\n' ? 0 : length + ((static_cast<unsigned char>(c) & 0xc0) != 0x80 ? 1 : 0);
    ASSERT_LE(length, 100U);
  }
}

TEST(StudyJson, HasMeansAndRuns) {
  const Study study = small_study();
  const Json json = study_json(Results(study));
  EXPECT_EQ(json["runs"].size(), 3U);
  EXPECT_TRUE(json["runs"][2]["score"].is_null());
  EXPECT_EQ(json["protocols"][0]["trackers"]["near"]["over_sequences"]["success_area"]["sequences"], 1);
  EXPECT_EQ(json["missing_runs"], 2);
}

TEST(Figures, AreTheCurvesOfTheScores) {
  const Study study = small_study();
  const ReportFigure success = curve_figures(Results(study))[0];
  ASSERT_EQ(success.lines.size(), 2U);
  EXPECT_EQ(success.lines[1].y, study.runs[1].score->overlap_curve);
  EXPECT_EQ(curve_figures(Results(study))[1].lines[0].y, study.runs[0].score->centre_curve);
}

TEST(Figures, ShadeTheAbsentFrames) {
  const Study study = small_study();
  std::vector<ReportFigure> figures;
  visit_overlap_figures(Results(study), [&](const ReportFigure& one) { figures.push_back(one); });
  const ReportFigure& figure = figures.at(0);
  ASSERT_EQ(figure.shaded.size(), 1U);
  EXPECT_EQ(figure.shaded[0].from, 7.5);
  EXPECT_EQ(figure.shaded[0].to, 11.5);
  ASSERT_EQ(figure.lines[0].x.size(), kPageFrames - 1U);
  EXPECT_TRUE(std::isnan(figure.lines[0].y[8]));  // frame 9
  EXPECT_NEAR(figure.lines[0].y[0], 19.0 / 21, 1e-12);
}

TEST(StepTimeFigure, SharesAddUpToOne) {
  const Study study = small_study();
  const ReportFigure figure = step_time_figures(Results(study))[0];
  ASSERT_EQ(figure.lines.size(), 2U);
  double sum = 0;
  for (const double share : figure.lines[0].y) sum += share;
  EXPECT_NEAR(sum, 1, 1e-12);
}

TEST(DrawFigures, WritesBothForms) {
  const test::TempFolder folder;
  ReportFigure odd{"odd",
                   "a \"quoted\" title with _ and {",
                   "x",
                   "y",
                   {{"line", "#e69e00", {0, 1, 2}, {0, std::nan(""), 1}}},
                   {{0.5, 1.5}},
                   false,
                   true};
  const ReportFigure empty{"empty", "nothing", "x", "y", {}, {}, false, false};
  draw_figures({odd, empty}, folder / "figures");
  for (const char* name : {"odd", "empty"}) {
    EXPECT_GT(read_picture(folder / ("figures/" + std::string(name) + ".png")).cols(), 1000);
    EXPECT_NE(read_file(folder / ("figures/" + std::string(name) + ".svg")).find("</svg>"),
              std::string::npos);
  }
  EXPECT_NE(read_file(folder / "figures/odd.svg").find("quoted"), std::string::npos);
}

TEST(DrawFigures, TakesTextAsText) {
  const test::TempFolder folder;
  ReportFigure figure{
      "odd%20name", "`touch one` it's \"so\"", "a\nb \\n $(touch two)", "@y \xff", {}, {}, false, true};
  figure.lines.push_back({"`touch three`", "#336699", {0, 1}, {0, 1}});
  figure.lines.push_back({"' ; system 'touch four' ; '", "#996633", {0, 1}, {1, 0}});
  const std::filesystem::path to = folder / "|touch five; `touch six`";
  draw_figures({figure}, to);
  EXPECT_EQ(test::names_in(to), (std::set<std::string>{"figures.gp", "odd%20name.png", "odd%20name.svg"}));
  EXPECT_EQ(test::names_in(folder.path()).size(), 1U);
  const std::string svg = read_file(to / "odd%20name.svg");
  for (const char* text : {"`touch one` it's", "`touch three`", "touch four", "$(touch two)"})
    EXPECT_NE(svg.find(text), std::string::npos) << text;
}

TEST(DrawFigures, DrawLinesWithoutPointsAsNone) {
  const test::TempFolder folder;
  const double none = std::numeric_limits<double>::quiet_NaN();
  ReportFigure figure{"bare", "of one frame", "x", "y", {}, {}, false, true};
  figure.lines.push_back({"nothing", "#336699", {}, {}});
  figure.lines.push_back({"gap", "#996633", {1, 2}, {none, none}});
  draw_figures({figure}, folder.path());
  EXPECT_TRUE(test::names_in(folder.path()).contains("bare.svg"));
  figure.lines.push_back({"one point", "#339966", {1}, {0.5}});
  draw_figures({figure}, folder.path());
}

TEST(DrawFigures, LeavesWhatWasThereWhereAFigureIsNotWhole) {
  const test::TempFolder folder;
  const ReportFigure figure{"plain", "plain", "x", "y", {}, {}, false, true};
  draw_figures({figure}, folder / "figures");
  const std::string before = read_file(folder / "figures/plain.svg");
  // Bytes that a file may have at the most: the SVG ends early, as on a full disk, and the package does not say so.
  rlimit limit{};
  ::getrlimit(RLIMIT_FSIZE, &limit);
  const rlimit small{5000, limit.rlim_max};
  const auto old_handler = std::signal(SIGXFSZ, SIG_IGN);
  ::setrlimit(RLIMIT_FSIZE, &small);
  EXPECT_THROW(draw_figures({figure}, folder / "figures"), Error);
  ::setrlimit(RLIMIT_FSIZE, &limit);
  std::signal(SIGXFSZ, old_handler);
  EXPECT_EQ(read_file(folder / "figures/plain.svg"), before);
  EXPECT_EQ(test::names_in(folder / "figures"),
            (std::set<std::string>{"figures.gp", "plain.png", "plain.svg"}));
}

TEST(DrawFigures, LabelAShortLogarithmicAxis) {
  const test::TempFolder folder;
  draw_figures(
      {{"short", "t", "ms", "share", {{"line", "#e69e00", {0.13, 0.2, 0.41}, {0, 1, 0}}}, {}, true, false}},
      folder.path());
  const std::string drawn = read_file(folder / "short.svg");
  for (const char* tick : {">0.15<", ">0.3<"}) EXPECT_NE(drawn.find(tick), std::string::npos) << tick;
}

TEST(FilmStrip, DrawsTruthAndEstimates) {
  const Study study = small_study();
  const auto pictures = film_strip(Results(study), 0, 0);
  ASSERT_EQ(pictures.size(), 3U);
  EXPECT_EQ(pictures[0].caption, "frame 0");
  EXPECT_EQ(pictures[1].caption, "frame 9, absent");
  const auto brightest = [](const Image<Byte>& rgb) { return *std::ranges::max_element(rgb.elements()); };
  EXPECT_GT(brightest(pictures[0].rgb), 200);
  const Image<Byte> sheet = contact_sheet(pictures);
  EXPECT_GT(sheet.cols(), 3 * 64);
}

TEST(Page, HoldsEverythingAndReachesForNothing) {
  const std::string html = page_html(small_study());
  test::expect_parts(html, {"<title>Kites &amp; &lt;others&gt;</title>", "Chart.js", "mnemon/main"});
  const Json data = test::page_data(html);
  EXPECT_EQ(data["format"], "mnemon-report/1");
  EXPECT_EQ(data["title"], "Kites & <others>");
  EXPECT_EQ(data["missing_runs"], 2);
  EXPECT_EQ(data["trackers"].size(), 3U);
  ASSERT_EQ(data["runs"].size(), 2U);  // of the three one failed
  test::expect_parts(data["sequences"]["0"]["facts"].get<std::string>(),
                     {"by its truth also small; by its truth not fast"});
  EXPECT_EQ(data["sequences"]["0"]["pictures"].size(), 3U);
  EXPECT_TRUE(
      data["sequences"]["0"]["pictures"][0]["src"].get<std::string>().starts_with("data:image/jpeg;base64,"));
  EXPECT_EQ(data["protocols"][0]["runs"]["rows"][2]["note"], "out of luck");
  for (const char* outside : {"src=\"http", "href=\"http", "url(http", "@import"})
    EXPECT_EQ(html.find(outside), std::string::npos) << outside;
}

// Seven colours do for seven trackers; the eighth has the first one's.
Study wide_study(int trackers) {
  Study study = small_study();
  const StudyRun first = study.runs.front();
  const StudyTracker like = study.trackers.front();
  study.trackers.resize(trackers, like);
  study.runs.clear();
  for (int i = 0; i < trackers; ++i) {
    study.trackers[i].label = "t" + std::to_string(i);
    study.runs.push_back(first);
    study.runs.back().tracker = i;
  }
  return study;
}

int count_of(const std::string& part, const std::string& text) {
  int count = 0;
  for (std::size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++count;
  return count;
}

TEST(Page, TellsTrackersOfOneColourApart) {
  const Json trackers = test::page_data(page_html(wide_study(8)))["trackers"];
  EXPECT_EQ(trackers[0]["colour"], trackers[7]["colour"]);
  EXPECT_FALSE(trackers[0]["dashed"]);
  EXPECT_TRUE(trackers[7]["dashed"]);
}

TEST(FilmStrip, DrawsBoxesOfOneColourApart) {
  const Study study = wide_study(8);
  const auto coloured = [&](int tracker) {
    Study some = study;
    some.runs = {study.runs[tracker]};
    const auto pictures = film_strip(Results(some), 0, 0);
    const Image<Byte>& rgb = pictures.front().rgb;
    int count = 0;
    for (std::size_t i = 0; i < rgb.elements().size(); i += 3)
      count += rgb.elements()[i] > 150 && rgb.elements()[i + 2] < 80 ? 1 : 0;  // the first colour, amber
    return count;
  };
  const int solid = coloured(0);
  const int dotted = coloured(7);
  EXPECT_GT(dotted, 0);
  EXPECT_LT(dotted, 0.8 * solid);
}

TEST(FilmStrip, NamesWhoLostTheTargetBesideThePicture) {
  Study study = wide_study(9);
  study.sequences.front().pictures = {
      {9, jpeg_bytes(Image<Byte>(180, 320, 3).view(), 90)}};  // all have lost it there
  study.sequences.front().size = {320, 180};
  const auto pictures = film_strip(Results(study), 0, 0);
  ASSERT_EQ(pictures.front().lost.size(), 10U);
  EXPECT_EQ(pictures.front().lost[0].text, "lost by");
  EXPECT_EQ(pictures.front().lost[9].text, "t8");
  EXPECT_LT(*std::ranges::max_element(pictures.front().rgb.elements()), 20);  // nothing is drawn over it
  const int with_names = contact_sheet(pictures).rows();
  auto without = film_strip(Results(study), 0, 0);
  without.front().lost.clear();
  EXPECT_GE(with_names,
            contact_sheet(without).rows() + 2 * 25);  // ten labels take at least two lines of 320 px
}

TEST(Overlay, KeepsLabelsOffThePictureAndItsSize) {
  const Image<Byte> grey(100, 200, 3);
  TraceRow row{3, {{50, 30, 40, 30}, 0}, 0.8, false, {}, Event::none};
  const Image<Byte> lost = Overlay().draw({grey.view(), 3, 0}, {{"corr-plain", row}}, nullptr);
  EXPECT_GT(lost.rows(), 120);
  EXPECT_EQ(lost.rows() % 2, 0);
  for (int r = 10; r < 90; ++r)
    for (int c = 10; c < 190; ++c) EXPECT_EQ(lost(r, c, 1), 0);
  row.present = true;
  EXPECT_EQ(Overlay().draw({grey.view(), 12345, 0}, {{"corr-plain", row}}, nullptr).rows(), lost.rows());
}

TEST(Page, LetsNoLabelEndItsScript) {
  Study study = small_study();
  study.trackers[0].label = "<!--<script>";
  const std::string html = page_html(study);
  EXPECT_EQ(html.find("far </script>"), std::string::npos);
  EXPECT_NE(html.find("far \\u003c/script>"), std::string::npos);
  EXPECT_EQ(html.find("<!--"), std::string::npos);
}

TEST(Page, IsUtf8WhateverNamesAre) {
  Study study = small_study();
  study.sequences[0].name = "gu\xffsty";
  study.trackers[0].label = "red \x1b[31m";
  const std::string html = page_html(study);
  EXPECT_EQ(plain_text(html), html);
  EXPECT_NE(html.find("gu\uFFFDsty"), std::string::npos);
}

TEST(WriteReport, PutsPageAndFiguresInPlace) {
  const test::TempFolder folder;
  const auto page = write_report(small_study(), folder.path());
  EXPECT_EQ(page, folder / "report/index.html");
  const auto names = test::names_in(folder / "report/figures");
  for (const char* name :
       {"success.svg", "centre.png", "overlap-gusty.svg", "step-time.png", "strip-gusty.png"})
    EXPECT_TRUE(names.contains(name)) << name;
}

TEST(Overlay, MarksWhetherTheTargetIsHeld) {
  const Image<Byte> grey(100, 200, 3);
  const Frame frame{grey.view(), 3, 0};
  TraceRow row{3, {{50, 30, 40, 30}, 0}, 0.8, true, {}, Event::none};
  const Image<Byte> held = Overlay().draw(frame, {{"corr-plain", row}}, nullptr);
  EXPECT_GT(held(30, 70, 0), 150);  // on the box's upper edge
  EXPECT_EQ(held(1, 199, 0), 0);
  row.present = false;
  const Image<Byte> lost = Overlay().draw(frame, {{"corr-plain", row}}, nullptr);
  EXPECT_GT(lost(1, 199, 0), 150);  // on the frame's edge
  EXPECT_EQ(lost(60, 89, 0), 0);
}

TEST(Overlay, DrawsTrackersApartWithTheirTrails) {
  const Image<Byte> grey(120, 300, 3);
  Overlay overlay;
  Image<Byte> drawn;
  for (int i = 0; i < 5; ++i) {
    const TraceRow one{i, {{20.0 + 10 * i, 20, 30, 30}, 0}, 1, true, {}, Event::none};
    const TraceRow two{i, {{200, 20, 30, 30}, 30}, 1, true, {}, Event::none};
    drawn = overlay.draw({grey.view(), i, 0}, {{"one", one}, {"two", two}}, nullptr);
  }
  EXPECT_GT(drawn(35, 50, 0), 20);   // the first tracker came from the left
  EXPECT_GT(drawn(20, 75, 0), 150);  // and has an orange box
  EXPECT_LT(drawn(20, 75, 2), 60);
  int blue = 0;
  for (int r = 10; r < 60; ++r)
    for (int c = 190; c < 240; ++c) blue += drawn(r, c, 2) > 100 && drawn(r, c, 0) < 60 ? 1 : 0;
  EXPECT_GT(blue, 20);
}

TEST(Overlay, OutlinesTheTrueMask) {
  const Image<Byte> grey(60, 60, 3);
  Image<Byte> mask(60, 60);
  for (int r = 20; r < 40; ++r)
    for (int c = 20; c < 40; ++c) mask(r, c) = 255;
  const Image<Byte> drawn = Overlay().draw({grey.view(), 0, 0}, {}, nullptr, std::as_const(mask).view());
  // The line lies on the edge between two pixels.
  for (const auto& [r, c] : {std::pair{19, 30}, {39, 30}})
    EXPECT_GT(drawn(r, c, 0) + drawn(r + 1, c, 0), 200);
  for (const auto& [r, c] : {std::pair{25, 19}, {25, 39}})
    EXPECT_GT(drawn(r, c, 0) + drawn(r, c + 1, 0), 200);
  EXPECT_EQ(drawn(25, 30, 0), 0);
  EXPECT_EQ(drawn(10, 30, 0), 0);
}

TEST(BoxMask, CoversWhatTheBoxCovers) {
  TraceRow row{0, {{10, 20, 30, 12}, 0}, 1, true, {}, Event::none};
  const auto area = [&] { return std::ranges::count(box_mask(row, {80, 60}).elements(), 255); };
  EXPECT_EQ(area(), 360);
  row.box.angle_deg = 90;
  EXPECT_EQ(area(), 360);
  EXPECT_EQ(box_mask(row, {80, 60})(13, 25), 255);  // upright now, about (25, 26)
  row.box.angle_deg = 33;
  EXPECT_NEAR(static_cast<double>(area()), 360, 15);
  row.present = false;
  EXPECT_EQ(area(), 0);
}

TEST(StagePicture, SpansBlackToWhiteAndIsLargeEnoughToSee) {
  Image<float> small(3, 4);
  small(0, 0) = -2;
  small(2, 3) = 6;
  const Image<Byte> picture = stage_picture({"x", std::as_const(small).view()});
  EXPECT_GE(picture.cols(), 256);
  EXPECT_EQ(picture.cols() % 4, 0);
  EXPECT_EQ(picture(0, 0), 0);
  EXPECT_EQ(picture(picture.rows() - 1, picture.cols() - 1), 255);
  EXPECT_EQ(picture(0, picture.cols() - 1), 64);  // 0 is a quarter of the way from -2 to 6
}

}  // namespace mnemon
