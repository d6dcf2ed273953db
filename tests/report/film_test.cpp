// SPDX-License-Identifier: MIT
#include <mnemon/report/film.hpp>

#include <algorithm>
#include <utility>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_source.hpp>
#include <mnemon/report/overlay.hpp>
#include <mnemon/report/panel.hpp>
#include <mnemon/sequence/sequence.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

constexpr int kFilmFrames = 12;
constexpr int kWidth = 200;
constexpr int kHeight = 100;

// Two trackers on a black sequence; the second says from frame 6 on that it lost the target.
Study two_trackers(const std::filesystem::path& where = {}) {
  Study study;
  study.protocols.push_back(make_protocol("single"));
  StudySequence sequence;
  sequence.name = "black";
  sequence.path = where.string();
  sequence.frames = kFilmFrames;
  sequence.size = {kWidth, kHeight};
  sequence.rate_hz = 25;
  for (int i = 0; i < kFilmFrames; ++i) sequence.truth.rows.push_back({i, {{20, 20, 30, 30}, 0}, true});
  study.sequences.push_back(sequence);
  for (int t = 0; t < 2; ++t) {
    study.trackers.push_back({t == 0 ? "first" : "second", "x", "{}", ""});
    StudyRun run;
    run.tracker = t;
    for (int i = 0; i < kFilmFrames; ++i)
      run.trace.rows.push_back({i,
                                {{20.0 + 70 * t, 20, 30, 30}, 0},
                                0.9,
                                t == 0 || i < 6,
                                4.0,
                                i == 0 ? Event::seed : Event::none});
    run.score = std::make_shared<const RunScore>(score_run(sequence.truth, run.trace));
    study.runs.push_back(run);
  }
  return study;
}

// How many pixels of a part of the picture are not black.
int lit(const Image<Byte>& rgb, int left, int top, int right, int bottom) {
  int count = 0;
  for (int r = top; r < bottom; ++r)
    for (int c = left; c < right; ++c) count += rgb(r, c, 0) + rgb(r, c, 1) + rgb(r, c, 2) > 150 ? 1 : 0;
  return count;
}

Image<Byte> drawn(const FilmForm& form, int frame) {
  const Study study = two_trackers();
  const Results results(study);
  const Image<Byte> black(kHeight, kWidth, 3);
  return FilmFrames(results, 0, form).draw({black.view(), frame, frame / 25.0});
}

}  // namespace

TEST(Film, DrawsBoxesOnThePictureAndWordsBelow) {
  const Image<Byte> rgb = drawn({}, 3);
  EXPECT_EQ(rgb.cols(), kWidth);
  EXPECT_GT(rgb.rows(), kHeight + 60);
  EXPECT_EQ(rgb.rows() % 2, 0);
  EXPECT_GT(lit(rgb, 85, 15, 125, 55), 60);  // a box of 120 px around, a third of its line dots of 2 px
  EXPECT_EQ(lit(rgb, 130, 0, kWidth, kHeight), 0);  // and nothing else there
}

TEST(Film, ShowsALostTrackerThinlyAtItsLastBox) {
  const int held = lit(drawn({}, 5), 85, 15, 125, 55);
  const int lost = lit(drawn({}, 8), 85, 15, 125, 55);
  EXPECT_GT(lost, 0);
  EXPECT_LT(lost, held / 2);
}

TEST(Film, SwapsLeftAndRight) {
  FilmForm form;
  form.is_swapped = true;
  const Image<Byte> rgb = drawn(form, 3);
  EXPECT_GT(lit(rgb, kWidth - 125, 15, kWidth - 85, 55), 60);
  EXPECT_EQ(lit(rgb, 0, 0, 70, kHeight), 0);
}

TEST(Film, PutsAPictureATrackerBesideAnother) {
  FilmForm form;
  form.is_beside = true;
  form.width = 100;
  const Image<Byte> rgb = drawn(form, 3);
  EXPECT_EQ(rgb.cols(), 2 * 100 + 4);
  // Halved: the second tracker's box lies at 45 to 60 of the second picture, and of the first there is none.
  EXPECT_GT(lit(rgb, 104 + 43, 8, 104 + 62, 28), 20);
  EXPECT_EQ(lit(rgb, 43, 8, 62, 28), 0);
}

