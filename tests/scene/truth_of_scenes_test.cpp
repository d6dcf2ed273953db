// SPDX-License-Identifier: MIT
// What scenes say is true, against counting points.
#include <mnemon/scene/scene.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/scene/flight.hpp>

namespace mnemon {
namespace {

constexpr int kGrid = 12;  // points a side of a pixel

// Whether a point lies inside, by how often the outline winds about it.
bool is_inside(const Polygon& outline, double x, double y) {
  int winding = 0;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Point& a = outline[i];
    const Point& b = outline[(i + 1) % outline.size()];
    const double side = (b.x - a.x) * (y - a.y) - (x - a.x) * (b.y - a.y);
    if (a.y <= y && b.y > y && side > 0) ++winding;
    if (a.y > y && b.y <= y && side < 0) --winding;
  }
  return winding != 0;
}

// The share of a pixel's points that are inside.
double counted_share(const Polygon& outline, int r, int c) {
  int inside = 0;
  for (int i = 0; i < kGrid; ++i)
    for (int j = 0; j < kGrid; ++j)
      inside += is_inside(outline, c + (j + 0.5) / kGrid, r + (i + 0.5) / kGrid) ? 1 : 0;
  return static_cast<double>(inside) / (kGrid * kGrid);
}

Box tight(const Polygon& outline) {
  Box box{outline[0].x, outline[0].y, 0, 0};
  for (const Point& p : outline) {
    const double right = std::max(box.x + box.w, p.x);
    const double bottom = std::max(box.y + box.h, p.y);
    box.x = std::min(box.x, p.x);
    box.y = std::min(box.y, p.y);
    box.w = right - box.x;
    box.h = bottom - box.y;
  }
  return box;
}

}  // namespace

TEST(TruthOfScenes, IsWhatCountingPointsFinds) {
  // Nothing hides the target in these; counting errs by at most what an outline crosses of the points' grid.
  for (const char* name :
       {"steady", "loops", "streamer", "handheld", "gusts", "balloon", "speck", "crossing"}) {
    const Scene scene(demo_scene(name), {}, 2);
    for (const int frame : {0, 31, 77, 140}) {
      const TruthRow& row = scene.truth().rows[frame];
      const Polygon& outline = scene.outline(frame);
      const Box box = tight(outline);
      EXPECT_NEAR(row.box.box.x, box.x, 1e-9) << name;
      EXPECT_NEAR(row.box.box.w, box.w, 1e-9) << name;
      EXPECT_NEAR(row.box.box.y, box.y, 1e-9) << name;
      EXPECT_NEAR(row.box.box.h, box.h, 1e-9) << name;
      const Image<Byte> mask = scene.mask(frame);
      double inside = 0;
      for (int r = std::max(0, static_cast<int>(box.y)); r < std::min(360.0, box.y + box.h); ++r)
        for (int c = std::max(0, static_cast<int>(box.x)); c < std::min(640.0, box.x + box.w); ++c) {
          const double share = counted_share(outline, r, c);
          inside += share;
          if (std::abs(share - 0.5) > 0.09 && row.visible == 1) {
            EXPECT_EQ(mask(r, c) != 0, share > 0.5) << name << " " << frame << " " << r << " " << c;
          }
        }
      const double area = std::abs(signed_area(outline));
      if (row.visible == 1) {
        EXPECT_NEAR(inside / area, 1, 0.02) << name << " " << frame;
      }
    }
  }
}

TEST(TruthOfScenes, SaysHowMuchAnEdgeOfThePictureCutsOff) {
  const Scene scene(demo_scene("away"), {}, 1);
  int cut = 0;
  for (const TruthRow& row : scene.truth().rows) {
    const Polygon& outline = scene.outline(row.frame);
    const Box box = tight(outline);
    if (box.x < -box.w || box.x > 640) {
      EXPECT_FALSE(row.present);
      continue;
    }
    if (box.x >= 0 && box.x + box.w <= 640) continue;
    ++cut;
    double inside = 0;
    for (int r = std::max(0, static_cast<int>(box.y)); r < box.y + box.h; ++r)
      for (int c = std::max(0, static_cast<int>(box.x)); c < std::min(640.0, box.x + box.w); ++c)
        inside += counted_share(outline, r, c);
    EXPECT_NEAR(row.visible, inside / std::abs(signed_area(outline)), 0.02) << row.frame;
  }
  EXPECT_GT(cut, 2);
}

TEST(TruthOfScenes, CountsWhatAThicketLeavesOpen) {
  const Scene scene(demo_scene("thicket"), {}, 1);
  int partial = 0;
  for (int frame = 0; frame < scene.params().frames; frame += 11) {
    const TruthRow& row = scene.truth().rows[frame];
    const auto shown = static_cast<double>(std::ranges::count(scene.mask(frame).elements(), 255));
    const double area = std::abs(signed_area(scene.outline(frame)));
    EXPECT_NEAR(shown / area, row.visible, 0.05) << frame;
    partial += row.visible < 0.95 ? 1 : 0;
  }
  EXPECT_GT(partial, 4);
}

TEST(TruthOfScenes, CallsADarkLampAbsent) {
  const Scene scene(demo_scene("beacon"), {}, 1);
  int dark = 0;
  for (const TruthRow& row : scene.truth().rows) {
    const Image<Byte> picture = scene.render(row.frame);
    Byte brightest = 0;
    for (const Byte level : picture.elements()) brightest = std::max(brightest, level);
    if (row.visible == 1) {
      EXPECT_GT(brightest, 150) << row.frame;
    }
    if (!row.present) {
      EXPECT_LT(brightest, 90) << row.frame;
      ++dark;
    }
  }
  EXPECT_EQ(dark, 60);
}

TEST(TruthOfScenes, PlacesTheBalloonWhereItsSizeSays) {
  const Scene scene(demo_scene("balloon"), {{"readout", 0.0}}, 1);
  const Sequence sequence = scene.describe();
  ASSERT_TRUE(sequence.camera && sequence.target->diameter_mm);
  double nearest = 1e9;
  double farthest = 0;
  for (const TruthRow& row : scene.truth().rows) {
    ASSERT_TRUE(row.position);
    const Box& box = row.box.box;
    // A polygon of 64 corners with the circle's area reaches 0.08 % further than the circle.
    EXPECT_NEAR(sequence.camera->focal_px * *sequence.target->diameter_mm / box.w, row.position->z,
                0.002 * row.position->z);
    const Point middle = centre(box);
    EXPECT_NEAR(sequence.camera->centre_px.x + sequence.camera->focal_px * row.position->x / row.position->z,
                middle.x, 0.1);
    EXPECT_NEAR(sequence.camera->centre_px.y + sequence.camera->focal_px * row.position->y / row.position->z,
                middle.y, 0.1);
    nearest = std::min(nearest, row.position->z);
    farthest = std::max(farthest, row.position->z);
  }
  EXPECT_NEAR(nearest, 11000, 500);
  EXPECT_NEAR(farthest, 24000, 500);
  EXPECT_EQ(parse_truth(truth_text(scene.truth()), "truth.csv").rows, scene.truth().rows);
}

}  // namespace mnemon
