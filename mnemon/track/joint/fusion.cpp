// SPDX-License-Identifier: MIT
#include <mnemon/track/joint/fusion.hpp>

#include <algorithm>
#include <utility>

#include <mnemon/base/number_text.hpp>
#include <mnemon/vision/box_contrast.hpp>

namespace mnemon {
namespace {

constexpr double kAbsent = 0.3;  // what the confidence counts of an answer that the target is absent
// What each way's own confidence counts beside what both know: it misleads where one of them is sure of the wrong thing.
constexpr double kOfConfidence = 1.0 / 3;
constexpr double kLeastQuality = -1;  // likeness goes down to -1, over what is usual
constexpr double kMostQuality = 1.5;  // better than usual is no better

double weight_of(const Estimate& estimate) noexcept {
  return estimate.confidence * (estimate.present ? 1 : kAbsent);
}

bool is_among(std::string_view way, const std::string& ways) {
  const std::vector<std::string_view> parts = parts_of(ways, ' ');
  return std::ranges::find(parts, way) != parts.end();
}

CorrReliableParams filter_params(const FusionParams& params) {
  CorrReliableParams filter;
  static_cast<RivalRules&>(filter) = params;
  filter.window_cells = params.window_cells;
  filter.iterations = params.iterations;
  filter.pose_wait = params.pose_wait;
  return filter;
}

MaskMemoryParams mask_params(const FusionParams& params) {
  MaskMemoryParams mask;
  static_cast<RivalRules&>(mask) = params;
  mask.cells = params.cells;
  mask.all_looks = params.all_looks;
  mask.refit = params.refit;
  return mask;
}

}  // namespace

Fusion::Fusion(const FusionParams& params)
    : params_(params),
      has_filter_(is_among("filter", params.ways)),
      has_mask_(is_among("mask", params.ways)),
      filter_(filter_params(params)),
      mask_(mask_params(params)) {}

void Fusion::retune(const FusionParams& params) {
  params_ = params;
  filter_.retune(filter_params(params));
  mask_.retune(mask_params(params));
}

Estimate Fusion::do_seed(const Frame& frame, const Region& region, const Box& box) {
  mask_leads_ = !has_filter_;
  mask_answers_ = has_mask_;
  none_ = Image<Byte>(frame.rgb.rows, frame.rgb.cols);
  Estimate estimate{{box, 0}, 1, true};
  Region refitted = region;
  if (has_mask_) {
    const Estimate by_mask = mask_.seed(frame, region);
    estimate.minor_px = by_mask.minor_px;
    if (params_.refit && std::holds_alternative<Box>(region)) refitted = by_mask.box.box;
  }
  if (has_filter_) (void)filter_.seed(frame, refitted);
  return estimate;
}

Estimate Fusion::do_follow(const Frame& frame) {
  if (!has_mask_) return filter_.follow(frame);
  if (!has_filter_) return mask_.follow(frame);
  const Estimate by_filter = filter_.follow(frame);
  const Estimate by_mask = mask_.follow(frame);
  choose(frame, by_filter, by_mask);
  return mask_answers_ ? by_mask : by_filter;
}

// How much speaks for an answer: what the filter's features and the mask's colours say of its box, and how sure it is itself.
double Fusion::evidence_for(const Frame& frame, const Estimate& answer) noexcept {
  const Box& box = answer.box.box;
  return std::clamp(filter_.quality_of(frame, box), kLeastQuality, kMostQuality) +
         box_contrast(frame.rgb, mask_.colours().table(), box) + kOfConfidence * weight_of(answer);
}

void Fusion::choose(const Frame& frame, const Estimate& by_filter, const Estimate& by_mask) noexcept {
  const bool both = by_filter.present && by_mask.present;
  if (both && overlap(by_filter.box.box, by_mask.box.box) > params_.agree_from) {
    mask_answers_ = by_mask.confidence > params_.mask_from;
    return;
  }
  const double for_mask = evidence_for(frame, by_mask);
  const double for_filter =
      evidence_for(frame, by_filter);  // last, as its stages show what the filter saw last
  const double gain = for_mask - for_filter;
  // The lead changes at once where only one of them sees the target.
  const double lead = by_filter.present == by_mask.present ? params_.lead : 0;
  if (mask_leads_ ? gain < -lead : gain > lead) mask_leads_ = !mask_leads_;
  mask_answers_ = mask_leads_;
}

// Those of the way that answers first.
std::vector<Candidate> Fusion::do_candidates() const {
  std::vector<Candidate> all = has_filter_ ? filter_.candidates() : std::vector<Candidate>();
  const std::vector<Candidate> by_mask = has_mask_ ? mask_.candidates() : std::vector<Candidate>();
  all.insert(mask_answers_ ? all.begin() : all.end(), by_mask.begin(), by_mask.end());
  return all;
}

std::vector<Stage> Fusion::do_stages() {
  std::vector<Stage> all;
  stage_names_.clear();
  const auto add = [&](std::string_view way, Tracker& tracker) {
    for (const Stage& stage : tracker.stages()) {
      stage_names_.push_back(std::string(way) + "-" + std::string(stage.name));
      all.push_back({"", stage.picture, stage.area});
    }
  };
  if (has_filter_) add("filter", filter_);
  if (has_mask_) add("mask", mask_);
  for (std::size_t i = 0; i < all.size(); ++i) all[i].name = stage_names_[i];
  return all;
}

}  // namespace mnemon
