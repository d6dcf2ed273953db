// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/colour_target.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/track/hold/confidence.hpp>
#include <mnemon/track/hold/forecast.hpp>
#include <mnemon/track/hold/usual.hpp>
#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr double kRingFrom = 1.15;       // of what is around the target, in its sizes
constexpr double kRingTo = 1.7;          // and where that ends
constexpr double kLeastContrast = 0.02;  // so that shares of it stay finite
// A target whose likeness falls below this share of what is usual has changed at once: light, or another thing.
constexpr double kSuddenChange = 0.85;

}  // namespace

Ellipse grown(const Ellipse& ellipse, double factor) noexcept {
  return {ellipse.middle, ellipse.half_w * factor, ellipse.half_h * factor, ellipse.angle_deg};
}

void ColourTarget::retune(const ShiftRules& rules) {
  rules_ = rules;
  path_.reserve(rules.max_shifts + 1);
}

void ColourTarget::start(const Frame& frame, const Region& region, const Box& box, const ShiftRules& rules) {
  path_.clear();
  retune(rules);
  size_ = frame.size();
  search_ = PictureSearch(size_);
  colours_ = ColourDistribution();
  const Ellipse ellipse = ellipse_of(region, box);
  look(frame, ellipse);
  std::vector<float> target(kColours), around(kColours);
  back_.for_each_colour(ellipse, [&](int r, int c, ColourIndex colour, double squared) {
    target[colour] += static_cast<float>(weight_in(region, ellipse, back_.place_of(r, c)));
    if (squared > kRingFrom * kRingFrom) around[colour] += 1;
  });
  // A region smaller than the distance between samples: the pixel in its middle.
  if (std::ranges::all_of(target, [](float v) { return v <= 0; })) {
    const int r = std::clamp(static_cast<int>(ellipse.middle.y), 0, size_.height - 1);
    const int c = std::clamp(static_cast<int>(ellipse.middle.x), 0, size_.width - 1);
    target[colour_index(&frame.rgb(r, c))] = 1;
  }
  colours_ = ColourDistribution(choose_space(target, around, colour_parts(rules.space)));
  for (int i = 0; i < kColours; ++i) {
    colours_.count_target(static_cast<ColourIndex>(i), target[i]);
    colours_.count_around(static_cast<ColourIndex>(i), around[i]);
  }
  colours_.learn(1, 1);
  back_.weigh(colours_.weights());
  const Densities found = densities(ellipse);
  usual_contrast_ = std::max(kLeastContrast, found.contrast());
  usual_around_ = found.around;
  usual_likeness_ = 1;
  path_.assign(1, ellipse.middle);
}

void ColourTarget::look(const Frame& frame, const Ellipse& ellipse) noexcept {
  // A long target sees up to twice as far sideways, as it may turn.
  const double longer = rules_.window * 2 * std::max(ellipse.half_w, ellipse.half_h);
  const double w = std::min(longer, rules_.window * 4 * ellipse.half_w) + rules_.reach_px;
  const double h = std::min(longer, rules_.window * 4 * ellipse.half_h) + rules_.reach_px;
  back_.look(frame.rgb, box_around(ellipse.middle, w, h), colours_.weights());
}

void ColourTarget::shift(Ellipse& ellipse) noexcept {
  path_.assign(1, ellipse.middle);
  for (int i = 0; i < rules_.max_shifts; ++i) {
    const Point to = back_.moments_in(ellipse).middle;
    const double moved = std::hypot(to.x - ellipse.middle.x, to.y - ellipse.middle.y);
    ellipse.middle = to;
    path_.push_back(to);
    if (moved < rules_.min_shift_px) break;
  }
  ellipse.middle = kept_in_view(ellipse.middle, 2 * ellipse.half_w, 2 * ellipse.half_h, size_);
}

ColourTarget::Densities ColourTarget::densities(const Ellipse& ellipse) const noexcept {
  const Moments inside = back_.moments_in(ellipse);
  const Moments inner = back_.moments_in(grown(ellipse, kRingFrom));
  const Moments outer = back_.moments_in(grown(ellipse, kRingTo));
  const double ring = outer.count - inner.count;
  return {inside.density(), ring > 0 ? (outer.mass - inner.mass) / ring : 0};
}

double ColourTarget::confidence(const Ellipse& ellipse) const noexcept {
  const double share = densities(ellipse).contrast() / usual_contrast_;
  return confidence_of(share, rules_.confidence_half, rules_.confidence_steepness);
}

void ColourTarget::count(const Ellipse& ellipse) noexcept {
  back_.for_each_colour(ellipse, [&](int r, int c, ColourIndex colour, double squared) {
    if ((r + c) % 2 != 0) return;  // every other sample, like the black squares of a board, is enough
    if (squared < 1)
      colours_.count_target(colour, static_cast<float>(1 - squared));
    else if (squared > kRingFrom * kRingFrom)
      colours_.count_around(colour, 1);
  });
}

void ColourTarget::learn(const Ellipse& ellipse) noexcept {
  count(ellipse);
  const double likeness = colours_.likeness();
  const bool sudden = likeness < kSuddenChange * usual_likeness_;
  usual_likeness_ += Usual::kRate * (likeness - usual_likeness_);
  const Densities found = densities(ellipse);
  usual_contrast_ += Usual::kRate * (std::max(kLeastContrast, found.contrast()) - usual_contrast_);
  usual_around_ += Usual::kRate * (found.around - usual_around_);
  colours_.learn(sudden ? 0 : rules_.target_rate, rules_.around_rate);
}

Point ColourTarget::search(const Frame& frame, const Ellipse& ellipse) noexcept {
  return search_.find(frame.rgb, colours_.weights(), 2 * ellipse.half_w, 2 * ellipse.half_h).middle;
}

Image<float> path_picture(const ColourTarget& target) {
  const BackProjection& back = target.back_projection();
  Image<float> picture = copy_of(back.weights());
  const Box& window = back.window();
  for (const Point place : target.path()) {
    const int c = static_cast<int>(std::floor((place.x - window.x) / window.w * picture.cols()));
    const int r = static_cast<int>(std::floor((place.y - window.y) / window.h * picture.rows()));
    if (r >= 0 && c >= 0 && r < picture.rows() && c < picture.cols()) picture(r, c) = 2;
  }
  return picture;
}

}  // namespace mnemon
