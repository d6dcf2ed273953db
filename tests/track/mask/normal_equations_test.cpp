// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/normal_equations.hpp>

#include <algorithm>
#include <cmath>

#include <Eigen/Dense>
#include <gtest/gtest.h>

#include "track/mask/patch_at_pose.hpp"

namespace mnemon {
namespace {

class NormalEquationsAtPoses : public test::PatchAtPose {};

}  // namespace

// Each cell's equations one by one, in place of moments of them.
TEST_P(NormalEquationsAtPoses, StepAsLeastSquaresOverCells) {
  constexpr double kLight = 0.3;
  constexpr double kGrown = 0.04;
  constexpr double kStretched = -0.03;
  Eigen::Matrix<double, 6, 6> a = Eigen::Matrix<double, 6, 6>::Zero();
  Eigen::Matrix<double, 6, 1> b = Eigen::Matrix<double, 6, 1>::Zero();
  for (int r = 1; r + 1 < known().rows(); ++r)
    for (int c = 1; c + 1 < known().cols(); ++c)
      for (int k = 0; k < kPatchChannels; ++k) {
        const auto& channel = known().channel(k);
        const double d = seen_.channel(k)(r, c) - channel(r, c) - (k == 0 ? kLight : 0);
        const double shape = known().shape()(r, c);
        const double counts = (k == kLikelihood ? 0.15
                               : shape < 0.04   ? 0
                                                : shape) *
                              visible_(r, c) * seen_.taken()(r, c);
        const double across = 0.5 * (channel(r, c + 1) - channel(r, c - 1));
        const double down = 0.5 * (channel(r + 1, c) - channel(r - 1, c));
        const double x = c + 0.5 - 0.5 * known().cols();
        const double y = r + 0.5 - 0.5 * known().rows();
        Eigen::Matrix<double, 6, 1> moves;
        moves << across, down, x * across + y * down, x * down - y * across, x * across - y * down,
            k == 0 ? 1 : 0;
        const double weight = counts / (1 + d * d / kTolerated);
        a += weight * moves * moves.transpose();
        b += weight * d * moves;
      }
  const double held = 0.01 * std::pow(0.25 * known().rows() * known().cols(), 2);
  for (const int i : {2, 4}) {
    a(i, i) += held;
    b(i) += held * (i == 2 ? kGrown : kStretched);
  }
  a.diagonal() = 1.001 * a.diagonal() + Eigen::Matrix<double, 6, 1>::Constant(1e-6);
  const Eigen::Matrix<double, 6, 1> expected = a.fullPivLu().solve(b);
  NormalEquations equations(known().rows(), known().cols());
  equations.start(known(), &visible_);
  const PoseStep step = equations.solve(seen_, known(), kLight, kGrown, kStretched);
  const double got[] = {step.x, step.y, step.grown, step.turned, step.stretched, step.light};
  for (int i = 0; i < 6; ++i)
    EXPECT_NEAR(got[i], expected[i], 1e-4 * std::max(1.0, std::abs(expected[i]))) << i;
}

INSTANTIATE_TEST_SUITE_P(Poses, NormalEquationsAtPoses, ::testing::ValuesIn(test::kPoses));

}  // namespace mnemon
