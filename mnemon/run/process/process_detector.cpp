// SPDX-License-Identifier: MIT
#include <mnemon/run/process/process_detector.hpp>

#include <algorithm>
#include <utility>

#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/run/process/process_link.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kMostPlaces = 100'000;

}  // namespace

ProcessDetector::ProcessDetector(ProcessSpec spec) : spec_(std::move(spec)) {}
ProcessDetector::~ProcessDetector() = default;

std::vector<FoundPlace> ProcessDetector::find(const Frame& frame) {
  if (link_ && (!link_->is_sound() || link_->size() != frame.size())) link_.reset();
  if (!link_) link_ = std::make_unique<ProcessLink>(spec_, frame.size());
  return places_of_result(link_->call("find", link_->frame_params(frame), spec_.step_limit_ms));
}

std::vector<FoundPlace> places_of_result(const Json& result) {
  const auto places = result.is_object() ? result.find("places") : result.end();
  if (!result.is_object() || places == result.end() || !places->is_array() || places->size() > kMostPlaces)
    refuse_answer("places", "is to be a list of places");
  std::vector<FoundPlace> found;
  for (const Json& place : *places) {
    const OrientedBox box = estimate_of_result(place).box;
    const double score = number_of_answer(place, "score", 1);
    if (score < 0 || score > 1) refuse_answer("score", "is to be from 0 to 1");
    if (!(box.box.w > 0 && box.box.h > 0)) refuse_answer("box", "is to have an area");
    found.push_back({box, score});
  }
  std::ranges::stable_sort(found, std::ranges::greater(), &FoundPlace::score);
  return found;
}

}  // namespace mnemon
