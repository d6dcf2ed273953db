// SPDX-License-Identifier: MIT
#include <mnemon/track/marked/marked_mask.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/track/mask/mask_cutter.hpp>

namespace mnemon {
namespace {

constexpr int kRounds = 4;     // of cutting and learning colours
constexpr double kNear = 2.5;  // cells about a point that are surely what the point says
constexpr double kPull = 0.7;  // a point's hold on what is near it, which fades over so much of the window

void check(const Frame& frame, const PointMarks& marks) {
  if (marks.include.empty()) throw CallError("no point is on the target; name at least one");
  for (const auto* points : {&marks.include, &marks.exclude})
    for (const Point& point : *points)
      if (!(point.x >= 0 && point.y >= 0 && point.x < frame.size().width && point.y < frame.size().height))
        throw CallError(fmt::format("the point {},{} lies outside the picture of {} x {}", point.x, point.y,
                                    frame.size().width, frame.size().height));
}

double nearest(const std::vector<Point>& points, Point place) {
  double least = 1e9;
  for (const Point& point : points) least = std::min(least, std::hypot(point.x - place.x, point.y - place.y));
  return least;
}

bool is_within(const Box& box, Point place) {
  return place.x >= box.x && place.y >= box.y && place.x < box.x + box.w && place.y < box.y + box.h;
}

// What the points and the box say of each cell: on, off, or open.
Image<Byte> told_by(const PointMarks& marks, const TargetPatch& patch) {
  Image<Byte> told(patch.rows(), patch.cols());
  const double near = kNear * patch.block();
  for (int r = 0; r < told.rows(); ++r)
    for (int c = 0; c < told.cols(); ++c) {
      const Point place = patch.place_at({1.0 * c, 1.0 * r});
      const double on = nearest(marks.include, place);
      const double off = nearest(marks.exclude, place);
      const bool at_border = r == 0 || c == 0 || r == told.rows() - 1 || c == told.cols() - 1;
      const bool is_around = marks.box ? !is_within(*marks.box, place) : at_border;
      told(r, c) = on <= near && on < off                    ? CutProblem::kTarget
                   : is_around || (off <= near && off <= on) ? CutProblem::kAround
                                                             : CutProblem::kOpen;
    }
  return told;
}

// A shape that is likelier near the points.
Appearance shape_about(const PointMarks& marks, const Box& window) {
  Appearance expected(window.w, window.h);
  const TargetPose pose{centre(window), 1, 0};
  const double size = std::sqrt(window.w * window.h);
  for (int r = 0; r < expected.rows(); ++r)
    for (int c = 0; c < expected.cols(); ++c) {
      const double away = nearest(marks.include, pose.place_of(expected.place_of(r, c))) / (kPull * size);
      expected.shape()(r, c) = static_cast<float>(std::max(0.05, 0.5 - 0.5 * away));
    }
  return expected;
}

// A mask of the frame from one of a patch's cells.
Image<Byte> as_whole(const Image<Byte>& labels, const TargetPatch& patch, FrameSize size) {
  Image<Byte> whole(size.height, size.width);
  for (int y = std::max(0, patch.top()); y < whole.rows(); ++y)
    for (int x = std::max(0, patch.left()); x < whole.cols(); ++x) {
      const int r = (y - patch.top()) / patch.block();
      const int c = (x - patch.left()) / patch.block();
      if (r < labels.rows() && c < labels.cols()) whole(y, x) = labels(r, c);
    }
  return whole;
}

}  // namespace

Image<Byte> marked_mask(const Frame& frame, const PointMarks& marks) {
  check(frame, marks);
  const Box all{0, 0, 1.0 * frame.size().width, 1.0 * frame.size().height};
  const Box window = marks.box ? scaled(*marks.box, 1.5) : all;
  const int block =
      std::max(1, static_cast<int>(std::ceil(std::max(window.w, window.h) / TargetPatch::kMostSide)));
  ColourModel colours;
  TargetPatch patch;
  patch.look(frame, centre(window), window.w, window.h, block, colours);
  const Image<Byte> told = told_by(marks, patch);
  const Appearance expected = shape_about(marks, window);
  MaskCutter cutter({1, 0.5, 2});
  cutter.keep_pieces(true);
  Image<Byte> labels = copy_of(told.view());  // at first only what is told counts
  for (int round = 0; round < kRounds; ++round) {
    for (int r = 0; r < labels.rows(); ++r)
      for (int c = 0; c < labels.cols(); ++c) {
        if (labels(r, c) == CutProblem::kTarget) colours.count_target(patch.colour(r, c));
        if (labels(r, c) == CutProblem::kAround) colours.count_surroundings(patch.colour(r, c));
      }
    colours.learn(1);
    patch.weigh(colours);
    labels = copy_of(cutter.cut(patch, expected, {centre(window), 1, 0}, {}, told.view()).labels);
  }
  return as_whole(labels, patch, frame.size());
}

}  // namespace mnemon
