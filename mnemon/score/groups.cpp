// SPDX-License-Identifier: MIT
#include <mnemon/score/groups.hpp>

#include <algorithm>

namespace mnemon {
namespace {

constexpr int kLetters = 26;

using Group = std::vector<bool>;  // who is in it

bool is_within(const Group& inner, const Group& outer) {
  for (std::size_t i = 0; i < inner.size(); ++i)
    if (inner[i] && !outer[i]) return false;
  return true;
}

// Groups that others hold say nothing of their own.
void absorb(std::vector<Group>& groups) {
  std::vector<Group> kept;
  for (std::size_t i = 0; i < groups.size(); ++i) {
    const auto holds = [&](std::size_t k) {
      return k != i && is_within(groups[i], groups[k]) && (groups[i] != groups[k] || k < i);
    };
    bool is_held = false;
    for (std::size_t k = 0; k < groups.size() && !is_held; ++k) is_held = holds(k);
    if (!is_held) kept.push_back(groups[i]);
  }
  groups = std::move(kept);
}

std::string letter(int number) {
  std::string text(1, static_cast<char>('a' + number % kLetters));
  return number < kLetters ? text : letter(number / kLetters - 1) + text;
}

}  // namespace

std::vector<std::string> group_letters(int count, const std::function<bool(int, int)>& is_separated) {
  std::vector<Group> groups;
  if (count > 0) groups.emplace_back(static_cast<std::size_t>(count), true);
  for (int a = 0; a < count; ++a)
    for (int b = a + 1; b < count; ++b) {
      if (!is_separated(a, b)) continue;
      for (std::size_t i = 0, known = groups.size(); i < known; ++i) {
        if (!groups[i][a] || !groups[i][b]) continue;
        Group other = groups[i];
        groups[i][a] = false;
        other[b] = false;
        groups.push_back(std::move(other));
      }
      absorb(groups);
    }
  // By who is first in them: of two groups, the one with the first thing that only one of them has.
  std::ranges::sort(groups, std::greater<>());
  std::vector<std::string> letters(static_cast<std::size_t>(count));
  for (std::size_t i = 0; i < groups.size(); ++i)
    for (int a = 0; a < count; ++a) {
      if (!groups[i][a]) continue;
      if (groups.size() > kLetters && !letters[a].empty()) letters[a] += ' ';
      letters[a] += letter(static_cast<int>(i));
    }
  return letters;
}

}  // namespace mnemon
