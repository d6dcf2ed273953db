// SPDX-License-Identifier: MIT
#include <mnemon/sequence/csv.hpp>

#include <gtest/gtest.h>

#include "support/messages.hpp"

namespace mnemon {
namespace {

std::string refusal(std::string_view text) {
  return test::message_of<DataError>([&] { const CsvTable table(text, "t.csv"); });
}

}  // namespace

TEST(CsvTable, DropsCommentsAndBlankLinesEverywhere) {
  const CsvTable table("# made by hand\n\n  # and again\nframe,x\n\n0,1\n# between\n1,2\n   \n", "t.csv");
  ASSERT_EQ(table.row_count(), 2);
  EXPECT_EQ(table.number(1, 1), 2);
  EXPECT_EQ(table.place(1, 1).line, 8);
  EXPECT_EQ(table.place(1, 1).column, 3);
}

TEST(CsvTable, ReadsCrLfByteOrderMarkAndQuotes) {
  const CsvTable table("\xef\xbb\xbf\"frame\",note\r\n0,\"a, \"\"b\"\"\"\r\n1,\"two\nlines\"\r\n2,x",
                       "t.csv");
  ASSERT_EQ(table.row_count(), 3);
  EXPECT_EQ(table.column("frame"), 0);
  EXPECT_EQ(table.text(0, 1), "a, \"b\"");
  EXPECT_EQ(table.text(1, 1), "two\nlines");
  EXPECT_EQ(table.place(2, 0).line, 5);
}

TEST(CsvTable, FillsShortRows) {
  const CsvTable table("a,b,c\n1\n1,,\n", "t.csv");
  for (int row : {0, 1}) {
    EXPECT_TRUE(table.is_empty(row, 1));
    EXPECT_TRUE(table.is_empty(row, 2));
  }
  EXPECT_TRUE(table.is_empty(0, std::nullopt));
}

TEST(CsvTable, RefusesLongRowsWithTheirPlace) {
  test::expect_parts(refusal("a,b\n1,2\n3,4,5\n"), {"t.csv:3:5", "3 fields"});
}

TEST(CsvTable, RefusesWhatHasNoHeader) {
  for (const char* text : {"", "\n\n", "# only this\n"})
    test::expect_parts(refusal(text), {"t.csv", "header"});
}

TEST(CsvTable, RefusesOpenQuotes) {
  test::expect_parts(refusal("a\n\"x\n"), {"t.csv:2:1", "not closed"});
  test::expect_parts(refusal("a\n\"x\"y\n"), {"t.csv:2", "closing quote"});
}

TEST(CsvTable, NamesColumnsThatAreMissingOrTwice) {
  const CsvTable table("frame,x,x\n", "t.csv");
  test::expect_parts(test::message_of<DataError>([&] { (void)table.needed_column("frme"); }),
                     {"t.csv:1", "'frme'", "'frame'"});
  test::expect_parts(test::message_of<DataError>([&] { (void)table.column("x"); }),
                     {"t.csv:1:9", "'x'", "twice"});
}

TEST(CsvTable, ReadsNumbersWithTheirPlaceInMessages) {
  const CsvTable table("a,b\n1,two\n nan ,-3\n", "t.csv");
  EXPECT_NE(table.number(1, 0), table.number(1, 0));
  test::expect_parts(test::message_of<DataError>([&] { (void)table.number(0, 1); }),
                     {"t.csv:2:3", "'two'", "'b'"});
  for (const auto& [row, column] : {std::pair{1, 0}, {1, 1}, {0, 1}})
    EXPECT_THROW((void)table.index(row, column), DataError);
  EXPECT_TRUE(table.flag(0, 0));
  EXPECT_THROW((void)table.flag(1, 1), DataError);
}

}  // namespace mnemon