TEST(Film, IsOfOneSizeAndRefusesOddForms) {
  EXPECT_EQ(drawn({}, 0).rows(), drawn({}, 11).rows());
  FilmForm odd;
  odd.line_px = 0.1;
  EXPECT_THROW(drawn(odd, 0), CallError);
  odd = {};
  odd.width = 20;
  EXPECT_THROW(drawn(odd, 0), CallError);
}

TEST(Film, TakesOtherColoursAndPutsAStageBeside) {
  EXPECT_EQ(parse_ink("a=b=#ff8000").label, "a=b");
  EXPECT_NEAR(parse_ink("a=#ff8000").ink.green, 128 / 255.0, 1e-12);
  for (const char* wrong : {"a", "=#ff8000", "a=#ff80", "a=red", "a=#ff80zz"})
    EXPECT_THROW(static_cast<void>(parse_ink(wrong)), CallError) << wrong;
  const Study study = two_trackers();
  FilmForm form;
  form.stage = "match";
  form.inks = {{"second", {1, 0, 0}}};
  const Image<Byte> black(kHeight, kWidth, 3);
  Image<Byte> stage(10, 10, 1);
  for (Byte& value : stage.elements()) value = 200;
  const Results results(study);
  const Image<Byte> rgb =
      FilmFrames(results, 0, form).draw({black.view(), 3, 0.12}, std::as_const(stage).view());
  EXPECT_GT(rgb.cols(), kWidth + kHeight);
  EXPECT_EQ(rgb(50, kWidth + 50, 0), 200);
  int red = 0;
  for (int c = 85; c < 125; ++c) red += rgb(20, c, 0) > 200 && rgb(20, c, 2) < 60 ? 1 : 0;
  EXPECT_GT(red, 5);
}

TEST(StageOver, IsHalfOfEachWhereTheStageLies) {
  Image<Byte> frame(20, 40, 3);
  for (Byte& value : frame.elements()) value = 100;
  Image<Byte> stage(1, 2, 1);
  stage(0, 1) = 200;
  const Image<Byte> mixed =
      with_stage_over(std::as_const(frame).view(), std::as_const(stage).view(), {{10, 5, 20, 10}, 0});
  EXPECT_EQ(mixed(4, 15, 0), 100);   // above it
  EXPECT_EQ(mixed(10, 9, 1), 100);   // left of it
  EXPECT_EQ(mixed(10, 12, 1), 50);   // its left half is 0
  EXPECT_EQ(mixed(10, 25, 2), 150);  // its right half 200
  // Turned by half a turn, left is right.
  const Image<Byte> turned =
      with_stage_over(std::as_const(frame).view(), std::as_const(stage).view(), {{10, 5, 20, 10}, 180});
  EXPECT_EQ(turned(10, 12, 1), 150);
  EXPECT_EQ(turned(10, 25, 1), 50);
}

// A tracker that shows one stage, which lies in the frame, and one that does not.
class TwoStages final : public Tracker {
 public:
  TwoStages() : picture_(2, 2) { picture_(1, 1) = 1; }

 private:
  Estimate do_seed(const Frame&, const Region&, const Box& box) override { return {{box, 0}, 1, true}; }
  Estimate do_follow(const Frame&) override { return {{{20, 20, 30, 30}, 0}, 1, true}; }
  std::vector<Stage> do_stages() override {
    return {{"lies", std::as_const(picture_).view(), OrientedBox{{0, 0, 100, 100}, 0}},
            {"none", std::as_const(picture_).view()}};
  }
  Image<float> picture_;
};

TEST(WriteFilm, LaysAStageOverTheFrame) {
  const test::TempFolder folder;
  const Image<Byte> black(kHeight, kWidth, 3);
  for (int i = 0; i < kFilmFrames; ++i)
    write_png(folder / ("in/" + std::to_string(100 + i) + ".png"), black.view());
  Study study = two_trackers(folder / "in");
  study.trackers.pop_back();
  study.runs.pop_back();
  FilmForm form;
  form.stage_over = true;
  const auto write = [&](const char* stage) {
    form.stage = stage;
    write_film(Results(study), "black", form, folder / "film.mp4",
               [](const StudyTracker&) { return std::make_unique<TwoStages>(); }, {});
  };
  test::expect_parts(test::message_of<CallError>([&] { write("none"); }),
                     {"'none' lies nowhere in the frame"});
  write("lies");
  const auto film = open_video(folder / "film.mp4");
  const auto frame = film->next();
  EXPECT_LE(frame->rgb.cols, kWidth + 1);  // nothing beside
  EXPECT_NEAR(frame->rgb(75, 90, 0), 128, 12);
  EXPECT_LT(frame->rgb(90, 150, 0), 20);
}

