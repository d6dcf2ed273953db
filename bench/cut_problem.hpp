// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>
#include <utility>

#include <mnemon/scene/scene.hpp>
#include <mnemon/track/mask/mask_target.hpp>

namespace mnemon::bench {

/// The grid that a target in a frame of an easy flight is cut out of, at a size of choice: its gains are those of the
/// target's colours and shape, its borders those of the picture.
class RealCut {
 public:
  explicit RealCut(int side) : scene_(demo_scene("steady"), {{"frames", 2}}, 1), picture_(scene_.render(1)) {
    const Box box = scene_.truth().rows[1].box.box;
    const Frame frame{std::as_const(picture_).view(), 1, 0};
    ColourModel colours;
    const double window = 2 * std::max(box.w, box.h);
    patch_.look(frame, centre(box), window, window, 1, colours);
    Appearance shape(window, window);
    for (int r = 0; r < patch_.rows(); ++r)
      for (int c = 0; c < patch_.cols(); ++c) {
        const bool inside =
            std::hypot(r + 0.5 - 0.5 * patch_.rows(), c + 0.5 - 0.5 * patch_.cols()) < 0.2 * patch_.rows();
        if (inside)
          colours.count_target(patch_.colour(r, c));
        else
          colours.count_surroundings(patch_.colour(r, c));
      }
    colours.learn(1);
    patch_.weigh(colours);
    (void)cutter_.cut(patch_, shape, {centre(box), 1, 0, 0});
    // At another size: each cell is that of the patch beneath it.
    const CutProblem from = cutter_.problem();
    gain_ = Image<std::int32_t>(side, side);
    right_ = Image<std::int32_t>(side, side);
    down_ = Image<std::int32_t>(side, side);
    for (int r = 0; r < side; ++r)
      for (int c = 0; c < side; ++c) {
        const int i = r * from.gain.rows / side;
        const int j = c * from.gain.cols / side;
        gain_(r, c) = from.gain(i, j);
        right_(r, c) = from.right(i, j);
        down_(r, c) = from.down(i, j);
      }
  }
  [[nodiscard]] CutProblem problem() const { return {gain_.view(), right_.view(), down_.view()}; }

 private:
  Scene scene_;
  Image<Byte> picture_;
  TargetPatch patch_;
  MaskCutter cutter_{{1, 0, 2}};
  Image<std::int32_t> gain_, right_, down_;
};

}  // namespace mnemon::bench
