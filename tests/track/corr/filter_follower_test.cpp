// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/filter_follower.hpp>

#include <algorithm>
#include <array>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/corr/patch_window.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

constexpr int kSide = 40;  // px, of both things in the scene

// Blocks of 8 x 8 px of random brightness, tinted.
Image<Byte> blocks(int rows, int cols, std::uint64_t key, const std::array<double, 3>& tint) {
  Random random(key);
  Image<Byte> rgb(rows, cols, 3);
  for (int top = 0; top < rows; top += 8)
    for (int left = 0; left < cols; left += 8) {
      const double light = random.uniform(60, 230);
      for (int r = top; r < std::min(rows, top + 8); ++r)
        for (int c = left; c < std::min(cols, left + 8); ++c)
          for (int k = 0; k < 3; ++k) rgb(r, c, k) = static_cast<Byte>(light * tint[k]);
    }
  return rgb;
}

void put(const Image<Byte>& thing, const Box& at, Image<Byte>& rgb) {
  for (int r = 0; r < thing.rows(); ++r)
    std::copy_n(thing.view().row(r), 3 * thing.cols(),
                rgb.view().row(r + static_cast<int>(at.y)) + 3 * static_cast<int>(at.x));
}

}  // namespace

// The target is hidden; a thing of its colours that is a little like it comes into view, and is taken for it. Once the
// target is back elsewhere it is followed again; not so where nothing is looked for beside what is held.
TEST(FilterFollower, TurnsFromWhatItTookForALostTargetToTheTarget) {
  const std::array<double, 3> tint{1, 0.55, 0.1};
  const Image<Byte> target = blocks(kSide, kSide, 2, tint);
  Image<Byte> other = blocks(kSide, kSide, 3, tint);
  for (int r = 0; r < kSide; ++r)
    for (int c = 0; c < kSide; ++c)
      for (int k = 0; k < 3; ++k)
        other(r, c, k) = static_cast<Byte>(0.35 * target(r, c, k) + 0.65 * other(r, c, k));
  const int hidden_at = 20;
  const int other_at = 26;
  const int back_at = 80;
  const Box first{80, 100, kSide, kSide};
  const Box wrong{150, 110, kSide, kSide};
  const Box back{300, 60, kSide, kSide};
  for (const bool looks_beside : {true, false}) {
    const auto tracker = Catalogue::standard().make("corr-kernel", {{"rivals", looks_beside}});
    Estimate last;
    for (int i = 0; i < back_at + 40; ++i) {
      Image<Byte> rgb = blocks(240, 400, 1, {0.4, 0.5, 0.55});
      if (i < hidden_at) put(target, first, rgb);
      if (i >= other_at) put(other, wrong, rgb);
      if (i >= back_at) put(target, back, rgb);
      last = test::seed_or_follow(*tracker, test::frame_of(rgb, i), first);
      const bool is_misled = last.present && overlap(last.box.box, wrong) > 0.5;
      ASSERT_TRUE(i != back_at - 1 || is_misled) << "nothing to turn from";
    }
    EXPECT_TRUE(last.present);
    EXPECT_GT(overlap(last.box.box, looks_beside ? back : wrong), 0.5);
  }
}

// A filter that waits learns the frames between at once: on a target that stays as it is, it comes to the same. It is the
// same on the frames until it first learns, and another after that.
TEST(FilterFollower, LearnsAsMuchWhereItWaits) {
  for (const char* name : {"corr-kernel", "corr-scaled", "corr-reliable"}) {
    const auto always = Catalogue::standard().make(name, {{"learn_wait", 1}});
    const auto waits = Catalogue::standard().make(name, {{"learn_wait", 3}});
    const Image<Byte> target = blocks(kSide, kSide, 2, {1, 0.55, 0.1});
    bool differs = false;
    for (int i = 0; i < 20; ++i) {
      Image<Byte> rgb = blocks(240, 400, 1, {0.4, 0.5, 0.55});
      const Box at{80.0 + 3 * i, 100.0 + i, kSide, kSide};
      put(target, at, rgb);
      const Frame frame = test::frame_of(rgb, i);
      const Estimate one = test::seed_or_follow(*always, frame, at);
      const Estimate other = test::seed_or_follow(*waits, frame, at);
      // The filter of the seed sees the next frame in both.
      if (i <= 1) {
        EXPECT_EQ(one.box, other.box) << name;
      }
      differs = differs || one.confidence != other.confidence;
      EXPECT_GT(overlap(other.box.box, at), 0.9) << name << " " << i;
      EXPECT_NEAR(one.confidence, other.confidence, 0.05) << name << " " << i;
    }
    EXPECT_TRUE(differs) << name;
  }
}

TEST(FilterFollower, NeverNeedsMoreThanTwoFramesOfWindow) {
  const FrameSize frame{640, 360};
  for (const Box& target : {Box{0, 0, 1, 1}, Box{0, 0, 12, 60}, Box{0, 0, 60, 50}, Box{0, 0, 600, 340}}) {
    const PatchWindow window(target.w, target.h, {3, 12, 32, 4});
    const double most = FilterFollower::most_scale(frame, target, window);
    EXPECT_GE(most, 1);
    EXPECT_LE(most * window.width_px(), std::max(1280.0, window.width_px()));
    EXPECT_LE(most * window.height_px(), std::max(720.0, window.height_px()));
  }
}

}  // namespace mnemon
