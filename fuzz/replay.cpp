// SPDX-License-Identifier: MIT
// Feeds a target its corpus, whole, cut short and with bits flipped: always in the same way.
#include <algorithm>
#include <cstdio>
#include <fstream>
#include <iterator>
#include <vector>

#include "target.hpp"

namespace {

using Bytes = std::vector<std::uint8_t>;

constexpr std::uint64_t kCuts = 24;
constexpr std::uint64_t kFlips = 60;

std::uint64_t next_random(std::uint64_t& state) {
  state = state * 6364136223846793005ULL + 1442695040888963407ULL;
  return state >> 33;
}

void feed(const Bytes& bytes) { LLVMFuzzerTestOneInput(bytes.data(), bytes.size()); }

void replay(const Bytes& whole) {
  feed(whole);
  for (std::uint64_t i = 0; i < kCuts; ++i)
    feed(Bytes(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(whole.size() * i / kCuts)));
  std::uint64_t state = whole.size() + 1;
  for (std::uint64_t i = 0; i < kFlips && !whole.empty(); ++i) {
    Bytes damaged = whole;
    for (std::uint64_t flips = 1 + next_random(state) % 12; flips > 0; --flips) {
      // Headers, at the start, are where damage tells most.
      const std::uint64_t reach =
          flips % 2 == 0 ? damaged.size() : std::min<std::uint64_t>(damaged.size(), 400);
      damaged[next_random(state) % reach] ^= static_cast<std::uint8_t>(1U << (next_random(state) % 8));
    }
    feed(damaged);
  }
}

}  // namespace

int main(int argc, char** argv) {
  int files = 0;
  for (int i = 1; i < argc; ++i)
    for (const auto& entry : std::filesystem::directory_iterator(argv[i])) {
      std::ifstream in(entry.path(), std::ios::binary);
      replay(Bytes(std::istreambuf_iterator<char>(in), {}));
      ++files;
    }
  std::printf("%d files replayed\n", files);
  return files > 0 ? 0 : 1;
}