// Tells the first pixel of the frames that it is shown.
class FirstPixel final : public Tracker {
 public:
  explicit FirstPixel(int& seen) : seen_(seen) {}

 private:
  Estimate do_seed(const Frame& frame, const Region&, const Box& box) override {
    seen_ = frame.rgb(0, 0, 0);
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame&) override { return {{{20, 20, 30, 30}, 0}, 1, true}; }
  std::vector<Stage> do_stages() override { return {{"plain", std::as_const(picture_).view()}}; }

  int& seen_;
  Image<float> picture_{1, 1};
};

// A tracker that is run again for its stages sees no more than it did in the study.
TEST(WriteFilm, RunsATrackerAgainOnWhatItWasShown) {
  const test::TempFolder folder;
  Image<Byte> picture(kHeight, kWidth, 3);
  picture(0, 0, 0) = 250;  // on black
  for (int i = 0; i < kFilmFrames; ++i)
    write_png(folder / ("in/" + std::to_string(100 + i) + ".png"), picture.view());
  Study study = two_trackers(folder / "in");
  study.trackers.pop_back();
  study.runs.pop_back();
  FilmForm form;
  form.stage = "plain";
  const auto first_pixel = [&] {
    int seen = -1;
    write_film(Results(study), "black", form, folder / "film.mp4",
               [&](const StudyTracker&) { return std::make_unique<FirstPixel>(seen); }, {});
    return seen;
  };
  EXPECT_EQ(first_pixel(), 250);
  write_file(
      folder / "in/sequence.toml",
      "format = \"mnemon-sequence/1\"\nframes = \".\"\n[[keep_out]]\npolygon = [[0, 0], [4, 0], [4, 4], "
      "[0, 4]]\n");
  EXPECT_EQ(first_pixel(), 0);
}

TEST(WriteFilm, HasAFrameAFrame) {
  const test::TempFolder folder;
  const Image<Byte> black(kHeight, kWidth, 3);
  for (int i = 0; i < kFilmFrames; ++i)
    write_png(folder / ("in/" + std::to_string(100 + i) + ".png"), black.view());
  const Study study = two_trackers(folder / "in");
  int done = 0;
  write_film(Results(study), "black", {}, folder / "film.mp4", {}, [&](int now, int) { done = now; });
  EXPECT_EQ(done, kFilmFrames);
  const auto film = open_video(folder / "film.mp4");
  int frames = 0;
  while (film->next()) ++frames;
  EXPECT_EQ(frames, kFilmFrames);
}

TEST(WriteFilm, SaysWhatIsNotThere) {
  const test::TempFolder folder;
  const Study study = two_trackers(folder / "gone");
  const auto write = [&](const std::string& name) {
    write_film(Results(study), name, {}, folder / "film.mp4", {}, {});
  };
  test::expect_parts(test::message_of<CallError>([&] { write("blank"); }), {"no sequence 'blank'"});
  test::expect_parts(test::message_of<DataError>([&] { write("black"); }), {"gone", "no longer here"});
  EXPECT_TRUE(test::names_in(folder.path()).empty());
}

TEST(Panel, StandsInColumnsWhereThereIsRoom) {
  EXPECT_EQ(panel_height(4, 250), 2 * panel_height(4, 620));
  EXPECT_EQ(panel_height(0, 620), 0);
  Canvas canvas(60, 620, {1, 1, 1});
  draw_panel({{"one", {1, 0, 0}, Stroke::solid, true, 0.5}, {"two", {0, 0, 1}, Stroke::solid, false, 0}},
             {0, 0}, 620, canvas);
  const Image<Byte> rgb = canvas.picture();
  int red = 0;
  for (int c = 0; c < 310; ++c) red += rgb(9, c, 0) > 200 && rgb(9, c, 1) < 60 ? 1 : 0;
  EXPECT_NEAR(red, 26 + 20, 3);  // the sample of its line, and half of its bar
}

}  // namespace mnemon
