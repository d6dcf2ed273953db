// SPDX-License-Identifier: MIT
#pragma once
#include <complex>
#include <numbers>
#include <vector>

#include <mnemon/base/random.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon::test {

// The shape of the stacks that filters are tried on.
inline constexpr int kStackRows = 16;
inline constexpr int kStackCols = 20;
inline constexpr int kStackChannels = 8;

// Of numbers from -1 to 1.
inline Image<float> random_stack(std::uint64_t key) {
  Image<float> stack(kStackRows, kStackCols, kStackChannels);
  Random random(key);
  for (float& v : stack.elements()) v = static_cast<float>(random.uniform(-1, 1));
  return stack;
}

// Moved down and to the right, what goes out coming in again on the other side.
inline Image<float> rolled(const Image<float>& stack, int down, int right) {
  Image<float> out(stack.rows(), stack.cols(), stack.channels());
  for (int r = 0; r < stack.rows(); ++r)
    for (int c = 0; c < stack.cols(); ++c)
      for (int k = 0; k < stack.channels(); ++k)
        out((r + down) % stack.rows(), (c + right) % stack.cols(), k) = stack(r, c, k);
  return out;
}

using Spectrum = std::vector<std::complex<double>>;

// The transform of one channel, by its definition.
inline Spectrum slow_spectrum(const Image<float>& stack, int channel) {
  Spectrum out;
  for (int u = 0; u < kStackRows; ++u)
    for (int v = 0; v < kStackCols; ++v) {
      std::complex<double> sum;
      for (int r = 0; r < kStackRows; ++r)
        for (int c = 0; c < kStackCols; ++c)
          sum += double(stack(r, c, channel)) *
                 std::polar(
                     1.0, -2 * std::numbers::pi * (double(u) * r / kStackRows + double(v) * c / kStackCols));
      out.push_back(sum);
    }
  return out;
}

// And back.
inline std::vector<double> slow_inverse(const Spectrum& spectrum) {
  std::vector<double> out;
  for (int r = 0; r < kStackRows; ++r)
    for (int c = 0; c < kStackCols; ++c) {
      std::complex<double> sum;
      for (int u = 0; u < kStackRows; ++u)
        for (int v = 0; v < kStackCols; ++v)
          sum += spectrum[u * kStackCols + v] *
                 std::polar(1.0,
                            2 * std::numbers::pi * (double(u) * r / kStackRows + double(v) * c / kStackCols));
      out.push_back(sum.real() / (kStackRows * kStackCols));
    }
  return out;
}

}  // namespace mnemon::test
