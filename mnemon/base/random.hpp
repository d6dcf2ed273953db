// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
/// \file
/// Random numbers that are a pure function of a key and a counter: the same on every machine, in any order,
/// on any number of threads.
namespace mnemon {

/// Mixes 64 bits so that each output bit depends on each input bit.
/// Source: Steele, Lea and Flood 2014, fast splittable generators, section 3 (finaliser variant 13).
[[nodiscard]] constexpr std::uint64_t mix_bits(std::uint64_t z) noexcept {
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
  return z ^ (z >> 31);
}

/// A stream of random numbers that starts from a key; copies go on independently.
class Random {
 public:
  /// The same key gives the same numbers.
  explicit constexpr Random(std::uint64_t key) noexcept : state_(mix_bits(key + kStep)) {}

  /// The next 64 bits, all values alike.
  constexpr std::uint64_t bits() noexcept { return mix_bits(state_ += kStep); }

  /// The next number, uniform in [0, 1).
  constexpr double uniform() noexcept { return static_cast<double>(bits() >> 11) * 0x1p-53; }

  /// The next number, uniform in [low, high).
  constexpr double uniform(double low, double high) noexcept { return low + (high - low) * uniform(); }

 private:
  static constexpr std::uint64_t kStep = 0x9e3779b97f4a7c15ULL;
  std::uint64_t state_;
};

}  // namespace mnemon
