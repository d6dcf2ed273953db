// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/motion.hpp>

#include <algorithm>
#include <utility>

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

BlobMotion::BlobMotion(const BlobMotionParams& params) : params_(params) {
  Preparation::check(params.chain);  // one that makes no sense is told at once
}

Estimate BlobMotion::do_seed(const Frame& frame, const Region& region, const Box& box) {
  evidence_.start(frame, box, params_);
  return follower_.start(frame, region, box, params_, evidence_);
}

std::vector<Stage> BlobMotion::do_stages() {
  pictures_.clear();
  pictures_.push_back(in_levels(evidence_.preparation().result()));
  pictures_.push_back(in_levels(evidence_.preparation().background()));
  std::vector<Stage> stages{{"prepared", std::as_const(pictures_[0]).view()},
                            {"background", std::as_const(pictures_[1]).view()}};
  std::ranges::copy(follower_.stages(), std::back_inserter(stages));
  return stages;
}

}  // namespace mnemon
