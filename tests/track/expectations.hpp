// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <span>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/tracker.hpp>

#include "support/drawn_target.hpp"

namespace mnemon::test {

// With what lies in any of the ellipses.
inline double mask_overlap(ImageView<const Byte> mask, const std::vector<Ellipse>& ellipses) {
  int shared = 0;
  int joined = 0;
  double u = 0;
  double v = 0;
  for (int r = 0; r < mask.rows; ++r)
    for (int c = 0; c < mask.cols; ++c) {
      const bool right = std::ranges::any_of(
          ellipses, [&](const Ellipse& one) { return is_inside(one, c + 0.5, r + 0.5, u, v); });
      shared += right && mask(r, c) != 0 ? 1 : 0;
      joined += right || mask(r, c) != 0 ? 1 : 0;
    }
  return 1.0 * shared / joined;
}

inline double mask_overlap(ImageView<const Byte> mask, const Ellipse& ellipse) {
  return mask_overlap(mask, std::vector{ellipse});
}

// A mask of some ellipses.
inline Image<Byte> mask_of(const std::vector<Ellipse>& ellipses) {
  Image<Byte> mask(kRows, kCols);
  double u = 0;
  double v = 0;
  for (int r = 0; r < kRows; ++r)
    for (int c = 0; c < kCols; ++c)
      for (const Ellipse& one : ellipses)
        if (is_inside(one, c + 0.5, r + 0.5, u, v)) mask(r, c) = 9;
  return mask;
}

// Two pieces that move as one, and something of the target's colours beside them that was not marked.
struct ThreePieces {
  Ellipse left, right, beside;
  explicit ThreePieces(int i)
      : left{{70 + 1.2 * i, 60 + 0.5 * i}, 16, 20, 0},
        right{{116 + 1.2 * i, 66 + 0.5 * i}, 20, 14, 0},
        beside{{92 + 1.2 * i, 112 + 0.5 * i}, 13, 13, 0} {}
  [[nodiscard]] Image<Byte> picture(std::uint64_t key) const {
    return picture_of({{left}, {right}, {beside}}, key);
  }
};

template <class T>
void expect_marked_pieces(T& tracker) {
  for (const bool marks_both : {true, false}) {
    for (int i = 0; i < 30; ++i) {
      const ThreePieces pieces(i);
      const Image<Byte> picture = pieces.picture(10 + i);
      const std::vector<Ellipse> target =
          marks_both ? std::vector{pieces.left, pieces.right} : std::vector{pieces.left};
      const Image<Byte> mask = mask_of(target);
      const Estimate estimate = seed_or_follow(tracker, frame_of(picture, i), Region(mask.view()));
      EXPECT_TRUE(estimate.present) << i;
      EXPECT_GT(mask_overlap(estimate.mask, target), 0.8) << marks_both << ' ' << i;
      if (!marks_both) continue;
      const Box left = box_around_drawn(pieces.left);
      const Box right = box_around_drawn(pieces.right);
      const Box both{left.x, left.y, right.x + right.w - left.x,
                     std::max(left.y + left.h, right.y + right.h) - left.y};
      EXPECT_GT(overlap(estimate.box.box, both), 0.85) << i;
    }
  }
}

// The worst mask over a path, from the box on its first frame.
template <class T>
double least_mask_overlap(T& tracker, const std::vector<Ellipse>& path) {
  double least = 1;
  for (int i = 0; i < static_cast<int>(path.size()); ++i) {
    const Image<Byte> picture = picture_of({{path[i]}}, 10 + i);
    const Estimate estimate = seed_or_follow(tracker, frame_of(picture, i), box_around_drawn(path[0]));
    EXPECT_TRUE(estimate.present) << i;
    least = std::min(least, mask_overlap(estimate.mask, path[i]));
  }
  return least;
}

inline std::vector<Ellipse> growing_and_turning() {
  std::vector<Ellipse> path;
  for (int i = 0; i < 40; ++i)
    path.push_back({{80 + 1.6 * i, 80 + 8 * std::sin(0.2 * i)},
                    24 * std::exp(0.012 * i),
                    17 * std::exp(0.012 * i),
                    4.0 * i});
  return path;
}

// The target slides behind a bar, stays there for 15 frames, and comes out again.
template <class T>
void expect_to_survive_hiding(T& tracker) {
  int told = 0;
  for (int i = 0; i < 70; ++i) {
    const Ellipse ellipse{{40 + 2.0 * i, 80}, 18, 14, 0};
    Image<Byte> picture = picture_of({{ellipse}}, 100 + i);
    for (int r = 0; r < kRows; ++r)
      for (int c = 84; c < 84 + 66; ++c)
        for (int k = 0; k < 3; ++k)
          picture(r, c, k) = static_cast<Byte>(60 + 12 * k + ((r / 7 + c / 5) % 2 != 0 ? 25 : 0));
    const Estimate estimate = seed_or_follow(tracker, frame_of(picture, i), box_around_drawn(ellipse));
    if (ellipse.middle.x - 18 > 84 && ellipse.middle.x + 18 < 150) told += estimate.present ? 0 : 1;
    if (i < 20 || i > 66) {
      EXPECT_GT(overlap(estimate.box.box, box_around_drawn(ellipse)), 0.6) << i;
    }
    if (!estimate.present) {
      EXPECT_FALSE(is_turned(estimate.box)) << i;  // of what was seen before it was lost
      EXPECT_EQ(std::ranges::count(std::span(estimate.mask.data, estimate.mask.size()), 1), 0);
    }
  }
  EXPECT_GE(told, 13);  // of 14 or 15 frames wholly behind it
}

inline Image<Byte> in_light(Image<Byte> picture, const std::array<double, 3>& gains) {
  for (std::size_t k = 0; k < picture.elements().size(); ++k)
    picture.elements()[k] = static_cast<Byte>(std::min(255.0, picture.elements()[k] * gains[k % 3]));
  return picture;
}

// The camera sets exposure and white balance anew within three frames, twice.
template <class T>
void expect_to_hold_in_another_light(T& tracker) {
  constexpr double kGains[][3] = {{1, 1, 1}, {0.55, 0.65, 0.8}, {1.1, 1, 0.9}};
  for (int i = 0; i < 60; ++i) {
    const Ellipse ellipse{{60 + 1.5 * i, 80 + 12 * std::sin(0.2 * i)}, 24, 18, 0};
    const int from = i < 30 ? 0 : 1;
    const double share = std::clamp((i - (from == 0 ? 10 : 40)) / 3.0, 0.0, 1.0);
    const auto gain = [&](int k) { return std::lerp(kGains[from][k], kGains[from + 1][k], share); };
    const Image<Byte> picture = in_light(picture_of({{ellipse}}, 700 + i), {gain(0), gain(1), gain(2)});
    const Box right = box_around_drawn(ellipse);
    const Estimate estimate = seed_or_follow(tracker, frame_of(picture, i), right);
    EXPECT_TRUE(estimate.present) << i;
    EXPECT_GT(overlap(estimate.box.box, right), 0.75) << i;
  }
}

// The light fades to less than half, and reddens, while the target is away; the camera is still.
template <class T>
void expect_to_find_in_another_light(T& tracker) {
  for (int i = 0; i < 90; ++i) {
    const bool is_away = i > 20 && i < 75;
    const Ellipse ellipse{{60 + 1.5 * std::min(i, 20) + std::max(0, i - 75), 80}, 24, 18, 0};
    const double share = std::clamp((i - 22) / 50.0, 0.0, 1.0);
    const Image<Byte> picture =
        in_light(is_away ? picture_of({}, 900 + i) : picture_of({{ellipse}}, 900 + i),
                 {std::pow(0.55, share), std::pow(0.45, share), std::pow(0.35, share)});
    const Box right = box_around_drawn(ellipse);
    const Estimate estimate = seed_or_follow(tracker, frame_of(picture, i), right);
    const double met = estimate.present ? overlap(estimate.box.box, right) : 0;
    if (i > 25 && is_away) {
      EXPECT_FALSE(estimate.present) << i;
    }
    if (i > 80) {
      EXPECT_GT(met, 0.75) << i;
    }
  }
}

// A target in the middle of the picture.
inline constexpr Ellipse kMiddle{{110, 80}, 32, 24, 0};

// Puts a chequered board before all columns from one to another, in the upper rows.
inline void put_board(Image<Byte>& picture, int from, int to, int rows = kRows) {
  for (int r = 0; r < rows; ++r)
    for (int c = std::max(0, from); c < std::min(kCols, to); ++c)
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>(40 + 14 * k + ((r / 6 + c / 6) % 2 != 0 ? 30 : 0));
}

// A board slides over half of a target that stands still, stays there, and goes back. What is left of the target would
// have a box that overlaps with the right one by half.
template <class T>
void expect_to_keep_its_size(T& tracker) {
  for (int i = 0; i < 90; ++i) {
    Image<Byte> picture = picture_of({{kMiddle}}, 300 + i);
    const int reached = std::clamp(std::min(2 * (i - 5), 2 * (70 - i)), 0, 32);
    put_board(picture, 143 - reached, kCols);
    const Box right = box_around_drawn(kMiddle);
    const Estimate estimate = seed_or_follow(tracker, frame_of(picture, i), right);
    EXPECT_TRUE(estimate.present) << i;
    EXPECT_GT(overlap(estimate.box.box, right), i < 10 || i > 80 ? 0.85 : 0.8) << i;
    int on_board = 0;
    for (int r = 0; r < kRows; ++r)
      for (int c = 146 - reached; c < kCols; ++c) on_board += estimate.mask(r, c);
    EXPECT_LT(on_board, 60) << i;  // px, of up to 1200 that are hidden
  }
}

// A target goes, and after a while is there again elsewhere, half as large.
template <class T>
void expect_to_find_it_smaller(T& tracker) {
  const Ellipse large{{60, 60}, 32, 24, 0};
  const Ellipse small{{150, 95}, 16, 12, 0};
  for (int i = 0; i < 60; ++i) {
    std::vector<DrawnTarget> drawn;
    if (i < 15 || i >= 25) drawn.push_back({i < 15 ? large : small});
    const Image<Byte> picture = drawn_picture(drawn, kRows, kCols, 1100 + i);
    const Estimate estimate = seed_or_follow(tracker, frame_of(picture, i), box_around_drawn(large));
    if (i < 25 || i > 40) {
      EXPECT_EQ(estimate.present, i < 15 || i > 40) << i;
    }
    if (i > 40) {
      EXPECT_GT(overlap(estimate.box.box, box_around_drawn(small)), 0.8) << i;
    }
  }
}

}  // namespace mnemon::test
