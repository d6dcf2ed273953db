// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/plain.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

// A turn and a growth about the middle of a patch.
Affine warp_about_middle(const Image<float>& patch, double angle_deg, double growth) {
  const double radians = angle_deg * std::numbers::pi / 180;
  const double cosine = std::cos(radians) / growth;
  const double sine = std::sin(radians) / growth;
  const double x = patch.cols() / 2.0;
  const double y = patch.rows() / 2.0;
  return {cosine, -sine, x - cosine * x + sine * y, sine, cosine, y - sine * x - cosine * y};
}

}  // namespace

FollowRules CorrPlain::rules() const noexcept {
  FollowRules rules = rules_of(params_);
  rules.peak_radius = static_cast<int>(std::ceil(2.5 * params_.goal_sigma));
  // How high its peaks are hardly tells right frames from wrong ones; the curve is that of frames of scenes with random
  // numbers 501 to 503.
  rules.peak_counts = false;
  rules.likeness_half = 0.55;
  rules.likeness_steepness = 2.5;
  return rules;
}

Estimate CorrPlain::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  const PatchWindow window(box.w, box.h,
                           {params_.padding, params_.reach_px, params_.window_samples, 1, true});
  filter_.start(frame, box, window, 1, rules(), params_.goal_sigma, params_.regulariser);
  learn_warped_copies();
  return {{box, 0}, 1, true};
}

// The patch itself has been learnt; each copy takes its share of a plain mean.
void CorrPlain::learn_warped_copies() {
  const Image<float> plain = copy_of(filter_.features().levels());
  Image<float> copy(plain.rows(), plain.cols());
  Random random(static_cast<std::uint64_t>(params_.random_seed));
  for (int i = 0; i < params_.warps; ++i) {
    const double angle_deg = random.uniform(-params_.warp_deg, params_.warp_deg);
    const double growth = std::exp(random.uniform(-1, 1) * std::log1p(params_.warp_scale));
    warp_into(plain.view(), warp_about_middle(plain, angle_deg, growth), copy.view());
    filter_.filter().learn(filter_.follower().focused(filter_.features().prepare(copy.view())),
                           1.0f / static_cast<float>(i + 2));
  }
  filter_.filter().keep();
}

Estimate CorrPlain::do_follow(const Frame& frame) { return filter_.follower().follow(frame); }

std::vector<Stage> CorrPlain::do_stages() {
  filter_picture_ = filter_.filter().picture();
  return {{"patch", filter_.features().patch(), filter_.follower().window()},
          {"filter", std::as_const(filter_picture_).view()},
          {"response", filter_.follower().response(), filter_.follower().window()}};
}

}  // namespace mnemon
