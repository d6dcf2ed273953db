// SPDX-License-Identifier: MIT
// The parts of the trackers by masks beside slow versions of themselves.
#include <algorithm>
#include <cmath>
#include <vector>

#include <Eigen/Dense>
#include <gtest/gtest.h>

#include <mnemon/image/bilinear.hpp>
#include <mnemon/track/mask/agreement.hpp>
#include <mnemon/track/mask/mask_cutter.hpp>
#include <mnemon/track/mask/mask_target.hpp>
#include <mnemon/track/mask/normal_equations.hpp>
#include <mnemon/track/mask/place_search.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::DrawnTarget;
using test::frame_of;

constexpr Ellipse kEllipse{{110, 80}, 27, 20, 25};
constexpr TargetPose kPoses[] = {{{110, 80}, 1, 0, 0},
                                 {{113.3, 77.8}, 1.13, 0.3, 0.05},
                                 {{96, 88}, 0.81, -1.9, -0.1},
                                 {{14, 150}, 1, 0.4, 0}};

// A target learnt from one picture, and a patch of another around a pose.
class MaskParts : public ::testing::TestWithParam<TargetPose> {
 protected:
  void SetUp() override {
    const Image<Byte> first = test::drawn_picture(std::vector<DrawnTarget>{{kEllipse}}, 160, 220, 1);
    const Box box = test::box_around_drawn(kEllipse);
    (void)target_.start(frame_of(first, 0), Region(box), box, {});
    picture_ = test::drawn_picture(std::vector<DrawnTarget>{{kEllipse}}, 160, 220, 2);
    patch_.look(frame_of(picture_, 1), GetParam().middle, 120, 110, 1, target_.colours());
    patch_.mix();
    seen_ = CellSamples(known().rows(), known().cols());
    seen_.take(patch_, known(), GetParam());
    visible_ = CellPlane(known().rows(), known().cols());
    Random random(3);
    for (int r = 0; r < known().rows(); ++r)
      for (int c = 0; c < known().cols(); ++c) visible_(r, c) = static_cast<float>(random.uniform(0, 1));
  }
  [[nodiscard]] const Appearance& known() const { return target_.appearance(); }
  // Where a cell of the appearance lies in the patch, in its cells.
  [[nodiscard]] Point cell_at(int r, int c) const {
    return patch_.cell_at(GetParam().place_of(known().place_of(r, c)));
  }
  template <class Work>
  void for_each_cell(Work work) const {
    for (int r = 0; r < known().rows(); ++r)
      for (int c = 0; c < known().cols(); ++c) work(r, c);
  }

  Image<Byte> picture_;
  MaskTarget target_;
  TargetPatch patch_;
  CellSamples seen_;
  CellPlane visible_;
};

}  // namespace

TEST_P(MaskParts, SampleWhatLiesBetweenTheCellsOfAPatch) {
  int outside = 0;
  for_each_cell([&](int r, int c) {
    const Point at = cell_at(r, c);
    const Point pixel = patch_.place_at(at);
    const bool in_picture = pixel.x >= 0 && pixel.y >= 0 && pixel.x < 220 && pixel.y < 160;
    EXPECT_EQ(seen_.in_picture()(r, c), in_picture ? 1 : 0) << r << " " << c;
    // Between middles of pixels of both the picture and the patch.
    const bool between = pixel.x >= std::max(0.5, patch_.left() + 0.5) &&
                         pixel.y >= std::max(0.5, patch_.top() + 0.5) &&
                         pixel.x < std::min(219.5, patch_.left() + patch_.cols() - 0.5) &&
                         pixel.y < std::min(159.5, patch_.top() + patch_.rows() - 0.5);
    EXPECT_EQ(seen_.taken()(r, c), between ? 1 : 0) << r << " " << c;
    outside += between ? 0 : 1;
    if (!between) return;
    for (int k = 0; k < kPatchChannels; ++k)
      EXPECT_NEAR(seen_.channel(k)(r, c), sampled(patch_.plane(k), at.x + 0.5, at.y + 0.5), 1e-3);
  });
  EXPECT_EQ(outside > 0, GetParam().middle.x < 50);
}

TEST_P(MaskParts, AgreeAsCellByCell) {
  for (const CellPlane* visible :
       {static_cast<const CellPlane*>(nullptr), static_cast<const CellPlane*>(&visible_)}) {
    double all = 0;
    double compared = 0;
    double lighter = 0;
    const auto for_each_weighed = [&](auto work) {
      for_each_cell([&](int r, int c) {
        const double shape = known().shape()(r, c);
        if (shape >= kLeastShape) work(r, c, shape * (visible != nullptr ? (*visible)(r, c) : 1));
      });
    };
    const auto difference = [&](int k, int r, int c) {
      return 1.0 * seen_.channel(k)(r, c) - known().channel(k)(r, c);
    };
    for_each_weighed([&](int r, int c, double weight) {
      all += weight;
      compared += weight * seen_.in_picture()(r, c);
      lighter += weight * seen_.taken()(r, c) * std::clamp(difference(0, r, c), -2.0, 2.0);
    });
    compared = std::max(compared, 0.25 * all);
    const double light = lighter / compared;
    double alike = 0;
    for_each_weighed([&](int r, int c, double weight) {
      const double squared = std::pow(difference(0, r, c) - light, 2) + std::pow(difference(1, r, c), 2) +
                             std::pow(difference(2, r, c), 2);
      alike += weight * seen_.taken()(r, c) / (1 + squared / kTolerated);
    });
    const Agreement agrees = agreement(seen_, known(), visible);
    EXPECT_NEAR(agrees.light, light, 1e-4);
    EXPECT_NEAR(agrees.likeness, alike / compared, 1e-5);
    if (visible == nullptr) {
      EXPECT_NEAR(lighter_by(seen_, known()), light, 1e-4);
    }
  }
}

