// SPDX-License-Identifier: MIT
#include <mnemon/track/shown_tracker.hpp>

#include <utility>

namespace mnemon {
namespace {

constexpr const char* kWidth = "width";

}  // namespace

ShownTracker::ShownTracker(std::unique_ptr<Tracker> tracker, const Showing& showing)
    : tracker_(std::move(tracker)), frames_(showing) {}

// What was watched is as the target's own frame will be: painted alike.
void ShownTracker::do_watch(const Frame& frame) {
  if (!has_watched_) frames_.start();
  has_watched_ = true;
  tracker_->watch(frames_.shown(frame));
}

Estimate ShownTracker::do_seed(const Frame& frame, const Region& region, const Box& /*box*/) {
  if (!has_watched_) frames_.start();
  has_watched_ = false;
  const Frame shown = frames_.shown(frame);
  return answer(tracker_->seed(shown, frames_.to_shown(region)));
}

Estimate ShownTracker::do_follow(const Frame& frame) {
  return answer(tracker_->follow(frames_.shown(frame)));
}

Estimate ShownTracker::answer(Estimate estimate) {
  estimate.box = frames_.to_original(estimate.box);
  if (estimate.minor_px) estimate.minor_px = frames_.to_original(*estimate.minor_px);
  mask_ = frames_.to_original(estimate.mask);
  return estimate;
}

std::vector<Stage> ShownTracker::do_stages() {
  std::vector<Stage> stages = tracker_->stages();
  for (Stage& stage : stages)
    if (stage.area) stage.area = frames_.to_original(*stage.area);
  return stages;
}

std::vector<Candidate> ShownTracker::do_candidates() const {
  std::vector<Candidate> candidates = tracker_->candidates();
  for (Candidate& candidate : candidates) candidate.box = frames_.to_original(candidate.box);
  return candidates;
}

std::unique_ptr<Tracker> ShownTracker::do_clone() const {
  std::unique_ptr<Tracker> clone = tracker_->clone();
  if (clone == nullptr) return nullptr;
  std::unique_ptr<ShownTracker> copy(new ShownTracker(*this, std::move(clone)));
  copy->mask_ = copy->frames_.to_original(copy->tracker_->mask());
  return copy;
}

std::unique_ptr<Tracker> shown(std::unique_ptr<Tracker> tracker, const Showing& showing) {
  if (showing.is_plain()) return tracker;
  return std::make_unique<ShownTracker>(std::move(tracker), showing);
}

Tracker& behind_showing(Tracker& tracker) noexcept {
  auto* const shown = dynamic_cast<ShownTracker*>(&tracker);
  return shown == nullptr ? tracker : behind_showing(shown->behind());
}

Field width_field() {
  return {kWidth,
          0,
          {0, 8192},
          {},
          "px",
          "Frames are scaled to that width for the tracker, 8 or more; 0: as they are. Lowering it is faster "
          "and sees less."};
}

int take_width(ParamSet& params, std::string_view owner) {
  const auto at = params.find(kWidth);
  if (at == params.end()) return 0;
  const Schema schema{{width_field()}};
  if (const std::string problem = problem_with(schema, owner, kWidth, at->second); !problem.empty())
    throw CallError(problem);
  const int width = std::get<int>(of_type_of(0, at->second));
  params.erase(at);
  return width;
}

}  // namespace mnemon
