// SPDX-License-Identifier: MIT
#include <mnemon/signal/transform_plan.hpp>

#include <array>

#include <fftw3.h>

#include <mnemon/image/image.hpp>
#include <mnemon/signal/plan_registry.hpp>

namespace mnemon {
namespace {

// FFTW_ESTIMATE chooses by rule. Timing the candidates would choose differently from run to run.
constexpr unsigned kKeepsInput = FFTW_ESTIMATE | FFTW_PRESERVE_INPUT;
constexpr unsigned kDestroysInput = FFTW_ESTIMATE | FFTW_DESTROY_INPUT;

// FFTW takes no pointer to const; planned to keep its input, it only reads.
fftwf_complex* as_fftw(const Complex* values) noexcept {
  return reinterpret_cast<fftwf_complex*>(const_cast<Complex*>(values));
}

}  // namespace

// Its version names the instructions that it has code for; it takes that for the best of those that the processor has.
std::string transform_arithmetic() {
  const std::string version = fftwf_version;
  std::string text = version;
#if defined(__x86_64__)
  const auto add = [&](const char* name, bool is_there) {
    if (is_there && version.find(std::string("-") + name) != std::string::npos)
      text += std::string(" ") + name;
  };
  add("avx", __builtin_cpu_supports("avx") != 0);
  add("avx2", __builtin_cpu_supports("avx2") != 0 && __builtin_cpu_supports("fma") != 0);
  add("avx512", __builtin_cpu_supports("avx512f") != 0);
#endif
  return text;
}

struct ComplexPlan::Made {
  fftwf_plan forward = nullptr;
  fftwf_plan backward = nullptr;

  explicit Made(const std::array<int, 3>& shape) {
    const auto [rows, cols, count] = shape;
    const Image<Complex> from(rows, cols, count);
    Image<Complex> to(rows, cols, count);
    const auto plan = [&, rows = rows, cols = cols, count = count](int direction) {
      const int size[] = {rows, cols};
      return fftwf_plan_many_dft(2, size, count, as_fftw(from.view().data), nullptr, count, 1,
                                 as_fftw(to.view().data), nullptr, count, 1, direction, kKeepsInput);
    };
    forward = plan(FFTW_FORWARD);
    backward = plan(FFTW_BACKWARD);
  }
  Made(const Made&) = delete;
  Made& operator=(const Made&) = delete;
  ~Made() {
    fftwf_destroy_plan(forward);
    fftwf_destroy_plan(backward);
  }
};

ComplexPlan::ComplexPlan(int rows, int cols, int count)
    : made_(detail::plans_of<Made>(std::array{rows, cols, count})) {}

void ComplexPlan::forward(const Complex* from, Complex* to) const noexcept {
  fftwf_execute_dft(made_->forward, as_fftw(from), as_fftw(to));
}

void ComplexPlan::backward(const Complex* from, Complex* to) const noexcept {
  fftwf_execute_dft(made_->backward, as_fftw(from), as_fftw(to));
}

struct RealPlan::Made {
  fftwf_plan forward = nullptr;
  fftwf_plan backward = nullptr;

  explicit Made(const std::array<int, 2>& shape) {
    const auto [rows, cols] = shape;
    Image<float> picture(rows, cols);
    Image<Complex> spectrum(rows, cols / 2 + 1);
    forward =
        fftwf_plan_dft_r2c_2d(rows, cols, picture.view().data, as_fftw(spectrum.view().data), kKeepsInput);
    backward =
        fftwf_plan_dft_c2r_2d(rows, cols, as_fftw(spectrum.view().data), picture.view().data, kDestroysInput);
  }
  Made(const Made&) = delete;
  Made& operator=(const Made&) = delete;
  ~Made() {
    fftwf_destroy_plan(forward);
    fftwf_destroy_plan(backward);
  }
};

RealPlan::RealPlan(int rows, int cols) : made_(detail::plans_of<Made>(std::array{rows, cols})) {}

void RealPlan::forward(const float* from, Complex* to) const noexcept {
  fftwf_execute_dft_r2c(made_->forward, const_cast<float*>(from), as_fftw(to));
}

void RealPlan::backward(Complex* from, float* to) const noexcept {
  fftwf_execute_dft_c2r(made_->backward, as_fftw(from), to);
}

}  // namespace mnemon
