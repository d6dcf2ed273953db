// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/blob_follower.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <mnemon/track/blob/colour_evidence.hpp>
#include <mnemon/track/blob/motion_evidence.hpp>
#include <mnemon/track/hold/confidence.hpp>
#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr double kCells = 36;  // along a target's longer side, at the least, where it has as many pixels
constexpr double kFarPenalty = 0.1;   // of the usual contrast, for a place a target size away
constexpr int kSettled = 19;          // frames that the seed's likeness, which is 1 by itself, stands for
constexpr double kMostOff = 1.5;      // a fit that is further from the seeded box is of something else
constexpr double kSamePlace = 0.1;    // of a box's longer side: nearer places are one
constexpr double kRatherStay = 0.98;  // of the confidence elsewhere, that is enough at the forecast
constexpr double kMoreAlike = 0.01;   // of likeness, for a size to be kept
constexpr double kDoubt = 0.9;        // confidence below which another place is looked at
constexpr double kLeastPx = 4;        // of a side: smaller targets cannot be weighed

// Pixels along a cell of the window that a target of this box is looked for in.
int block_for(const Box& box) noexcept {
  return std::max(1, static_cast<int>(std::max(box.w, box.h) / kCells));
}

}  // namespace

template <class E>
bool BlobFollower<E>::tells_likeness() const noexcept {
  if constexpr (requires { evidence_.tells_likeness(); })
    return evidence_.tells_likeness();
  else
    return false;
}

// Of evidence that cannot tell, none is asked for.
template <class E>
double BlobFollower<E>::likeness(const Box& box) {
  if constexpr (requires { evidence_.likeness(box); })
    return evidence_.likeness(box);
  else
    return 1;
}

template <class E>
std::optional<Point> BlobFollower<E>::promising_beside() {
  if constexpr (requires { evidence_.search_beside(box_); })
    return evidence_.search_beside(box_around(forecast(), box_.w, box_.h));
  else
    return {};
}

template <class E>
Estimate BlobFollower<E>::start(const Frame& frame, const Region& region, const Box& box,
                                const BlobRules& rules) {
  rules_ = rules;
  window_ = WeighedWindow(frame.size());
  pieces_ = BlobPieces(rules);
  frame_mask_ = FrameMask(frame.size());
  loop_.start(frame.size(), rules, rival_rules());
  box_ = box;
  most_w_ = std::max(box.w, 1.0 * frame.size().width);
  most_h_ = std::max(box.h, 1.0 * frame.size().height);
  ellipse_ = ellipse_of(region, box);
  ellipse_over_ = 1;
  usual_contrast_ = UsualContrast();
  usual_likeness_ = Usual(1, kSettled);
  evidence_.take(frame);
  weigh(centre(box));
  const Box cells = window_.in_cells(box);
  usual_contrast_ = UsualContrast(window_.contrast_of(cells), window_.mean_in(cells));
  seeded_ = SeededBox(cells, window_.shifted(window_.fitted(cells, kMostOff, usual_contrast_.neutral())));
  const Piece* const piece = pieces_.match(window_, cells, rules_.gate);
  pieces_.draw(piece);
  if (piece != nullptr) {
    pieces_.take_fill(window_, *piece, cells);
    seeded_.take_piece(cells, piece->box());
    ellipse_over_ =
        std::min(box.w, box.h) / std::max(1.0, 2 * ellipse_of(*piece).half_h * window_.grid().block);
  }
  return estimate({true, 1});
}

template <class E>
void BlobFollower<E>::retune(const BlobRules& rules) {
  rules_ = rules;
  pieces_.retune(rules);
  loop_.retune(rules, rival_rules());
}

template <class E>
void BlobFollower<E>::weigh(Point middle) noexcept {
  const double reach = rules_.reach * std::max(box_.w, box_.h) + rules_.reach_px;
  const Box around = box_around(middle, 1.5 * box_.w + 2 * reach, 1.5 * box_.h + 2 * reach);
  window_.take(evidence_.look(around, block_for(box_)), rules_.smooth * std::min(box_.w, box_.h),
               usual_contrast_.neutral());
}

// What is fitted to weights, of the target's size at the forecast, in cells.
template <class E>
Box BlobFollower<E>::forecast_box(Point forecast) const noexcept {
  return window_.in_cells(seeded_.fit_at(forecast, box_.w, box_.h));
}

