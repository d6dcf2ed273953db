// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/spectra.hpp>
#include <mnemon/track/corr/stack_filter.hpp>

namespace mnemon {

/// How alike two stacks are.
enum class Kernel { gaussian, linear };

/// Ridge regression in the feature space of a kernel, over all circular shifts of the stack at once: a running model
/// of the target's stack, and of the weights that answer it with a narrow Gaussian on the middle cell.
/// Source: Henriques, Caseiro, Martins and Batista, TPAMI 2015, sections 5 and 6.
class KernelFilter final : public StackFilter {
 public:
  /// \param rows, cols, channels  Shape of a stack; channels a multiple of 8.
  /// \param goal_sigma    Width of the wanted peak, cells, above 0.
  /// \param regulariser   Added to the kernel's spectrum at every frequency; the mean of that is 1 for a stack with
  ///                      itself.
  /// \param kernel        How alike two stacks are.
  /// \param kernel_sigma  Width of the Gaussian kernel, as a share of the norm of the first stack.
  KernelFilter(int rows, int cols, int channels, double goal_sigma, double regulariser, Kernel kernel,
               double kernel_sigma);

  void learn(ImageView<const float> stack, float rate) noexcept override;
  ImageView<const float> respond(ImageView<const float> stack) noexcept override;
  void keep() noexcept override;
  void go_back() noexcept override;
  [[nodiscard]] Image<float> picture() const override;

 private:
  void kernel_of(const Image<Complex>& a, float a_energy, const Image<Complex>& b, float b_energy) noexcept;

  PairTransform transform_;
  PairTransform plane_;
  float regulariser_;
  Kernel kernel_;
  double kernel_sigma_;
  float scale_ = 0;  // of distances in the kernel; 0 before the first stack
  float model_energy_ = 0;
  float kept_energy_ = 0;
  Image<Complex> goal_;
  Image<Complex> spectrum_;
  Image<Complex> model_;
  Image<Complex> kept_model_;
  Image<Complex> weights_;
  Image<Complex> kept_weights_;
  Image<float> alike_;  // the kernel at every shift, with 0 as the second of each pair
  Image<Complex> alike_spectrum_;
  ResponseMaker response_;
};

}  // namespace mnemon
