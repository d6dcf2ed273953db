// SPDX-License-Identifier: MIT
#include <mnemon/sequence/marks.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"

namespace mnemon {

TEST(Marks, AreReadBackAsWritten) {
  Mark gone;
  gone.frame = 7;
  gone.present = false;
  gone.by = "tracker";
  const std::vector<Mark> marks{{0, {{1.5, -2, 1.0 / 3, 8}, 12.25}, R"({"polygon":[[1,2],[3,4],[5,1]]})"},
                                gone,
                                {9, {{1, 2, 3, 4}, 0}, "", true, "between"}};
  EXPECT_EQ(parse_marks(marks_text(marks), "marks.csv"), marks);
}

TEST(Marks, NeedOnlyFramesAndBoxes) {
  const auto marks = parse_marks("frame,x,y,w,h\n60,5,6,7,8\n0,1,2,3,4\n", "marks.csv");
  ASSERT_EQ(marks.size(), 2U);
  EXPECT_EQ(marks[0].frame, 0);
  EXPECT_EQ(marks[1].by, "person");
}

TEST(Marks, SayWhatIsWrongAndWhere) {
  const auto message = [](const char* text) {
    return test::message_of<DataError>([&] { static_cast<void>(parse_marks(text, "m.csv")); });
  };
  test::expect_parts(message("frame,x,y,w,h\n"), {"m.csv", "no mark"});
  test::expect_parts(message("frame,x,y,w,h\n0,1,2,0,4\n"), {"m.csv:2", "present = 0"});
  test::expect_parts(message("frame,x,y,w,h,by\n0,1,2,3,4,nobody\n"), {"m.csv:2", "'nobody'"});
  test::expect_parts(message("frame,x,y,w,h\n0,1,2,3,4\n0,1,2,3,4\n"), {"m.csv", "twice"});
}

}  // namespace mnemon
