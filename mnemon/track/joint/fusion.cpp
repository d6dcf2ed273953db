// SPDX-License-Identifier: MIT
#include <mnemon/track/joint/fusion.hpp>

#include <algorithm>

#include <mnemon/base/number_text.hpp>
#include <mnemon/vision/box_contrast.hpp>

namespace mnemon {
namespace {

// By tools/fit_evidence, over 136 made sequences of photographs, the demo's, and 30 flights of demo/families.toml.
constexpr EvidenceWeights kOfFilter{.none = -0.84,
                                    .confidence = 0.29,
                                    .contrast = 1.26,
                                    .agreement = 2.16,
                                    .loss = -1.51,
                                    .size_change = 0.88};
constexpr EvidenceWeights kOfMask{.none = -2.32,
                                  .confidence = 0.24,
                                  .contrast = 2.86,
                                  .agreement = 2.75,
                                  .loss = 0.53,
                                  .size_change = -1.99};

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
  filter.learn_wait = params.learn_wait;
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
  mask_answers_ = has_mask_;
  agreed_ = true;
  rode_well_ = true;
  rested_ = 0;
  is_present_ = true;
  none_ = Image<Byte>(frame.rgb.rows, frame.rgb.cols);
  Estimate estimate{{box, 0}, 1, true};
  by_filter_ = by_mask_ = {.answer = estimate, .evidence = {}, .since = SinceAgreed(box)};
  Region refitted = region;
  if (has_mask_) {
    by_mask_.answer = mask_.seed(frame, region);
    estimate.minor_px = by_mask_.answer.minor_px;
    if (params_.refit && std::holds_alternative<Box>(region)) refitted = by_mask_.answer.box.box;
  }
  if (has_filter_) by_filter_.answer = filter_.seed(frame, refitted);
  return estimate;
}

Estimate Fusion::do_follow(const Frame& frame) {
  if (!has_mask_) return filter_.follow(frame);
  if (!has_filter_) return mask_.follow(frame);
  const Box was = by_filter_.answer.box.box;
  by_filter_.answer = filter_.follow(frame);
  by_mask_.answer = follow_mask(frame, was, by_filter_.answer.box.box);
  const bool agree = by_filter_.answer.present && by_mask_.answer.present &&
                     overlap(by_filter_.answer.box.box, by_mask_.answer.box.box) > params_.agree_from;
  agreed_ = agree;
  judge(frame, by_filter_, agree, kOfFilter);
  judge(frame, by_mask_, agree, kOfMask);
  const bool is_mask_likelier = by_mask_.belief > by_filter_.belief;
  const Way& likelier = is_mask_likelier ? by_mask_ : by_filter_;
  mask_answers_ = agree ? params_.mask_share > 0 : is_mask_likelier;
  is_present_ = likelier.answer.present && likelier.belief >= params_.present_from;
  Estimate answer = likelier.answer;
  if (agree) {
    answer.box.box = between(by_filter_.answer.box.box, by_mask_.answer.box.box, params_.mask_share);
    answer.minor_px = by_mask_.answer.minor_px;
  }
  answer.confidence = likelier.belief;
  answer.present = is_present_;
  return answer;
}

// Where the filter's motion told all that a look would have, the mask rests: it goes with the filter, whose box was and is so.
Estimate Fusion::follow_mask(const Frame& frame, const Box& was, const Box& now) {
  const BoxChange change(was, now);
  const bool may_rest =
      by_filter_.answer.present && agreed_ && rode_well_ && mask_.needed() < params_.rest_below;
  if (may_rest && rested_ < params_.mask_rests) {
    ++rested_;
    return mask_.ride(change);
  }
  rested_ = 0;
  const Box ridden = change.of(by_mask_.answer.box.box);
  const Estimate seen = mask_.follow(frame);
  rode_well_ = overlap(ridden, seen.box.box) >= params_.rest_from;
  return seen;
}

void Fusion::judge(const Frame& frame, Way& way, bool agree, const EvidenceWeights& weights) const noexcept {
  const Box& box = way.answer.box.box;
  way.since.take(way.answer, agree);
  way.evidence = {.confidence = way.answer.confidence,
                  .contrast = box_contrast(frame.rgb, mask_.colours().table(), box),
                  .agrees = agree,
                  .was_lost = way.since.was_lost(),
                  .size_change = way.since.size_change(box)};
  way.belief = weights.belief(way.evidence);
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
