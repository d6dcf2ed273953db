// SPDX-License-Identifier: MIT
#include <mnemon/signal/transform_plan.hpp>

#include <array>
#include <cstddef>
#include <new>

#include <kiss_fft.h>

#include <mnemon/signal/plan_registry.hpp>

namespace mnemon {
namespace {

// Of the package's plain numbers, as clearing a line of the longest side would take longer than transforming a short one.
class Line {
 public:
  [[nodiscard]] kiss_fft_cpx* data() noexcept { return values_; }
  [[nodiscard]] Complex operator[](int i) const noexcept { return {values_[i].r, values_[i].i}; }
  void set(int i, Complex value) noexcept { values_[i] = {value.real(), value.imag()}; }

 private:
  kiss_fft_cpx values_[kLongestSide];
};

const kiss_fft_cpx* as_kiss(const Complex* values) noexcept {
  return reinterpret_cast<const kiss_fft_cpx*>(values);
}

// Lines of one length, one way.
class LinePlan {
 public:
  LinePlan(int length, bool is_backward)
      : config_(kiss_fft_alloc(length, is_backward ? 1 : 0, nullptr, nullptr)), length_(length) {
    if (config_ == nullptr) throw std::bad_alloc();
  }
  LinePlan(const LinePlan&) = delete;
  LinePlan& operator=(const LinePlan&) = delete;
  ~LinePlan() { kiss_fft_free(config_); }

  [[nodiscard]] int length() const noexcept { return length_; }

  // A line whose values lie `step` apart, into one without gaps.
  void run(const kiss_fft_cpx* from, std::ptrdiff_t step, Line& to) const noexcept {
    kiss_fft_stride(config_, from, to.data(), static_cast<int>(step));
  }

  // The same, back to where it came from.
  void run_in_place(Complex* values, std::ptrdiff_t step) const noexcept {
    Line line;
    run(as_kiss(values), step, line);
    for (int i = 0; i < length_; ++i) values[i * step] = line[i];
  }

 private:
  kiss_fft_cfg config_;
  int length_;
};

// Down all columns of a picture of so many values a row.
void run_down(const LinePlan& plan, Complex* values, std::ptrdiff_t row) noexcept {
  for (std::ptrdiff_t c = 0; c < row; ++c) plan.run_in_place(values + c, row);
}

}  // namespace

// Plain code, the same on every processor.
std::string transform_arithmetic() { return "kissfft"; }

struct ComplexPlan::Made {
  std::array<LinePlan, 2> across;  // forward and backward
  std::array<LinePlan, 2> down;
  int count;

  explicit Made(const std::array<int, 3>& shape)
      : across{LinePlan(shape[1], false), LinePlan(shape[1], true)},
        down{LinePlan(shape[0], false), LinePlan(shape[0], true)},
        count(shape[2]) {}

  void run(int way, const Complex* from, Complex* to) const noexcept {
    const int cols = across[way].length();
    const std::ptrdiff_t row = static_cast<std::ptrdiff_t>(cols) * count;
    Line line;
    for (int r = 0; r < down[way].length(); ++r)
      for (int k = 0; k < count; ++k) {
        across[way].run(as_kiss(from + r * row + k), count, line);
        for (int c = 0; c < cols; ++c) to[r * row + static_cast<std::ptrdiff_t>(c) * count + k] = line[c];
      }
    run_down(down[way], to, row);
  }
};

ComplexPlan::ComplexPlan(int rows, int cols, int count)
    : made_(detail::plans_of<Made>(std::array{rows, cols, count})) {}

void ComplexPlan::forward(const Complex* from, Complex* to) const noexcept { made_->run(0, from, to); }

void ComplexPlan::backward(const Complex* from, Complex* to) const noexcept { made_->run(1, from, to); }

// Two rows at a time, as the real and the imaginary part of one.
struct RealPlan::Made {
  LinePlan across, across_back, down, down_back;

  explicit Made(const std::array<int, 2>& shape)
      : across(shape[1], false),
        across_back(shape[1], true),
        down(shape[0], false),
        down_back(shape[0], true) {}

  void forward(const float* from, Complex* to) const noexcept {
    const int rows = down.length();
    const int cols = across.length();
    const int half = cols / 2 + 1;
    Line both;
    Line mixed;
    for (std::ptrdiff_t r = 0; r < rows; r += 2) {
      const float* const upper = from + r * cols;
      const bool is_alone = r + 1 == rows;
      for (int c = 0; c < cols; ++c) both.set(c, {upper[c], is_alone ? 0 : upper[cols + c]});
      across.run(both.data(), 1, mixed);
      for (int c = 0; c < half; ++c) {
        const Complex here = mixed[c];
        const Complex mirrored = std::conj(mixed[(cols - c) % cols]);
        to[r * half + c] = 0.5f * (here + mirrored);
        if (!is_alone) to[(r + 1) * half + c] = Complex(0, -0.5f) * (here - mirrored);
      }
    }
    run_down(down, to, half);
  }

  void backward(Complex* from, float* to) const noexcept {
    const int rows = down.length();
    const int cols = across.length();
    const int half = cols / 2 + 1;
    run_down(down_back, from, half);
    Line mixed;
    Line both;
    for (std::ptrdiff_t r = 0; r < rows; r += 2) {
      const Complex* const upper = from + r * half;
      const bool is_alone = r + 1 == rows;
      for (int c = 0; c < cols; ++c) {
        const bool is_mirrored = c >= half;
        const int at = is_mirrored ? cols - c : c;
        const Complex a = upper[at];
        const Complex b = is_alone ? Complex() : upper[half + at];
        mixed.set(c, is_mirrored ? std::conj(a) + Complex(0, 1) * std::conj(b) : a + Complex(0, 1) * b);
      }
      across_back.run(mixed.data(), 1, both);
      for (int c = 0; c < cols; ++c) {
        to[r * cols + c] = both[c].real();
        if (!is_alone) to[(r + 1) * cols + c] = both[c].imag();
      }
    }
  }
};

RealPlan::RealPlan(int rows, int cols) : made_(detail::plans_of<Made>(std::array{rows, cols})) {}

void RealPlan::forward(const float* from, Complex* to) const noexcept { made_->forward(from, to); }

void RealPlan::backward(Complex* from, float* to) const noexcept { made_->backward(from, to); }

}  // namespace mnemon
