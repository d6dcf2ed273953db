// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <span>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/track/blob/colour.hpp>
#include <mnemon/track/marked/marked_mask.hpp>
#include <mnemon/track/mask/memory.hpp>
#include <mnemon/track/mask/plain.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::DrawnTarget;
using test::frame_of;
using Targets = std::vector<DrawnTarget>;

// With what lies in any of the ellipses.
double mask_overlap(ImageView<const Byte> mask, const std::vector<Ellipse>& ellipses) {
  int shared = 0;
  int joined = 0;
  double u = 0;
  double v = 0;
  for (int r = 0; r < mask.rows; ++r)
    for (int c = 0; c < mask.cols; ++c) {
      const bool right = std::ranges::any_of(
          ellipses, [&](const Ellipse& one) { return test::is_inside(one, c + 0.5, r + 0.5, u, v); });
      shared += right && mask(r, c) != 0 ? 1 : 0;
      joined += right || mask(r, c) != 0 ? 1 : 0;
    }
  return 1.0 * shared / joined;
}

double mask_overlap(ImageView<const Byte> mask, const Ellipse& ellipse) {
  return mask_overlap(mask, std::vector{ellipse});
}

// A mask of some ellipses.
Image<Byte> mask_of(const std::vector<Ellipse>& ellipses) {
  Image<Byte> mask(test::kRows, test::kCols);
  double u = 0;
  double v = 0;
  for (int r = 0; r < test::kRows; ++r)
    for (int c = 0; c < test::kCols; ++c)
      for (const Ellipse& one : ellipses)
        if (test::is_inside(one, c + 0.5, r + 0.5, u, v)) mask(r, c) = 9;
  return mask;
}

TEST(TargetPose, MapsThereAndBack) {
  const TargetPose pose{{40, 30}, 1.7, 0.6, -0.2};
  for (const Point at : {Point{0, 0}, {5, -3}, {-20, 11}}) {
    const Point there = pose.place_of(at);
    EXPECT_NEAR(pose.about_middle(there).x, at.x, 1e-12);
    EXPECT_NEAR(pose.about_middle(there).y, at.y, 1e-12);
  }
  // A quarter turn clockwise as seen on the screen takes x to y.
  const Point turned = TargetPose{{0, 0}, 2, std::numbers::pi / 2, 0}.place_of({1, 0});
  EXPECT_NEAR(turned.x, 0, 1e-12);
  EXPECT_NEAR(turned.y, 2, 1e-12);
}

// A target that has moved, grown, turned and stretched all at once: the fit has to find each.
TEST(PoseFit, FindsPlaceSizeTurnAndStretch) {
  const Ellipse first{{110, 80}, 34, 26, 0};
  const Ellipse second{{110 + 13.4, 80 - 8.7}, 34 * 1.06 * std::exp(0.04), 26 * 1.06 * std::exp(-0.04), 8};
  const Image<Byte> before = test::picture_of({{first}}, 1);
  const Image<Byte> after = test::picture_of({{second}}, 2);
  MaskTarget target;
  const Box box = test::box_around_drawn(first);
  (void)target.start(frame_of(before, 0), box, box, {});
  const MaskSighting seen = target.look(frame_of(after, 1), {centre(box), 1, 0, 0});
  EXPECT_NEAR(seen.pose.middle.x, second.middle.x, 1);
  EXPECT_NEAR(seen.pose.middle.y, second.middle.y, 1);
  EXPECT_NEAR(seen.pose.scale, 1.06, 0.02);
  EXPECT_NEAR(seen.pose.turn, 8 * std::numbers::pi / 180, 0.03);
  EXPECT_NEAR(seen.pose.stretch, 0.04, 0.02);
}

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

