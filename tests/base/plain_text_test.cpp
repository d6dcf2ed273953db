// SPDX-License-Identifier: MIT
#include <set>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/plain_text.hpp>

namespace mnemon {

TEST(PlainText, KeepsUtf8) {
  for (const char* text : {"", "plain", "Čehovin, 20 µs × 3", "\xf0\x9f\xaa\x81 kite"}) {
    EXPECT_EQ(plain_line(text), text);
    EXPECT_EQ(plain_text(text), text);
  }
}

TEST(PlainText, ReplacesControlCharacters) {
  EXPECT_EQ(plain_line("a\x1b[31mb\x7f"), "a\uFFFD[31mb\uFFFD");
  EXPECT_EQ(plain_line("a\nb\tc"), "a\uFFFDb\uFFFDc");
  EXPECT_EQ(plain_text("a\nb\tc\rd"), "a\nb\tc\uFFFDd");
  EXPECT_EQ(plain_line("a\u009bb"),
            "a\uFFFDb");  // a terminal's 'control sequence introducer' in one character
}

TEST(PlainText, ReplacesWhatIsNoUtf8ByteByByte) {
  EXPECT_EQ(plain_line("a\xffz"), "a\uFFFDz");
  EXPECT_EQ(plain_line("\xc3"), "\uFFFD");                                // cut short
  EXPECT_EQ(plain_line("\xc0\xaf"), "\uFFFD\uFFFD");                      // overlong '/'
  EXPECT_EQ(plain_line("\xed\xa0\x80"), "\uFFFD\uFFFD\uFFFD");            // a surrogate
  EXPECT_EQ(plain_line("\xf5\x80\x80\x80"), "\uFFFD\uFFFD\uFFFD\uFFFD");  // beyond the last character
}

TEST(WrappedText, BreaksLinesBetweenWords) {
  EXPECT_EQ(wrapped_text("one two three", 7), "one two\nthree");
  EXPECT_EQ(wrapped_text("one two three", 6), "one\ntwo\nthree");
  EXPECT_EQ(wrapped_text("unbreakable it is", 4), "unbreakable\nit\nis");
  EXPECT_EQ(wrapped_text("as it\nwas", 40), "as it\nwas");
  EXPECT_EQ(wrapped_text("", 40), "");
}

TEST(FileName, KeepsPlainNames) {
  for (const char* text : {"gusty", "wide-window_2", "a.b", "corr-plain"})
    EXPECT_EQ(file_name_of(text), text);
}

TEST(FileName, IsNoPathAndNotHidden) {
  EXPECT_EQ(file_name_of("../x"), "%2E.%2Fx");
  EXPECT_EQ(file_name_of(".x"), "%2Ex");
  EXPECT_EQ(file_name_of(""), "%");
  EXPECT_EQ(file_name_of("a b"), "a%20b");
}

TEST(FileName, TellsApartWhatDiffers) {
  std::vector<std::string> texts;
  for (const char* text : {"x/y", "x-y", "x y", "x%20y", "x%2Fy", "", "%", "кот", "пёс", "\xff\xfe"})
    texts.emplace_back(text);
  for (const char* end : {"", "/", "%2F", "a", "b"})
    for (const int length : {100, 300}) texts.push_back(std::string(length, 'x') + end);
  std::set<std::string> names;
  for (const std::string& text : texts) {
    names.insert(file_name_of(text));
    EXPECT_LE(file_name_of(text).size(), 100U);
  }
  EXPECT_EQ(names.size(), texts.size());
}

TEST(FileName, OfALongNameCutsNoEscape) {
  const std::string name = file_name_of("x" + std::string(60, '/'));  // 'x' and 60 escapes of three
  EXPECT_EQ(name.find('~'), 1U + 3 * 26);
}

}  // namespace mnemon
