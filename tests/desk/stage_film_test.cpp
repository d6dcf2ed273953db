// SPDX-License-Identifier: MIT
#include <mnemon/desk/stage_film.hpp>

#include <utility>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

ShownStage stage_of(const std::string& name, int rows, int cols) {
  return {name, {}, rows, cols, Image<Byte>(rows, cols)};
}

TEST(StageFilm, KnowsStagesByFrameAndName) {
  StageFilm film(1000);
  film.add(3, stage_of("patch", 2, 5));
  film.add(3, stage_of("mask", 4, 4));
  film.add(4, stage_of("patch", 1, 1));
  EXPECT_EQ(film.find(3, "patch")->cols, 5);
  EXPECT_EQ(film.find(3, "mask")->rows, 4);
  EXPECT_EQ(film.find(4, "patch")->cols, 1);
  EXPECT_EQ(film.find(4, "mask"), nullptr);
  EXPECT_EQ(film.find(5, "patch"), nullptr);
  film.clear();
  EXPECT_EQ(film.find(3, "patch"), nullptr);
}

TEST(StageFilm, DropsWhatIsFurthestFromTheNewest) {
  StageFilm film(300);
  for (const int frame : {10, 20, 30}) film.add(frame, stage_of("patch", 10, 10));
  film.add(21, stage_of("patch", 10, 10));
  EXPECT_EQ(film.find(10, "patch"), nullptr);
  for (const int frame : {20, 21, 30}) EXPECT_NE(film.find(frame, "patch"), nullptr) << frame;
  film.add(5, stage_of("patch", 10, 10));
  EXPECT_EQ(film.find(30, "patch"), nullptr);
  for (const int frame : {5, 20, 21}) EXPECT_NE(film.find(frame, "patch"), nullptr) << frame;
}

TEST(StageFilm, KeepsTheNewestFrameHoweverLarge) {
  StageFilm film(300);
  film.add(1, stage_of("patch", 10, 10));
  film.add(2, stage_of("patch", 20, 20));
  film.add(2, stage_of("mask", 20, 20));
  EXPECT_EQ(film.find(1, "patch"), nullptr);
  EXPECT_NE(film.find(2, "patch"), nullptr);
  EXPECT_NE(film.find(2, "mask"), nullptr);
  // What was dropped no longer counts.
  film.clear();
  for (const int frame : {1, 2, 3}) film.add(frame, stage_of("patch", 10, 10));
  for (const int frame : {1, 2, 3}) EXPECT_NE(film.find(frame, "patch"), nullptr) << frame;
}

TEST(ShownStages, AreNoLargerThanAPageShowsThem) {
  Image<float> large(1024, 256);
  large(5, 5) = 3;
  const ShownStage shown = shown_stage({"response", std::as_const(large).view(), {}});
  EXPECT_EQ(shown.name, "response");
  EXPECT_EQ(std::pair(shown.rows, shown.cols), std::pair(1024, 256));
  EXPECT_EQ(std::pair(shown.bytes.rows(), shown.bytes.cols()), std::pair(512, 128));
}

}  // namespace
}  // namespace mnemon