// The mask of an ellipse, from no more than its box: its corners are cut off.
TEST(MaskTarget, CutsTheTargetOutOfItsBox) {
  const Ellipse ellipse{{100, 84}, 40, 25, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 4);
  MaskPlain tracker(MaskPlainParams{});
  const Estimate seeded = tracker.seed(frame_of(picture, 0), test::box_around_drawn(ellipse));
  EXPECT_GT(mask_overlap(seeded.mask, ellipse), 0.9);
  ASSERT_TRUE(seeded.minor_px.has_value());
  EXPECT_NEAR(*seeded.minor_px, 50, 3);
}

// A look that ends in a pose at hand leaves it at that; one that does not is had as if none were known.
TEST(MaskTarget, DoesNotCutOutWhatIsAtAKnownPose) {
  const Ellipse first{{100, 84}, 40, 25, 0};
  const Image<Byte> before = test::picture_of({{first}}, 4);
  const Image<Byte> after = test::picture_of({{{{104, 80}, 40, 25, 10}}}, 5);
  const Box box = test::box_around_drawn(first);
  MaskTarget target;
  (void)target.start(frame_of(before, 0), Region(box), box, {});
  const auto look = [&](std::span<const TargetPose> known) {
    return target.look(frame_of(after, 1), {centre(box), 1, 0, 0}, target.appearance(), target.colours(), 1,
                       known);
  };
  const MaskSighting seen = look({});
  EXPECT_FALSE(seen.is_known);
  ASSERT_GT(seen.area, 0);
  const double cell = target.appearance().cell_px();
  const auto moved = [&](double by) {
    TargetPose pose = seen.pose;
    pose.middle.x += by;
    return pose;
  };
  const MaskSighting again = look(std::array{moved(5 * cell), moved(0.4 * cell)});
  EXPECT_TRUE(again.is_known);
  EXPECT_EQ(again.pose.middle.x, seen.pose.middle.x);
  EXPECT_EQ(again.area, 0);
  const MaskSighting other = look(std::array{moved(5 * cell), moved(0.6 * cell)});
  EXPECT_FALSE(other.is_known);
  EXPECT_EQ(other.area, seen.area);
  EXPECT_EQ(other.likeness, seen.likeness);
}

TEST(TargetPose, IsAsFarFromAnotherAsACornerOfItsBox) {
  const TargetPose pose{{50, 40}, 1.2, 0.3, 0.1};
  EXPECT_EQ(pose.farthest_from(pose, 20, 10), 0);
  TargetPose other = pose;
  other.middle = {53, 44};
  EXPECT_NEAR(pose.farthest_from(other, 20, 10), 5, 1e-9);
  other = pose;
  other.scale *= 1.5;
  const double corner = std::hypot(20 * pose.scale_x(), 10 * pose.scale_y());
  EXPECT_NEAR(pose.farthest_from(other, 20, 10), 0.5 * corner, 1e-9);
  other = pose;
  other.turn += 0.4;
  EXPECT_NEAR(other.farthest_from(pose, 20, 10), 2 * std::sin(0.2) * corner, 1e-9);
}

// What is shown later than what was mixed is mixed as well, and with other colours all of it anew.
TEST(TargetPatch, MixesWhateverPartIsShown) {
  const Image<Byte> picture = test::picture_of({{{{100, 84}, 40, 25, 0}}}, 4);
  TargetPatch patch;
  ColourModel colours;
  patch.look(frame_of(picture, 0), {100, 84}, 100, 80, 2, colours);
  const auto check = [&] {
    patch.mix();
    for (int r = 0; r < patch.rows(); ++r)
      for (int c = 0; c < patch.cols(); ++c) {
        const Byte* const rgb = &patch.cells()(r, c);
        const Opponents here = opponents_of(rgb[0], rgb[1], rgb[2]);
        const float channels[] = {here.light, here.red, here.yellow,
                                  kLikelihoodUnit * colours.table()[patch.colour(r, c)]};
        for (int k = 0; k < kPatchChannels; ++k) {
          ASSERT_FLOAT_EQ(patch.plane(k)(r, c), channels[k]) << k << ": " << r << " " << c;
          ASSERT_EQ(patch.mixed()(r, c, k), patch.plane(k)(r, c)) << k << ": " << r << " " << c;
        }
      }
  };
  patch.narrow({70, 60, 30, 24});
  check();
  patch.narrow({76, 66, 20, 18});
  check();
  patch.narrow({72, 48, 40, 50});
  check();
  const std::vector<Byte> labels(patch.cols(), 1);
  colours.count(&patch.cells()(3, 0), labels.data(), patch.cols());
  colours.learn(1);
  patch.weigh(colours);
  check();
  patch.widen();
  check();
}

