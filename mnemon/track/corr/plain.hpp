// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/resample.hpp>
#include <mnemon/track/corr/linear_filter.hpp>
#include <mnemon/track/corr/patch_window.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

struct CorrPlainParams {
  double padding = 2.0;
  int template_px = 64;
  double goal_sigma = 2.0;
  double learning_rate = 0.1;
  double regulariser = 0.01;
  int warps = 8;
  double warp_deg = 10;
  double warp_scale = 0.05;
  double psr_half = 7;
  double present_from = 0.5;
  double learn_from = 0.8;
  int random_seed = 1;

  static void describe(auto& schema) {
    using P = CorrPlainParams;
    schema.field("padding", &P::padding, {1.0, 6.0}, "target sizes",
                 "Size of the search window; raising it follows faster motion and learns more background.");
    schema.field("template_px", &P::template_px, {16, 512}, "samples",
                 "Samples along the window's longer side; raising it is finer and slower.");
    schema.field("goal_sigma", &P::goal_sigma, {0.5, 20.0}, "samples",
                 "Width of the peak the filter is taught; raising it forgives more and places less exactly.");
    schema.field("learning_rate", &P::learning_rate, {0.0, 1.0}, "",
                 "Weight of the newest frame; raising it adapts faster and drifts sooner.");
    schema.field("regulariser", &P::regulariser, {1e-6, 10.0}, "",
                 "Added to the power at every frequency; raising it trusts weak frequencies less.");
    schema.field("warps", &P::warps, {0, 256}, "copies", "Warped copies of the seed patch to learn from.");
    schema.field("warp_deg", &P::warp_deg, {0.0, 90.0}, "degrees", "Most turn of a warped copy, either way.");
    schema.field("warp_scale", &P::warp_scale, {0.0, 0.5}, "", "Most growth or shrinking of a warped copy.");
    schema.field("psr_half", &P::psr_half, {1.0, 100.0}, "",
                 "Peak-to-sidelobe ratio of confidence 0.5; raising it makes the tracker surer of losses.");
    schema.field("present_from", &P::present_from, {0.0, 1.0}, "confidence",
                 "Below it the target is reported as not present, and the window stays where it is.");
    schema.field("learn_from", &P::learn_from, {0.0, 1.0}, "confidence",
                 "Below it nothing is learnt from a frame; raising it keeps occluders out.");
    schema.field("random_seed", &P::random_seed, {0, 65535}, "", "Draws the warped copies.");
  }
};

/// Adaptive single-channel correlation filter: grey values through a logarithm and a cosine taper, a filter
/// learnt first from warped copies of the seed patch and then from every frame that it is sure of. The box
/// keeps the size it was seeded with. Stages: `patch`, `filter`, `response`. Source: Bolme, Beveridge, Draper
/// and Lui, CVPR 2010; ours keeps the shape of the target's window, adds a regulariser, and turns the
/// peak-to-sidelobe ratio into a confidence that says when the target is lost.
class CorrPlain final : public Tracker {
 public:
  explicit CorrPlain(const CorrPlainParams& params) : params_(params) {}

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  std::vector<Stage> do_stages() override;

  void size_buffers(const Box& box);
  void learn_seed_patch(const Frame& frame);
  void take_patch(const Frame& frame);
  [[nodiscard]] Point kept_inside(Point middle, FrameSize size) const;

  CorrPlainParams params_;
  double target_w_ = 0;
  double target_h_ = 0;
  Point middle_;
  PatchWindow window_;
  GreyWindow sampler_;
  LinearFilter filter_;
  Image<float> taper_;
  Image<float> patch_;
  ImageView<const float> response_;
  Image<float> filter_picture_;
};

}  // namespace mnemon