TEST_P(MaskParts, CorrelateAsByDeviationsFromMeans) {
  double together = 0;
  double one = 0;
  double other = 0;
  double weights = 0;
  for (int k = 0; k < kLikelihood; ++k) {
    std::vector<double> weight;
    std::vector<double> a;
    std::vector<double> b;
    for_each_cell([&](int r, int c) {
      const double shape = known().shape()(r, c);
      if (shape < kLeastShape || seen_.taken()(r, c) == 0) return;
      weight.push_back(shape * visible_(r, c));
      a.push_back(seen_.channel(k)(r, c));
      b.push_back(known().channel(k)(r, c));
    });
    weights = 0;
    double mean_a = 0;
    double mean_b = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
      weights += weight[i];
      mean_a += weight[i] * a[i];
      mean_b += weight[i] * b[i];
    }
    mean_a /= weights;
    mean_b /= weights;
    for (std::size_t i = 0; i < a.size(); ++i) {
      together += weight[i] * (a[i] - mean_a) * (b[i] - mean_b);
      one += weight[i] * std::pow(a[i] - mean_a, 2);
      other += weight[i] * std::pow(b[i] - mean_b, 2);
    }
  }
  const double noise = 0.1 * weights;
  EXPECT_NEAR(correlation(seen_, known(), &visible_),
              (together + noise) / std::sqrt((one + noise) * (other + noise)), 1e-4);
}

// Each cell by itself, between cells of the patch; beyond its picture nothing of what was known is lost.
TEST_P(MaskParts, LearnWhatAPatchShows) {
  constexpr float kShapeRate = 0.2f;
  Random random(4);
  Image<Byte> labels(patch_.rows(), patch_.cols());
  for (Byte& label : labels.elements()) label = static_cast<Byte>(random.uniform() < 0.5);
  const Box box = test::box_around_drawn(kEllipse);
  for (const float rate :
       {0.3f, 1.0f}) {  // at a rate of 1 also what is not the target, and the edge of the picture beyond it
    const bool anew = rate == 1;
    Appearance learnt(box.w, box.h);
    learnt.copy_from(known());
    learnt.learn(seen_, patch_, labels.view(), GetParam(), rate, kShapeRate, &visible_);
    int compared = 0;
    for_each_cell([&](int r, int c) {
      const Point at = cell_at(r, c);
      const bool in_patch =
          at.x > -0.5 && at.y > -0.5 && at.x < patch_.cols() - 0.5 && at.y < patch_.rows() - 0.5;
      const int row = static_cast<int>(at.y + 0.5);
      const int col = static_cast<int>(at.x + 0.5);
      const bool stays = visible_(r, c) < 0.5f || (in_patch && !anew && !patch_.is_inside(row, col));
      const float is_target = in_patch ? labels(row, col) : 0;
      const float shape = known().shape()(r, c);
      EXPECT_NEAR(learnt.shape()(r, c), stays ? shape : shape + kShapeRate * (is_target - shape), 1e-6);
      for (int k = 0; k < kPatchChannels; ++k) {
        const float was = known().channel(k)(r, c);
        const bool learns = !stays && in_patch && (is_target != 0 || anew || k == kLikelihood);
        const float now = learns ? sampled(patch_.plane(k), at.x + 0.5, at.y + 0.5) : was;
        ASSERT_NEAR(learnt.channel(k)(r, c), was + rate * (now - was), 2e-3) << r << " " << c << " " << k;
        compared += learns ? 1 : 0;
      }
    });
    EXPECT_GT(compared, 500);
  }
}

// Each cell's equations one by one, in place of moments of them.
TEST_P(MaskParts, StepAsLeastSquaresOverCells) {
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

TEST_P(MaskParts, ExpectTheShapeAtItsPoseWhereItIsVisible) {
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

INSTANTIATE_TEST_SUITE_P(Poses, MaskParts, ::testing::ValuesIn(kPoses));

// The target elsewhere, and larger or smaller than a coarse cell divides: the place within half a coarse cell.
TEST(PlaceSearch, FindsTheTargetWhereverItIs) {
  for (const double size : {8.0, 20.0, 45.0}) {
    const Ellipse ellipse{{110, 80}, size, 0.8 * size, 0};
    const Box box = test::box_around_drawn(ellipse);
    MaskTarget target;
    (void)target.start(frame_of(test::drawn_picture(std::vector<DrawnTarget>{{ellipse}}, 160, 220, 1), 0),
                       Region(box), box, {});
    for (const Point moved : {Point{0, 0}, Point{0.6 * size, -0.4 * size}, Point{-0.9 * size, 0.7 * size}}) {
      const Ellipse there{{110 + moved.x, 80 + moved.y}, size, 0.8 * size, 0};
      const Image<Byte> picture = test::drawn_picture(std::vector<DrawnTarget>{{there}}, 160, 220, 2);
      TargetPatch patch;
      patch.look(frame_of(picture, 1), ellipse.middle, 3.2 * size + 2 * size, 3.2 * size + 2 * size, 1,
                 target.colours());
      PlaceSearch search;
      const Point found = search.find(patch, target.appearance(), {ellipse.middle, 1, 0, 0}, size);
      const double coarse = std::max(1.0, 2 * size / 11);
      EXPECT_NEAR(found.x, there.middle.x, 0.5 * coarse) << size;
      EXPECT_NEAR(found.y, there.middle.y, 0.5 * coarse) << size;
      const ImageView<const float> differences = search.differences();
      EXPECT_EQ(*std::ranges::max_element(differences.elements()), 0);
    }
  }
}

}  // namespace mnemon