// A look that was kept while another one was had is learnt from as if there had been no other.
TEST(MaskTarget, RecallsTheSightingThatWasKept) {
  const Ellipse first{{100, 84}, 40, 25, 0};
  const Ellipse second{{104, 80}, 40, 25, 10};
  const Image<Byte> before = test::picture_of({{first}}, 4);
  const Image<Byte> after = test::picture_of({{second}}, 5);
  const Box box = test::box_around_drawn(first);
  const auto learnt = [&](bool looks_elsewhere) {
    MaskTarget target;
    (void)target.start(frame_of(before, 0), Region(box), box, {});
    const MaskSighting seen = target.look(frame_of(after, 1), {centre(box), 1, 0, 0});
    if (looks_elsewhere) {
      target.keep();
      const MaskSighting elsewhere = target.look(frame_of(after, 1), {{60, 60}, 0.8, 0.4, 0});
      EXPECT_NE(elsewhere.likeness, seen.likeness);
      target.recall();
    }
    target.found();
    target.learn(seen);
    std::vector<float> all;
    for (int k = 0; k < kPatchChannels; ++k)
      for (int r = 0; r < target.appearance().rows(); ++r)
        for (int c = 0; c < target.appearance().cols(); ++c)
          all.push_back(target.appearance().channel(k)(r, c));
    all.insert(all.end(), target.colours().table(), target.colours().table() + kColours);
    target.draw_mask(true);
    const ImageView<const Byte> mask = target.mask();
    for (int r = 0; r < mask.rows; ++r)
      for (int c = 0; c < mask.cols; ++c) all.push_back(mask(r, c));
    return all;
  };
  EXPECT_EQ(learnt(true), learnt(false));
}

TEST(MaskTarget, RefitsABoxThatIsALittleOff) {
  const Ellipse ellipse{{100, 84}, 40, 25, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 4);
  const Box right = test::box_around_drawn(ellipse);
  const auto refitted = [&](const Box& marked) {
    MaskRules rules;
    rules.refit = true;
    MaskTarget target;
    return target.start(frame_of(picture, 0), Region(marked), marked, rules).box;
  };
  EXPECT_GT(overlap(refitted(right), right), 0.92);
  for (const Box& off : {Box{right.x + 8, right.y, right.w, right.h},
                         Box{right.x, right.y - 5, right.w, right.h}, scaled(right, 1.2)})
    EXPECT_GT(overlap(refitted(off), right), overlap(off, right) + 0.06) << off.x << ' ' << off.y;
  // Without, a box is as it was marked.
  MaskTarget target;
  const Box off{right.x + 8, right.y, right.w, right.h};
  EXPECT_EQ(target.start(frame_of(picture, 0), Region(off), off, MaskRules()).box, off);
}

TEST(MaskTarget, TakesAnOutlineAsItIs) {
  const Ellipse ellipse{{100, 84}, 40, 25, 20};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 4);
  const Image<Byte> mask = mask_of({ellipse});
  MaskPlain tracker(MaskPlainParams{});
  const Estimate seeded = tracker.seed(frame_of(picture, 0), Region(std::as_const(mask).view()));
  EXPECT_GT(mask_overlap(seeded.mask, ellipse), 0.93);
}

