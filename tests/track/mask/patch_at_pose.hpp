// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/track/mask/mask_target.hpp>

#include "support/drawn_target.hpp"

namespace mnemon::test {

inline constexpr Ellipse kDrawnEllipse{{110, 80}, 27, 20, 25};
inline constexpr TargetPose kPoses[] = {{{110, 80}, 1, 0, 0},
                                        {{113.3, 77.8}, 1.13, 0.3, 0.05},
                                        {{96, 88}, 0.81, -1.9, -0.1},
                                        {{14, 150}, 1, 0.4, 0}};

// A target learnt from one picture, and a patch of another around a pose.
class PatchAtPose : public ::testing::TestWithParam<TargetPose> {
 protected:
  void SetUp() override {
    const Image<Byte> first = drawn_picture(std::vector<DrawnTarget>{{kDrawnEllipse}}, 160, 220, 1);
    const Box box = box_around_drawn(kDrawnEllipse);
    (void)target_.start(frame_of(first, 0), Region(box), box, {});
    picture_ = drawn_picture(std::vector<DrawnTarget>{{kDrawnEllipse}}, 160, 220, 2);
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

}  // namespace mnemon::test
