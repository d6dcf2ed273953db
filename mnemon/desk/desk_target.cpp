// SPDX-License-Identifier: MIT
#include <mnemon/desk/desk_target.hpp>

#include <algorithm>
#include <utility>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/track/shown_frames.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kMostUndone = 100;

bool is_same(const TrackerSettings& a, const TrackerSettings& b) {
  return a.tracker == b.tracker && a.set == b.set;
}

}  // namespace

DeskTarget::DeskTarget(std::string name, const Catalogue& catalogue, FrameShelf& frames,
                       const std::vector<TrackerSettings>& settings, std::vector<Polygon> keep_out)
    : name_(std::move(name)), catalogue_(catalogue), frames_(frames), keep_out_(std::move(keep_out)) {
  for (const TrackerSettings& one : settings)
    lanes_.push_back(std::make_unique<Lane>(catalogue, frames, one, keep_out_));
}

Lane& DeskTarget::lane(int index) {
  if (index < 0 || index >= static_cast<int>(lanes_.size()))
    throw CallError(fmt::format("there is no lane {}", index));
  return *lanes_[static_cast<std::size_t>(index)];
}

std::vector<TrackerSettings> DeskTarget::settings() const {
  std::vector<TrackerSettings> all;
  for (const auto& lane : lanes_) all.push_back(lane->settings());
  return all;
}

void DeskTarget::mark(PersonMark mark) {
  remember(snapshot());
  const auto at = std::ranges::lower_bound(marks_, mark.frame, {}, &PersonMark::frame);
  if (at != marks_.end() && at->frame == mark.frame)
    *at = std::move(mark);
  else
    marks_.insert(at, std::move(mark));
  apply_marks();
}

void DeskTarget::unmark(int frame) {
  const auto at = std::ranges::find(marks_, frame, &PersonMark::frame);
  if (at == marks_.end()) throw CallError(fmt::format("frame {} is not marked", frame));
  remember(snapshot());
  marks_.erase(at);
  apply_marks();
}

void DeskTarget::retune(int index, TrackerSettings settings, int at) {
  Lane& changed = lane(index);
  Snapshot before = snapshot();
  changed.retune(std::move(settings), at);
  remember(std::move(before));
}

void DeskTarget::add_lane(TrackerSettings settings) {
  if (lanes_.size() >= kMostLanes)
    throw CallError(fmt::format("there are {} trackers already", lanes_.size()));
  auto made = std::make_unique<Lane>(catalogue_, frames_, std::move(settings), keep_out_);
  remember(snapshot());
  lanes_.push_back(std::move(made));
  apply_marks();
}

void DeskTarget::drop_lane(int index) {
  static_cast<void>(lane(index));
  if (lanes_.size() == 1) throw CallError("the last tracker stays; choose another one instead");
  remember(snapshot());
  lanes_.erase(lanes_.begin() + index);
}

void DeskTarget::set_keep_out(const std::vector<Polygon>& areas) {
  static_cast<void>(ShownFrames({.keep_out = areas}));  // all lanes or none
  keep_out_ = areas;
  for (const auto& lane : lanes_) lane->set_keep_out(areas);
}

bool DeskTarget::undo(int at) {
  if (undo_.empty()) return false;
  const Snapshot to = std::move(undo_.back());
  undo_.pop_back();
  lanes_.resize(std::min(lanes_.size(), to.settings.size()));
  for (std::size_t i = 0; i < to.settings.size(); ++i) {
    if (i == lanes_.size())
      lanes_.push_back(std::make_unique<Lane>(catalogue_, frames_, to.settings[i], keep_out_));
    if (!is_same(lanes_[i]->settings(), to.settings[i])) lanes_[i]->retune(to.settings[i], at);
  }
  marks_ = to.marks;
  apply_marks();
  return true;
}

bool DeskTarget::step(int at) {
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    turn_ = (turn_ + 1) % lanes_.size();
    if (lanes_[turn_]->step(reach_, at)) return true;
  }
  return false;
}

bool DeskTarget::prepare(int at) {
  return std::ranges::any_of(lanes_, [at](const auto& lane) { return lane->prepare(at); });
}

void DeskTarget::remember(Snapshot before) {
  undo_.push_back(std::move(before));
  if (undo_.size() > kMostUndone) undo_.erase(undo_.begin());
}

void DeskTarget::apply_marks() {
  std::vector<SessionMark> marks;
  std::vector<std::string> keys;
  for (const PersonMark& one : marks_) {
    if (!one.present) continue;
    marks.push_back(one.mark);
    keys.push_back(fmt::format("{} {}", one.frame, json_text(one.region)));
  }
  for (const auto& lane : lanes_) lane->set_marks(marks, keys);
}

}  // namespace mnemon