// Two pieces that move as one, and something of the target's colours beside them that was not marked.
struct ThreePieces {
  Ellipse left, right, beside;
  explicit ThreePieces(int i)
      : left{{70 + 1.2 * i, 60 + 0.5 * i}, 16, 20, 0},
        right{{116 + 1.2 * i, 66 + 0.5 * i}, 20, 14, 0},
        beside{{92 + 1.2 * i, 112 + 0.5 * i}, 13, 13, 0} {}
  [[nodiscard]] Image<Byte> picture(std::uint64_t key) const {
    return test::picture_of({{left}, {right}, {beside}}, key);
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
      const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), Region(mask.view()));
      EXPECT_TRUE(estimate.present) << i;
      EXPECT_GT(mask_overlap(estimate.mask, target), 0.8) << marks_both << ' ' << i;
      if (!marks_both) continue;
      const Box left = test::box_around_drawn(pieces.left);
      const Box right = test::box_around_drawn(pieces.right);
      const Box both{left.x, left.y, right.x + right.w - left.x,
                     std::max(left.y + left.h, right.y + right.h) - left.y};
      EXPECT_GT(overlap(estimate.box.box, both), 0.85) << i;
    }
  }
}

TEST(MaskPlain, KeepsEveryPieceThatWasMarked) {
  MaskPlain tracker(MaskPlainParams{});
  expect_marked_pieces(tracker);
}

TEST(MaskMemory, KeepsEveryPieceThatWasMarked) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_marked_pieces(tracker);
}

// The worst mask over a path, from the box on its first frame.
template <class T>
double least_mask_overlap(T& tracker, const std::vector<Ellipse>& path) {
  double least = 1;
  for (int i = 0; i < static_cast<int>(path.size()); ++i) {
    const Image<Byte> picture = test::picture_of({{path[i]}}, 10 + i);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(path[0]));
    EXPECT_TRUE(estimate.present) << i;
    least = std::min(least, mask_overlap(estimate.mask, path[i]));
  }
  return least;
}

std::vector<Ellipse> growing_and_turning() {
  std::vector<Ellipse> path;
  for (int i = 0; i < 40; ++i)
    path.push_back({{80 + 1.6 * i, 80 + 8 * std::sin(0.2 * i)},
                    24 * std::exp(0.012 * i),
                    17 * std::exp(0.012 * i),
                    4.0 * i});
  return path;
}

TEST(MaskPlain, FollowsAGrowingTurningTarget) {
  MaskPlain tracker(MaskPlainParams{});
  EXPECT_GT(least_mask_overlap(tracker, growing_and_turning()), 0.85);
}

TEST(MaskMemory, FollowsAGrowingTurningTarget) {
  MaskMemory tracker(MaskMemoryParams{});
  EXPECT_GT(least_mask_overlap(tracker, growing_and_turning()), 0.85);
}

// Before something of its own colours a target's contrast is gone, its pattern is not.
TEST(MaskPlain, HoldsATargetBeforeItsOwnColours) {
  const Ellipse wide{{170, 80}, 90, 70, 0};
  MaskPlain tracker(MaskPlainParams{});
  for (int i = 0; i < 50; ++i) {
    const Ellipse target{{40 + 2.5 * i, 80}, 20, 16, 0};
    const Image<Byte> picture = test::picture_of({{wide}, {target}}, 50 + i);
    const Box right = test::box_around_drawn(target);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    EXPECT_TRUE(estimate.present) << i;
    EXPECT_GT(overlap(estimate.box.box, right), 0.5) << i;
  }
}

