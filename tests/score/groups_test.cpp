// SPDX-License-Identifier: MIT
#include <mnemon/score/groups.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

bool share_a_letter(const std::string& a, const std::string& b) {
  return std::ranges::any_of(a, [&](char c) { return b.find(c) != std::string::npos; });
}

}  // namespace

TEST(GroupLetters, OfAChain) {
  // Neighbours are not separated, others are.
  const auto letters = group_letters(4, [](int a, int b) { return std::abs(a - b) > 1; });
  EXPECT_EQ(letters, (std::vector<std::string>{"a", "ab", "bc", "c"}));
}

TEST(GroupLetters, OfAllOrNone) {
  EXPECT_EQ(group_letters(3, [](int, int) { return false; }), (std::vector<std::string>{"a", "a", "a"}));
  EXPECT_EQ(group_letters(3, [](int, int) { return true; }), (std::vector<std::string>{"a", "b", "c"}));
  EXPECT_TRUE(group_letters(0, [](int, int) { return true; }).empty());
}

TEST(GroupLetters, GoOnAfterZ) {
  const auto letters = group_letters(28, [](int, int) { return true; });
  EXPECT_EQ(letters[25], "z");
  EXPECT_EQ(letters[26], "aa");
  EXPECT_EQ(letters[27], "ab");
}

TEST(GroupLetters, AreSharedExactlyByThoseThatAreNotSeparated) {
  Random random(1);
  for (int round = 0; round < 200; ++round) {
    constexpr int kCount = 7;
    bool separated[kCount][kCount] = {};
    const double share = random.uniform();
    for (int a = 0; a < kCount; ++a)
      for (int b = a + 1; b < kCount; ++b) separated[a][b] = separated[b][a] = random.uniform() < share;
    const auto letters = group_letters(kCount, [&](int a, int b) { return separated[a][b]; });
    for (int a = 0; a < kCount; ++a) {
      EXPECT_FALSE(letters[a].empty());
      for (int b = 0; b < kCount; ++b)
        if (a != b) {
          EXPECT_EQ(share_a_letter(letters[a], letters[b]), !separated[a][b]) << a << b;
        }
    }
    EXPECT_EQ(letters[0][0], 'a');
  }
}

}  // namespace mnemon
