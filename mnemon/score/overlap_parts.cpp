// SPDX-License-Identifier: MIT
#include <mnemon/score/overlap_parts.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

OrientedBox moved_to(Point middle, const OrientedBox& box) noexcept {
  return {box_around(middle, box.box.w, box.box.h), box.angle_deg};
}

double covered_share(const OrientedBox& truth, const OrientedBox& estimate, double overlap_of_both) noexcept {
  const double a = truth.box.w * truth.box.h;
  const double b = estimate.box.w * estimate.box.h;
  // The overlap is s / (a + b - s), so the shared area s follows from it.
  const double shared = overlap_of_both * (a + b) / (1 + overlap_of_both);
  return std::min(1.0, shared / a);
}

}  // namespace

OverlapParts overlap_parts(const OrientedBox& truth, const OrientedBox& estimate) noexcept {
  const double as_it_is = overlap(truth, estimate);
  const OrientedBox there = moved_to(centre(truth.box), estimate);
  const double moved = overlap(truth, there);
  const double factor = std::sqrt(truth.box.w * truth.box.h / (estimate.box.w * estimate.box.h));
  const double sized = overlap(truth, {scaled(there.box, factor), there.angle_deg});
  return {moved - as_it_is, sized - moved, 1 - sized, covered_share(truth, estimate, as_it_is)};
}

OverlapPartMeans mean_overlap_parts(std::span<const FrameScore> frames, const Truth& truth,
                                    const Trace& trace) {
  OverlapParts sum;
  double count = 0;
  for (const FrameScore& frame : frames) {
    if (!frame.present || !frame.found) continue;
    const TruthRow* const right = truth.find(frame.frame);
    const TraceRow* const row = trace.find(frame.frame);
    if (right == nullptr || row == nullptr) continue;
    const OverlapParts one = overlap_parts(right->box, row->box);
    sum.offset += one.offset;
    sum.size += one.size;
    sum.shape += one.shape;
    sum.covered += one.covered;
    ++count;
  }
  return {ratio(sum.offset, count), ratio(sum.size, count), ratio(sum.shape, count),
          ratio(sum.covered, count)};
}

}  // namespace mnemon