TEST(MaskPlain, ReturnsTheTurnedBoxWhereAsked) {
  MaskPlainParams params;
  params.turned_box = true;
  MaskPlain tracker(params);
  for (int i = 0; i < 25; ++i) {
    const Ellipse ellipse{{110, 80}, 42, 15, 30 + 2.0 * i};
    const Image<Byte> picture = test::picture_of({{ellipse}}, 60 + i);
    const Frame frame = frame_of(picture, i);
    if (i == 0) {
      (void)tracker.seed(frame, box_of(ellipse));
      continue;
    }
    const OrientedBox box = tracker.follow(frame).box;
    // Either side of the box may be the long one, a quarter turn apart.
    const double longer = box.box.w > box.box.h ? box.angle_deg : box.angle_deg + 90;
    EXPECT_NEAR(std::remainder(longer - ellipse.angle_deg, 180.0), 0, 8) << i;
    EXPECT_GT(overlap(box, box_of(ellipse)), 0.7) << i;
  }
}

// The target slides behind a bar, stays there for 15 frames, and comes out again.
template <class T>
void expect_to_survive_hiding(T& tracker) {
  int told = 0;
  for (int i = 0; i < 70; ++i) {
    const Ellipse ellipse{{40 + 2.0 * i, 80}, 18, 14, 0};
    Image<Byte> picture = test::picture_of({{ellipse}}, 100 + i);
    for (int r = 0; r < test::kRows; ++r)
      for (int c = 84; c < 84 + 66; ++c)
        for (int k = 0; k < 3; ++k)
          picture(r, c, k) = static_cast<Byte>(60 + 12 * k + ((r / 7 + c / 5) % 2 != 0 ? 25 : 0));
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(ellipse));
    if (ellipse.middle.x - 18 > 84 && ellipse.middle.x + 18 < 150) told += estimate.present ? 0 : 1;
    if (i < 20 || i > 66) {
      EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(ellipse)), 0.6) << i;
    }
    if (!estimate.present) {
      EXPECT_FALSE(is_turned(estimate.box)) << i;  // of what was seen before it was lost
      EXPECT_EQ(std::ranges::count(std::span(estimate.mask.data, estimate.mask.size()), 1), 0);
    }
  }
  EXPECT_GE(told, 13);  // of 14 or 15 frames wholly behind it
}

TEST(MaskPlain, TellsHidingAndComesBack) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_survive_hiding(tracker);
}

TEST(MaskPlain, TellsHidingWithTurnedBoxesToo) {
  MaskPlainParams params;
  params.turned_box = true;
  MaskPlain tracker(params);
  expect_to_survive_hiding(tracker);
}

TEST(MaskMemory, TellsHidingAndComesBack) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_survive_hiding(tracker);
}

// Two alike cross; the target is the one that goes to the right.
TEST(MaskMemory, DoesNotChangeOverToALookAlike) {
  MaskMemory tracker(MaskMemoryParams{});
  for (int i = 0; i < 60; ++i) {
    const Ellipse own{{50 + 2.0 * i, 72}, 18, 14, 0};
    const Ellipse other{{170 - 2.0 * i, 96}, 18, 14, 0};
    const Image<Byte> picture = test::picture_of({{own}, {other}}, 200 + i);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(own));
    if (i > 45) {
      EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(own)), 0.6) << i;
    }
  }
}

Image<Byte> in_light(Image<Byte> picture, const std::array<double, 3>& gains) {
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
    const Image<Byte> picture = in_light(test::picture_of({{ellipse}}, 700 + i), {gain(0), gain(1), gain(2)});
    const Box right = test::box_around_drawn(ellipse);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    EXPECT_TRUE(estimate.present) << i;
    EXPECT_GT(overlap(estimate.box.box, right), 0.75) << i;
  }
}

TEST(MaskPlain, HoldsInAnotherLight) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_hold_in_another_light(tracker);
}

TEST(MaskMemory, HoldsInAnotherLight) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_hold_in_another_light(tracker);
}

TEST(BlobColour, HoldsInAnotherLight) {
  BlobColour tracker(BlobColourParams{});
  expect_to_hold_in_another_light(tracker);
}

