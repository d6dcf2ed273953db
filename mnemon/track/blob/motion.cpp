// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/motion.hpp>

#include <algorithm>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

Image<float> in_levels(ImageView<const Preparation::Value> values) {
  Image<float> picture(values.rows, values.cols);
  for (int r = 0; r < values.rows; ++r)
    for (int c = 0; c < values.cols; ++c)
      picture(r, c) = std::min(255.0f, static_cast<float>(values(r, c)) / Preparation::kLevel);
  return picture;
}

}  // namespace

void BlobMotionParams::check() const {
  if (!(shadow_from <= shadow_to))
    throw CallError(fmt::format("shadow_from = {} is above shadow_to = {}: no brightness would be a shadow's",
                                shadow_from, shadow_to));
  Preparation::check(chain);
}

BlobMotion::BlobMotion(const BlobMotionParams& params) : params_(params) { params.check(); }

void BlobMotion::retune(const BlobMotionParams& params) {
  params_ = params;
  follower_.evidence().retune(params_);
  follower_.retune(params_);
}

Estimate BlobMotion::do_seed(const Frame& frame, const Region& region, const Box& box) {
  follower_.evidence().start(frame, box, params_);
  return follower_.start(frame, region, box, params_);
}

std::vector<Stage> BlobMotion::do_stages() {
  pictures_.clear();
  pictures_.push_back(in_levels(follower_.evidence().preparation().result()));
  pictures_.push_back(in_levels(follower_.evidence().preparation().background()));
  std::vector<Stage> stages{{"prepared", std::as_const(pictures_[0]).view()},
                            {"background", std::as_const(pictures_[1]).view()}};
  std::ranges::copy(follower_.stages(), std::back_inserter(stages));
  return stages;
}

}  // namespace mnemon
