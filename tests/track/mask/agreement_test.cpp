// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/agreement.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include "support/drawn_target.hpp"
#include "track/mask/patch_at_pose.hpp"

namespace mnemon {
namespace {

class AgreementAtPoses : public test::PatchAtPose {};

using test::frame_of;

// The appearance of what is drawn in a picture's middle, and its correlation with other pictures there.
class CorrelationOfPictures : public ::testing::Test {
 protected:
  static constexpr Ellipse kMiddle{{110, 80}, 30, 24, 0};

  void learn(const Image<Byte>& picture) {
    const Box box = test::box_around_drawn(kMiddle);
    (void)target_.start(frame_of(picture, 0), box, box, {});
  }
  double with(const Image<Byte>& picture, Point place = kMiddle.middle) const {
    TargetPatch patch;
    patch.look(frame_of(picture, 1), place, 120, 120, 1, ColourModel());
    patch.mix();
    const Appearance& appearance = target_.appearance();
    CellSamples seen(appearance.rows(), appearance.cols());
    seen.take(patch, appearance, {place, 1, 0, 0});
    return correlation(seen, appearance);
  }

 private:
  MaskTarget target_;
};

}  // namespace

TEST_F(CorrelationOfPictures, IsHighOnTheTargetInAnyLight) {
  const Image<Byte> picture = test::picture_of({{kMiddle}}, 1);
  learn(picture);
  EXPECT_GT(with(test::picture_of({{kMiddle}}, 2)), 0.9);
  Image<Byte> darker = copy_of(picture.view());
  for (Byte& value : darker.elements()) value = static_cast<Byte>(value / 2 + 20);
  EXPECT_GT(with(darker), 0.85);
}

TEST_F(CorrelationOfPictures, IsLowBesideTheTargetAndOnAnother) {
  learn(test::picture_of({{kMiddle}}, 1));
  EXPECT_LT(with(test::picture_of({{kMiddle}}, 2), {60, 60}), 0.5);
  // Another pattern in other colours: the same one, turned.
  EXPECT_LT(with(test::picture_of({{{kMiddle.middle, 30, 24, 90}, 2.5}}, 2)), 0.6);
}

TEST_F(CorrelationOfPictures, OfPlainThingsIsHighAndOfAPlainOneWithAnotherLow) {
  Image<Byte> plain(test::kRows, test::kCols, 3);
  std::ranges::fill(plain.elements(), Byte{120});
  learn(plain);
  EXPECT_GT(with(plain), 0.99);
  EXPECT_LT(with(test::picture_of({{kMiddle}}, 2)), 0.5);
}

TEST_P(AgreementAtPoses, AgreeAsCellByCell) {
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

TEST_P(AgreementAtPoses, CorrelateAsByDeviationsFromMeans) {
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

INSTANTIATE_TEST_SUITE_P(Poses, AgreementAtPoses, ::testing::ValuesIn(test::kPoses));

}  // namespace mnemon
