// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/plain.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

#include <mnemon/base/random.hpp>
#include <mnemon/image/arithmetic.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/signal/windows.hpp>

namespace mnemon {
namespace {

// Near 0 for a peak no higher than noise makes, 0.5 at `half`, near 1 for a lone sharp peak.
double confidence_of(double peak_to_sidelobe, double half) {
  const double ratio = std::max(0.0, peak_to_sidelobe) / half;
  const double cube = ratio * ratio * ratio;
  return cube / (1 + cube);
}

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

Estimate CorrPlain::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  size_buffers(box);
  middle_ = centre(box);
  learn_seed_patch(frame);
  response_ = filter_.respond(patch_.view());
  return {{box, 0}, 1, true};
}

void CorrPlain::size_buffers(const Box& box) {
  target_w_ = box.w;
  target_h_ = box.h;
  window_ = PatchWindow(box.w, box.h, params_.padding, params_.template_px);
  sampler_ = GreyWindow(window_.rows(), window_.cols(), window_.width_px(), window_.height_px());
  filter_ = LinearFilter(window_.rows(), window_.cols(), params_.goal_sigma, params_.regulariser);
  taper_ = cosine_window(window_.rows(), window_.cols());
  patch_ = Image<float>(window_.rows(), window_.cols());
}

void CorrPlain::learn_seed_patch(const Frame& frame) {
  sampler_.sample_into(frame.rgb, window_.around(middle_), patch_.view());
  log1p_in_place(patch_.elements());
  const Image<float> plain = copy_of(patch_.view());
  Random random(static_cast<std::uint64_t>(params_.random_seed));
  // The copies first and the patch itself last, each with its share of a plain mean.
  for (int copy = 0; copy <= params_.warps; ++copy) {
    if (copy < params_.warps) {
      const double angle_deg = random.uniform(-params_.warp_deg, params_.warp_deg);
      const double growth = std::exp(random.uniform(-1, 1) * std::log1p(params_.warp_scale));
      warp_into(plain.view(), warp_about_middle(plain, angle_deg, growth), patch_.view());
    } else {
      std::ranges::copy(plain.elements(), patch_.elements().begin());
    }
    normalise_and_taper(patch_.elements(), taper_.elements());
    filter_.learn(patch_.view(), 1.0f / static_cast<float>(copy + 1));
  }
}

void CorrPlain::take_patch(const Frame& frame) {
  sampler_.sample_into(frame.rgb, window_.around(middle_), patch_.view());
  log1p_in_place(patch_.elements());
  normalise_and_taper(patch_.elements(), taper_.elements());
}

Estimate CorrPlain::do_follow(const Frame& frame) {
  take_patch(frame);
  response_ = filter_.respond(patch_.view());
  const Cell peak = highest_cell(response_);
  const int radius = static_cast<int>(std::ceil(2.5 * params_.goal_sigma));
  const double confidence = confidence_of(peak_to_sidelobe(response_, peak, radius), params_.psr_half);
  const bool present = confidence >= params_.present_from;
  if (present) {
    const Point motion = window_.motion(peak, peak_offset(response_, peak));
    middle_ = kept_inside({middle_.x + motion.x, middle_.y + motion.y}, frame.size());
  }
  if (present && confidence >= params_.learn_from) {
    take_patch(frame);
    filter_.learn(patch_.view(), static_cast<float>(params_.learning_rate));
  }
  return {{box_around(middle_, target_w_, target_h_), 0}, confidence, present};
}

// The middle stays in the picture: beyond its edge there is nothing to see that could bring the window back.
Point CorrPlain::kept_inside(Point middle, FrameSize size) const {
  return {std::clamp(middle.x, 0.0, static_cast<double>(size.width)),
          std::clamp(middle.y, 0.0, static_cast<double>(size.height))};
}

std::vector<Stage> CorrPlain::do_stages() {
  filter_picture_ = filter_.picture();
  return {{"patch", std::as_const(patch_).view()},
          {"filter", std::as_const(filter_picture_).view()},
          {"response", response_}};
}

}  // namespace mnemon