// Where a box of the target's size stands out most, in cells, and is not about where another one is.
template <class E>
Box BlobFollower<E>::find_box(Point forecast, const std::optional<Box>& other) const noexcept {
  const Box at = forecast_box(forecast);
  const double reach = rules_.reach * std::max(at.w, at.h) + rules_.reach_px / window_.grid().block;
  return window_.best_near(at, reach, kFarPenalty * usual_contrast_.value(), other);
}

template <class E>
typename BlobFollower<E>::Seen BlobFollower<E>::sighting(const Piece& piece, const Box& expected) {
  Seen seen;
  const double sure = std::clamp((usual_contrast_.value() - 0.1) / 0.3, 0.0, 1.0);
  const Box fit = window_.fitted(expected, std::pow(rules_.most_growth, sure), usual_contrast_.neutral());
  const auto side = [&](double was, double factor, double most) {
    return std::clamp(was * (1 + rules_.size_rate * (factor - 1)), kLeastPx, std::max(kLeastPx, most));
  };
  seen.box =
      seeded_.over_fit(centre(window_.in_pixels(window_.shifted(fit))),
                       side(box_.w, fit.w / expected.w, most_w_), side(box_.h, fit.h / expected.h, most_h_));
  if (seeded_.goes_by_piece() && BlobPieces::is_whole(window_, piece, expected))
    seen.box = SeededBox::drawn(seen.box, window_.in_pixels(seeded_.over_piece(piece.box())));
  if (tells_likeness()) keep_size_if_more_alike(expected, seen);
  const CellGrid& grid = window_.grid();
  const double block = grid.block;
  seen.ellipse = ellipse_of(piece);
  seen.ellipse.middle = {seen.ellipse.middle.x * block + grid.left, seen.ellipse.middle.y * block + grid.top};
  seen.ellipse.half_w *= ellipse_over_ * block;
  seen.ellipse.half_h *= ellipse_over_ * block;
  seen.area = piece.area * block * block;
  seen.contrast = window_.contrast_of(window_.in_cells(seen.box));
  seen.quality = seen.likeness / usual_likeness_.value();
  seen.confidence = confidence_in(seen, std::min(1.0, piece.area / pieces_.expected_area(window_, expected)));
  return seen;
}

// A size that is fitted to what stands out may leave out what the target shares with its surroundings, or take in what
// is beside it.
template <class E>
void BlobFollower<E>::keep_size_if_more_alike(const Box& expected, Seen& seen) {
  const Box kept = seeded_.over_fit(centre(window_.in_pixels(expected)), box_.w, box_.h);
  const double as_it_was = likeness(kept);
  seen.likeness = likeness(seen.box);
  if (as_it_was <= seen.likeness + kMoreAlike) return;
  seen.box = kept;
  seen.likeness = as_it_was;
}

// Where the target's likeness can be told, contrast says little more: something else may stand out as well.
template <class E>
double BlobFollower<E>::confidence_in(const Seen& seen, double filled) const noexcept {
  const double told = std::max(0.0, seen.contrast / usual_contrast_.value()) * std::sqrt(filled);
  const double share = tells_likeness() ? seen.likeness * seen.likeness * std::sqrt(std::sqrt(told)) : told;
  return confidence_of(share, rules_.confidence_half, rules_.confidence_steepness);
}

// \returns  Of confidence 0 where there is too little; what there is has been drawn.
template <class E>
typename BlobFollower<E>::Seen BlobFollower<E>::look_at(const Box& expected) {
  const Piece* const piece = pieces_.match(window_, expected, rules_.gate);
  const bool is_enough =
      piece != nullptr && piece->area >= rules_.least_area * pieces_.expected_area(window_, expected);
  pieces_.draw(is_enough ? piece : nullptr);
  return is_enough ? sighting(*piece, expected) : nothing();
}

// Where a window around a place stands out most.
template <class E>
Box BlobFollower<E>::box_around_most(Point middle) noexcept {
  weigh(middle);
  return window_.shifted(find_box(middle, {}));
}

