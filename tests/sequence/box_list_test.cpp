// SPDX-License-Identifier: MIT
#include <mnemon/sequence/box_list.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

Truth parse(std::string_view text, const std::vector<std::string>& columns = {}, BoxListForm form = {}) {
  form.columns = columns;
  return parse_box_list(text, "boxes.txt", form);
}

template <class E>
std::string refusal(std::string_view text, const std::vector<std::string>& columns = {},
                    BoxListForm form = {}) {
  return test::message_of<E>([&] { (void)parse(text, columns, form); });
}

const std::vector<std::string> kPolygon{"x1", "y1", "x2", "y2", "x3", "y3", "x4", "y4"};

}  // namespace

TEST(BoxList, ReadsEveryFormOfTheSameBox) {
  const Box box{10, 20, 30, 40};
  EXPECT_EQ(parse("10,20,30,40\n").rows[0].box.box, box);
  EXPECT_EQ(parse("25,40,30,40\n", {"cx", "cy", "w", "h"}).rows[0].box.box, box);
  EXPECT_EQ(parse("10,20,40,60\n", {"x1", "y1", "x2", "y2"}).rows[0].box.box, box);
  const OrientedBox polygon = parse("10,20,40,20,40,60,10,60\n", kPolygon).rows[0].box;
  EXPECT_NEAR(overlap(polygon, OrientedBox{box, 0}), 1, 1e-9);
  EXPECT_NEAR(polygon.angle_deg, 0, 1e-9);
}

TEST(BoxList, TakesTheSmallestTurnedBoxOfAPolygon) {
  for (const double angle : {-44.0, -20.0, 5.0, 33.0, 45.0}) {
    const OrientedBox box{{50, 60, 40, 22}, angle};
    std::string line;
    for (const Point& p : corners(box)) line += std::to_string(p.x) + " " + std::to_string(p.y) + " ";
    const OrientedBox read = parse(line, kPolygon).rows[0].box;
    EXPECT_NEAR(overlap(read, box), 1, 1e-5) << angle;
    EXPECT_LE(std::abs(read.angle_deg), 45.001);
  }
}

TEST(BoxList, FindsOutWhatPartsTheColumns) {
  for (const char* text : {"1,2,3,4\n5,6,7,8\n", "1;2;3;4\n5;6;7;8", "1\t2\t3\t4\r\n5\t6\t7\t8\r\n",
                           " 1  2 3   4 \n\n# note\n5 6 7 8\n",
                           "\xef\xbb\xbf"
                           "1, 2, 3, 4,\n5, 6, 7, 8,\n"}) {
    const Truth truth = parse(text);
    ASSERT_EQ(truth.rows.size(), 2U) << text;
    EXPECT_EQ(truth.rows[0].box.box, (Box{1, 2, 3, 4})) << text;
    EXPECT_EQ(truth.rows[1].frame, 1);
  }
}

TEST(BoxList, ReadsItsHeader) {
  const Truth truth = parse("frame,note,w,h,x,y,present\n3,a,30,40,10,20,1\n5,b,,,,,0\n");
  ASSERT_EQ(truth.rows.size(), 2U);
  EXPECT_EQ(truth.rows[0], (TruthRow{3, {{10, 20, 30, 40}, 0}, true, 1}));
  EXPECT_FALSE(truth.rows[1].present);
  EXPECT_EQ(truth.rows[1].frame, 5);
  test::expect_parts(refusal<DataError>("left,top,right,low\n1,2,3,4\n"), {"boxes.txt:1", "--columns"});
  EXPECT_EQ(parse("left,top,wide,high\n1,2,3,4\n", {"x", "y", "w", "h"}).rows.size(), 1U);
}

