// SPDX-License-Identifier: MIT
#include <mnemon/desk/stage_film.hpp>

#include <algorithm>
#include <iterator>
#include <utility>

#include <mnemon/image/resample.hpp>

namespace mnemon {
namespace {

constexpr int kMostShown = 512;  // px along a stage's longer side

}  // namespace

ShownStage shown_stage(const Stage& stage) {
  ShownStage shown{
      std::string(stage.name), levels_of(stage.picture), stage.picture.rows, stage.picture.cols, {}};
  // Colours are bytes already.
  if (stage.picture.channels == 3) shown.levels = {0, 255};
  Image<Byte> bytes = bytes_between(stage.picture, shown.levels);
  const int longest = std::max(bytes.rows(), bytes.cols());
  if (longest > kMostShown)
    bytes = resized(bytes.view(), std::max(1, bytes.rows() * kMostShown / longest),
                    std::max(1, bytes.cols() * kMostShown / longest));
  shown.bytes = std::move(bytes);
  return shown;
}

void StageFilm::add(int frame, ShownStage stage) {
  bytes_ += stage.bytes.elements().size();
  frames_[frame].push_back(std::move(stage));
  while (bytes_ > most_bytes_ && frames_.size() > 1) {
    const auto last = std::prev(frames_.end());
    const auto furthest = frame - frames_.begin()->first > last->first - frame ? frames_.begin() : last;
    for (const ShownStage& one : furthest->second) bytes_ -= one.bytes.elements().size();
    frames_.erase(furthest);
  }
}

const ShownStage* StageFilm::find(int frame, const std::string& name) const {
  const auto known = frames_.find(frame);
  if (known == frames_.end()) return nullptr;
  const auto one = std::ranges::find(known->second, name, &ShownStage::name);
  return one != known->second.end() ? &*one : nullptr;
}

void StageFilm::clear() noexcept {
  frames_.clear();
  bytes_ = 0;
}

}  // namespace mnemon
