// SPDX-License-Identifier: MIT
#include <mnemon/track/tracker.hpp>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {

namespace {

void check_frame(const Frame& frame) {
  if (frame.rgb.empty() || frame.rgb.channels != 3)
    throw CallError("a tracker needs frames with at least one pixel and three channels (RGB)");
}

}  // namespace

void Tracker::prepare(const Frame& frame) {
  check_frame(frame);
  do_prepare(frame);
}

void Tracker::watch(const Frame& frame) {
  check_frame(frame);
  do_watch(frame);
}

Estimate Tracker::seed(const Frame& frame, const Region& region) {
  check_frame(frame);
  if (std::holds_alternative<PointMarks>(region))
    throw CallError("points mark no region by themselves: cut one out of the frame with marked_mask first");
  const Box box = enclosing_box(region, frame.size());
  seed_size_.reset();  // what fails on the way may leave anything behind: there is no target then
  Estimate estimate = do_seed(frame, region, box);
  seed_size_ = frame.size();
  estimate.mask = do_mask();
  return estimate;
}

Estimate Tracker::follow(const Frame& frame) {
  if (!seed_size_) throw CallError("the tracker has no target yet; seed it first");
  if (frame.size() != *seed_size_ || frame.rgb.channels != 3)
    throw CallError(fmt::format("frame {} is {} x {} with {} channels; the seed frame was {} x {} with 3",
                                frame.index, frame.rgb.cols, frame.rgb.rows, frame.rgb.channels,
                                seed_size_->width, seed_size_->height));
  Estimate estimate = do_follow(frame);
  estimate.mask = do_mask();
  return estimate;
}

}  // namespace mnemon
