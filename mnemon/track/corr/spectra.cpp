// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/spectra.hpp>

#include <mnemon/base/clones.hpp>
#include <mnemon/signal/windows.hpp>
#include <mnemon/track/corr/complex_lanes.hpp>

namespace mnemon {
namespace {

MNEMON_CLONES void correlate_all(const float* __restrict a, const float* __restrict b, int count, int length,
                                 float* __restrict out) noexcept {
  for (int i = 0; i < count; ++i) {
    Eight real{};
    Eight crossed{};
    for (int k = 0; k < length; k += 8) {
      const Eight from = load(a + k);
      const Eight to = load(b + k);
      real += from * to;
      crossed += from * swapped(to);
    }
    out[2 * i] = sum_of_lanes(real);
    out[2 * i + 1] = ((crossed[0] - crossed[1]) + (crossed[4] - crossed[5])) +
                     ((crossed[2] - crossed[3]) + (crossed[6] - crossed[7]));
    a += length;
    b += length;
  }
}

MNEMON_CLONES void energy_all(const float* __restrict a, int count, int length,
                              float* __restrict out) noexcept {
  for (int i = 0; i < count; ++i) {
    Eight sum{};
    for (int k = 0; k < length; k += 8) {
      const Eight v = load(a + k);
      sum += v * v;
    }
    out[i] = sum_of_lanes(sum);
    a += length;
  }
}

// The goal is one number a frequency, the others a line of pairs.
MNEMON_CLONES void blend_goal_all(const float* __restrict goal, const float* __restrict from, float rate,
                                  int count, int length, float* __restrict to) noexcept {
  for (int i = 0; i < count; ++i) {
    const float real = goal[2 * i];
    const float imaginary = goal[2 * i + 1];
    for (int k = 0; k < length; k += 8) {
      const Eight values = load(from + k);
      const Eight wanted = real * values + kOddNegative * (imaginary * swapped(values));
      const Eight now = load(to + k);
      store(now + rate * (wanted - now), to + k);
    }
    from += length;
    to += length;
  }
}

MNEMON_CLONES void take_real(const float* __restrict pairs, float scale, std::size_t count,
                             float* __restrict out) noexcept {
  for (std::size_t i = 0; i < count; ++i) out[i] = scale * pairs[2 * i];
}

}  // namespace

void correlate_into(const Image<Complex>& a, const Image<Complex>& b, Image<Complex>& out) noexcept {
  MNEMON_ASSERT(a.view().has_shape_of(b.view()) && a.channels() % 4 == 0);
  correlate_all(parts(a), parts(b), a.rows() * a.cols(), 2 * a.channels(), parts(out));
}

void power_into(const Image<Complex>& a, Image<float>& work, Image<float>& out) noexcept {
  energy_all(parts(a), a.rows() * a.cols(), 2 * a.channels(), work.view().data);
  const int rows = a.rows();
  const int cols = a.cols();
  for (int r = 0; r < rows; ++r) {
    const float* here = work.view().row(r);
    const float* mirror = work.view().row((rows - r) % rows);
    float* to = out.view().row(r);
    to[0] = 0.5f * (here[0] + mirror[0]);
    for (int c = 1; c < cols; ++c) to[c] = 0.5f * (here[c] + mirror[cols - c]);
  }
}

void blend_with_goal(const Image<Complex>& goal, const Image<Complex>& from, float rate,
                     Image<Complex>& to) noexcept {
  blend_goal_all(parts(goal), parts(from), rate, from.rows() * from.cols(), 2 * from.channels(), parts(to));
}

Image<Complex> goal_spectrum(int rows, int cols, double sigma) {
  const int row = rows / 2;
  const int col = cols / 2;
  const Image<float> goal = gaussian_goal(rows, cols, {col + 0.5, row + 0.5}, sigma);
  const PairTransform transform(rows, cols, 2);
  Image<float> pairs = transform.make_stack();
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) pairs(r, c, 0) = goal(r, c);
  Image<Complex> spectrum = transform.make_spectrum();
  transform.forward_into(pairs.view(), spectrum.view());
  return spectrum;
}

ResponseMaker::ResponseMaker(int rows, int cols)
    : transform_(rows, cols, 2),
      spectrum_(transform_.make_spectrum()),
      pairs_(transform_.make_stack()),
      response_(rows, cols) {}

ImageView<const float> ResponseMaker::make() noexcept {
  transform_.inverse_unscaled_into(spectrum_.view(), pairs_.view());
  const std::size_t count = response_.elements().size();
  take_real(pairs_.view().data, 1.0f / static_cast<float>(count), count, response_.view().data);
  return response_.view();
}

}  // namespace mnemon