// The light fades to less than half, and reddens, while the target is away; the camera is still.
template <class T>
void expect_to_find_in_another_light(T& tracker) {
  for (int i = 0; i < 90; ++i) {
    const bool is_away = i > 20 && i < 75;
    const Ellipse ellipse{{60 + 1.5 * std::min(i, 20) + std::max(0, i - 75), 80}, 24, 18, 0};
    const double share = std::clamp((i - 22) / 50.0, 0.0, 1.0);
    const Image<Byte> picture =
        in_light(is_away ? test::picture_of({}, 900 + i) : test::picture_of({{ellipse}}, 900 + i),
                 {std::pow(0.55, share), std::pow(0.45, share), std::pow(0.35, share)});
    const Box right = test::box_around_drawn(ellipse);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    const double met = estimate.present ? overlap(estimate.box.box, right) : 0;
    if (i > 25 && is_away) {
      EXPECT_FALSE(estimate.present) << i;
    }
    if (i > 80) {
      EXPECT_GT(met, 0.75) << i;
    }
  }
}

TEST(MaskPlain, FindsALostTargetInAnotherLight) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_find_in_another_light(tracker);
}

TEST(MaskMemory, FindsALostTargetInAnotherLight) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_find_in_another_light(tracker);
}

TEST(BlobColour, FindsALostTargetInAnotherLight) {
  BlobColour tracker(BlobColourParams{});
  expect_to_find_in_another_light(tracker);
}

TEST(MarkedMask, IsWhatHangsTogetherWithThePoints) {
  const Ellipse ellipse{{70, 80}, 30, 22, 0};
  const Ellipse other{{160, 80}, 30, 22, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}, {other, 2.5}}, 5);
  const Image<Byte> mask =
      marked_mask(frame_of(picture, 0), {{{70, 80}, {58, 84}, {84, 72}}, {{160, 80}, {20, 20}, {115, 80}}});
  EXPECT_GT(mask_overlap(mask.view(), ellipse), 0.85);
  const Image<Byte> boxed =
      marked_mask(frame_of(picture, 0), {{{70, 80}}, {}, test::box_around_drawn(ellipse)});
  EXPECT_GT(mask_overlap(boxed.view(), ellipse), 0.85);
}

TEST(MarkedMask, HasEveryPieceThatAPointIsOn) {
  const ThreePieces pieces(0);
  const Image<Byte> picture = pieces.picture(8);
  const auto middle = [](const Ellipse& one) { return one.middle; };
  const Image<Byte> mask = marked_mask(frame_of(picture, 0), {{middle(pieces.left), middle(pieces.right)},
                                                              {middle(pieces.beside), {20, 20}, {93, 62}}});
  EXPECT_GT(mask_overlap(mask.view(), {pieces.left, pieces.right}), 0.85);
}

TEST(MarkedMask, SeedsAnyTracker) {
  const Ellipse ellipse{{70, 80}, 30, 22, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 6);
  MaskPlain tracker(MaskPlainParams{});
  const PointMarks marks{{{70, 80}, {60, 80}, {80, 84}}, {{120, 80}}};
  const Image<Byte> mask = marked_mask(frame_of(picture, 0), marks);
  const Estimate seeded = tracker.seed(frame_of(picture, 0), mask.view());
  EXPECT_THROW((void)tracker.seed(frame_of(picture, 0), marks), CallError);  // which have to be cut out first
  EXPECT_GT(overlap(seeded.box.box, test::box_around_drawn(ellipse)), 0.8);
}

TEST(MarkedMask, RefusesPointsThatSayNothing) {
  const Image<Byte> picture = test::picture_of({}, 7);
  EXPECT_THROW((void)marked_mask(frame_of(picture, 0), {}), CallError);
  EXPECT_THROW((void)marked_mask(frame_of(picture, 0), {{{500, 3}}, {}}), CallError);
  EXPECT_THROW((void)marked_mask(frame_of(picture, 0), {{{5, 3}}, {{5, std::nan("")}}}), CallError);
}

}  // namespace
}  // namespace mnemon