TEST(BoxList, CountsFromOneWhereToldSo) {
  BoxListForm form;
  form.one_based = true;
  EXPECT_EQ(parse("1,1,30,40\n", {}, form).rows[0].box.box, (Box{0, 0, 30, 40}));
  EXPECT_EQ(parse("1,1,31,41\n", {"x1", "y1", "x2", "y2"}, form).rows[0].box.box, (Box{0, 0, 30, 40}));
  EXPECT_EQ(parse("1,5,5,2,2\n", {"frame", "x", "y", "w", "h"}, form).rows[0].frame, 0);
  test::expect_parts(refusal<DataError>("0,5,5,2,2\n", {"frame", "x", "y", "w", "h"}, form),
                     {"count from 1"});
}

TEST(BoxList, KnowsAbsenceByItsMark) {
  const AbsentMarks kNan{.nan = true};
  const AbsentMarks kZero{.zero = true};
  const AbsentMarks kNegative{.negative = true};
  const auto present = [](std::string_view text, AbsentMarks mark,
                          const std::vector<std::string>& columns = {}) {
    BoxListForm form;
    form.absent = mark;
    std::vector<bool> seen;
    for (const TruthRow& row : parse(text, columns, form).rows) seen.push_back(row.present);
    return seen;
  };
  const std::vector<bool> there_and_not{true, false};
  EXPECT_EQ(present("1,2,3,4\nnan,nan,nan,nan\n", kNan), there_and_not);
  EXPECT_EQ(present("1,2,3,4\n,,,\n", kNan), there_and_not);
  EXPECT_EQ(present("1,2,3,4\n0,0,0,0\n", kZero), there_and_not);
  EXPECT_EQ(present("1,2,3,4\n7,7,7,7\n", kZero, {"x1", "y1", "x2", "y2"}), there_and_not);
  EXPECT_EQ(present("1,2,3,4\n-1,-1,-1,-1\n", kNegative), there_and_not);
  EXPECT_EQ(present("-1,-2,3,4\n5,5,-3,2\n", kNegative), there_and_not);
  // Several ways at once.
  const AbsentMarks either{.nan = true, .zero = true};
  EXPECT_EQ(present("1,2,3,4\nnan,nan,nan,nan\n", either), there_and_not);
  EXPECT_EQ(present("1,2,3,4\n0,0,0,0\n", either), there_and_not);
  EXPECT_EQ(present("1,2,3,4,1\n1,2,3,4,0\n", AbsentMarks{}, {"x", "y", "w", "h", "present"}), there_and_not);
}

TEST(BoxList, SaysWhereItIsWrongAndWhatToDo) {
  test::expect_parts(refusal<DataError>("1,2,3,4\n1,2,0,4\n"), {"boxes.txt:2", "above 0", "--absent"});
  test::expect_parts(refusal<DataError>("1,2,nan,4\n"), {"boxes.txt:1", "--absent nan"});
  test::expect_parts(refusal<DataError>("1,2,3\n"), {"boxes.txt:1", "3 columns, not 4", "--columns"});
  test::expect_parts(refusal<DataError>("1,2,3,4\n1,two,3,4\n"), {"boxes.txt:2:3", "'two'", "'y'"});
  test::expect_parts(refusal<DataError>("\n# nothing\n"), {"boxes.txt", "no boxes"});
  test::expect_parts(refusal<DataError>("x,y,w,h\n"), {"boxes.txt", "no boxes"});
  test::expect_parts(refusal<DataError>("2,1,1,2,2\n2,1,1,2,2\n", {"frame", "x", "y", "w", "h"}),
                     {"boxes.txt:2", "frame 2 comes after frame 2"});
  test::expect_parts(refusal<DataError>("1,2,3,4,2\n", {"x", "y", "w", "h", "present"}), {"0 or 1", "'2'"});
  test::expect_parts(refusal<CallError>("1,2,3,4\n", {"x", "y", "w"}), {"x,y,w make no box", "x1,y1,x2,y2"});
  test::expect_parts(refusal<CallError>("1,2,3,4\n", {"x", "y", "w", "hh"}), {"'hh'", "did you mean 'h'"});
  test::expect_parts(refusal<CallError>("1,2,3,4\n", {"x", "x", "w", "h"}), {"'x' is there twice"});
}

}  // namespace mnemon
