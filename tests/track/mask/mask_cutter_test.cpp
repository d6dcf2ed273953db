// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/mask_cutter.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/image/bilinear.hpp>

#include "support/drawn_target.hpp"
#include "track/mask/patch_at_pose.hpp"

namespace mnemon {
namespace {

class MaskCutterAtPoses : public test::PatchAtPose {};

using test::frame_of;

}  // namespace

TEST(MaskCutter, KeepsWhatIsMarked) {
  const Ellipse ellipse{{110, 80}, 30, 30, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 3);
  TargetPatch patch;
  patch.look(frame_of(picture, 0), ellipse.middle, 90, 90, 2, ColourModel());
  patch.mix();
  Appearance nothing(60, 60);
  for (int r = 0; r < nothing.rows(); ++r)
    for (int c = 0; c < nothing.cols(); ++c) nothing.shape()(r, c) = 0.5f;
  Image<Byte> must(patch.rows(), patch.cols());
  for (Byte& one : must.elements()) one = CutProblem::kAround;
  must(20, 20) = CutProblem::kTarget;
  MaskCutter cutter;
  const CutMask mask = cutter.cut(patch, nothing, {ellipse.middle, 1, 0, 0}, {}, must.view());
  EXPECT_EQ(mask.area, 1);
  EXPECT_EQ(mask.labels(20, 20), 1);
}

TEST_P(MaskCutterAtPoses, ExpectTheShapeAtItsPoseWhereItIsVisible) {
  constexpr CutRules kRules{0, 1, 2};  // by shape alone
  MaskCutter cutter(kRules);
  (void)cutter.cut(patch_, known(), GetParam(), &visible_);
  const CutProblem problem = cutter.problem();
  const ImageView<const float> shape = known().shape();
  int open = 0;
  for (int r = 0; r < patch_.rows(); ++r)
    for (int c = 0; c < patch_.cols(); ++c) {
      const Point at = known().cell_at(GetParam().about_middle(patch_.place_at({1.0 * c, 1.0 * r})));
      const double off = std::max(std::abs(at.x + 0.5 - 0.5 * shape.cols) - 0.5 * shape.cols,
                                  std::abs(at.y + 0.5 - 0.5 * shape.rows) - 0.5 * shape.rows);
      if (std::abs(off) < 1e-4) continue;  // just on the rim
      ASSERT_EQ(problem.fixed(r, c), off < 0 ? CutProblem::kOpen : CutProblem::kAround) << r << " " << c;
      if (off > 0) continue;
      ++open;
      const auto row = static_cast<int>(std::clamp(at.y, 0.0, shape.rows - 1.0) + 0.5);
      const auto col = static_cast<int>(std::clamp(at.x, 0.0, shape.cols - 1.0) + 0.5);
      const double share = visible_(row, col) * sampled(shape, at.x + 0.5, at.y + 0.5);
      const double sure = 0.08 + 0.84 * share;
      // Shares are told apart in steps; at the rim between two visible cells either may count.
      const double fraction_x = std::abs(at.x + 0.5 - std::round(at.x + 0.5));
      const double fraction_y = std::abs(at.y + 0.5 - std::round(at.y + 0.5));
      if (std::min(fraction_x, fraction_y) < 1e-4) continue;
      ASSERT_NEAR(problem.gain(r, c), 1000 * std::log(sure / (1 - sure)), 10) << r << " " << c;
    }
  EXPECT_GT(open, 500);
}

INSTANTIATE_TEST_SUITE_P(Poses, MaskCutterAtPoses, ::testing::ValuesIn(test::kPoses));

}  // namespace mnemon
