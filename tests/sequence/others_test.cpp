// SPDX-License-Identifier: MIT
#include <mnemon/sequence/others.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/sequence.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {

TEST(Others, AreReadBackAsWritten) {
  const std::vector<OtherRow> others{{0, "kite 2", {{1.25, -3, 20, 1.0 / 3}, 0}},
                                     {0, "a, \"b\"", {{5, 6, 7, 8}, -12.5}},
                                     {4, "kite 2", {{2, 3, 20, 30}, 0}}};
  EXPECT_EQ(parse_others(others_text(others), "others.csv"), others);
}

TEST(Others, AreSortedByFrameAndLeftOutWhereAbsent) {
  const auto read =
      parse_others("frame,name,x,y,w,h,present\n3,b,1,1,2,2,1\n1,a,0,0,5,5,0\n1,c,1,2,3,4,1\n", "others.csv");
  ASSERT_EQ(read.size(), 2U);
  EXPECT_EQ(read[0], (OtherRow{1, "c", {{1, 2, 3, 4}, 0}}));
  EXPECT_EQ(read[1].frame, 3);
}

TEST(Others, SayWhatIsWrongAndWhere) {
  const auto message = [](const char* text) {
    return test::message_of<DataError>([&] { static_cast<void>(parse_others(text, "o.csv")); });
  };
  test::expect_parts(message("frame,x,y,w,h\n0,1,1,2,2\n"), {"o.csv", "name"});
  test::expect_parts(message("frame,name,x,y,w,h\n0,a,1,1,2,0\n"), {"o.csv:2", "width and height above 0"});
  test::expect_parts(message("frame,name,x,y,w,h\n0,,1,1,2,2\n"), {"o.csv:2", "needs a name"});
}

TEST(Sequence, KeepsItsLookAlikes) {
  const test::TempFolder folder;
  Sequence sequence;
  sequence.frames = "frames/%06d.png";
  sequence.truth_file = "truth.csv";
  sequence.others_file = "others.csv";
  sequence.truth.rows = {{0, {{1, 1, 4, 4}, 0}, true}};
  sequence.truth.others = {{0, "kite 2", {{9, 9, 4, 4}, 0}}};
  write_sequence(sequence, folder.path());
  const Sequence read = read_sequence(folder.path());
  EXPECT_EQ(read.others_file, "others.csv");
  EXPECT_EQ(read.truth.others, sequence.truth.others);
}

}  // namespace mnemon