// Near a place.
template <class E>
typename BlobFollower<E>::Seen BlobFollower<E>::look_near(Point forecast) {
  Box chosen = box_around_most(forecast);
  Seen seen = look_at(chosen);
  if (!tells_likeness()) return seen;
  bool is_last = true;  // whether what was looked at last is what was chosen
  const auto consider = [&](const Box& other, double least_share) {
    if (std::hypot(other.x - chosen.x, other.y - chosen.y) <= kSamePlace * std::max(other.w, other.h)) return;
    const Seen there = look_at(other);
    is_last = there.confidence > least_share * seen.confidence;
    if (!is_last) return;
    seen = there;
    chosen = other;
  };
  consider(window_.shifted(forecast_box(forecast)), kRatherStay);
  if (seen.confidence < kDoubt) consider(window_.shifted(find_box(forecast, chosen)), 1 / kRatherStay);
  return is_last ? seen : look_at(chosen);
}

template <class E>
typename BlobFollower<E>::Seen BlobFollower<E>::nothing() const noexcept {
  Seen seen;
  seen.box = box_;
  return seen;
}

template <class E>
typename BlobFollower<E>::Seen BlobFollower<E>::look_beside(const Frame& /*frame*/) {
  const auto place = promising_beside();
  return place ? look_at(box_around_most(*place)) : nothing();
}

template <class E>
void BlobFollower<E>::search(const Frame& frame, Seen& seen) {
  if (loop_.is_sure(seen) && accept(frame, seen)) return;
  const auto place = evidence_.search(box_, loop_.forecast().is_newly_lost());
  if (place) seen = look_near(*place);
}

template <class E>
bool BlobFollower<E>::accept(const Frame& /*frame*/, const Seen& seen) const noexcept {
  return !tells_likeness() || loop_.is_target(seen, box_around(forecast(), box_.w, box_.h));
}

template <class E>
void BlobFollower<E>::hold(const Frame& /*frame*/, const Seen& seen, bool learns) {
  loop_.found(centre(box_), centre(seen.box));
  box_ = seen.box;
  ellipse_ = seen.ellipse;
  if (learns) learn(seen);
}

template <class E>
void BlobFollower<E>::miss(const Frame& /*frame*/) {
  box_ = box_around(forecast(), box_.w, box_.h);
  loop_.missed();
}

template <class E>
Estimate BlobFollower<E>::follow(const Frame& frame) {
  evidence_.take(frame);
  return estimate(loop_.follow(*this, frame));
}

template <class E>
void BlobFollower<E>::learn(const Seen& seen) {
  evidence_.learn(pieces_.piece(), seen.box);
  usual_likeness_.take(seen.likeness);
  usual_contrast_.take(seen.contrast, window_.mean_in(window_.in_cells(seen.box)));
}

template <class E>
Estimate BlobFollower<E>::estimate(const Held& held) {
  const bool present = held.present;
  Estimate estimate{{box_, 0}, held.confidence, present};
  if (rules_.turned_box && present) estimate.box = box_of(ellipse_);
  if (present)
    frame_mask_.draw(pieces_.piece(), window_.grid().left, window_.grid().top, window_.grid().block);
  else
    frame_mask_.clear();
  if (present) estimate.minor_px = 2 * std::min(ellipse_.half_w, ellipse_.half_h);
  return estimate;
}

template <class E>
std::vector<Stage> BlobFollower<E>::stages() {
  pictures_.clear();
  pictures_.push_back(copy_of(window_.weights()));
  for (const BitMask* bits : {&pieces_.matches(), &pieces_.piece()}) {
    Image<float> picture(bits->rows(), bits->cols());
    for (int r = 0; r < bits->rows(); ++r)
      for (int c = 0; c < bits->cols(); ++c) picture(r, c) = bits->at(r, c) ? 1.0f : 0.0f;
    pictures_.push_back(std::move(picture));
  }
  const Box cells{0, 0, 1.0 * pictures_[0].cols(), 1.0 * pictures_[0].rows()};
  const OrientedBox window{window_.in_pixels(cells), 0};
  return {{"weights", std::as_const(pictures_[0]).view(), window},
          {"matches", std::as_const(pictures_[1]).view(), window},
          {"piece", std::as_const(pictures_[2]).view(), window}};
}

template class BlobFollower<ColourEvidence>;
template class BlobFollower<MotionEvidence>;

}  // namespace mnemon
