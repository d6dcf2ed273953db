// SPDX-License-Identifier: MIT
#include <mnemon/base/fingerprint.hpp>

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstring>

#include <fmt/format.h>

#include <mnemon/base/random.hpp>

namespace mnemon {

// Words of eight bytes, dealt to four states in turn, as one would wait for itself.
void Fingerprint::add(std::string_view bytes) noexcept {
  constexpr std::size_t kStates = 4;
  constexpr std::uint64_t kStep = 0x9e3779b97f4a7c15ULL;
  std::array<std::uint64_t, kStates> states{};
  for (std::size_t k = 0; k < kStates; ++k) states[k] = mix_bits(state_ + k * kStep);
  for (std::size_t i = 0; i < bytes.size(); i += 8 * kStates) {
    std::array<std::uint64_t, kStates> words{};
    std::memcpy(words.data(), bytes.data() + i, std::min(sizeof words, bytes.size() - i));
    for (std::size_t k = 0; k < kStates; ++k) states[k] = mix_bits(states[k] ^ words[k]) + kStep;
  }
  state_ = mix_bits(state_ ^ bytes.size());
  for (const std::uint64_t one : states) state_ = mix_bits(state_ ^ one) + kStep;
}

std::string Fingerprint::text() const { return fmt::format("{:016x}", state_); }

std::string fingerprint(std::string_view bytes) {
  Fingerprint whole;
  whole.add(bytes);
  return whole.text();
}

}  // namespace mnemon
