// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/blob_follower.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include <mnemon/track/blob/colour_evidence.hpp>
#include <mnemon/track/blob/motion_evidence.hpp>
#include <mnemon/track/hold/confidence.hpp>
#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr int kSide = kMostEvidenceSide;
constexpr double kCells = 36;  // along a target's longer side, at the least, where it has as many pixels
constexpr double kFarPenalty = 0.1;  // of the usual contrast, for a place a target size away
constexpr double kClip = 1.25;       // of the expected box, what a piece is cut down to
constexpr int kSettled = 19;         // frames that the seed's likeness, which is 1 by itself, stands for
constexpr double kLeastBlobContrast = 0.05;
constexpr double kLeastShare = 0.5;  // of the seed's contrast, that is expected at the least
constexpr double kMostOff = 1.5;     // a fit that is further from the seeded box is of something else
constexpr double kByPiece = 0.3;  // how far a box goes by its piece's, which tells turns that the sums do not
constexpr double kLikeBox = 0.5;  // overlap of a piece with the seeded box, for that
constexpr double kSamePlace = 0.1;    // of a box's longer side: nearer places are one
constexpr double kRatherStay = 0.98;  // of the confidence elsewhere, that is enough at the forecast
constexpr double kMoreAlike = 0.01;   // of likeness, for a size to be kept
constexpr double kDoubt = 0.9;        // confidence below which another place is looked at
constexpr double kFitMargin = 0.002;
constexpr int kShifts = 3;
constexpr double kLeastPx = 4;
constexpr double kLeastSeen = 0.25;  // share of a box, that what is seen of it is taken to stand for all

struct CellBox {
  int left, top, right, bottom;
};

// Whole cells of the window, at least one.
CellBox rounded(const Box& box, ImageView<const float> weights) noexcept {
  const int left = std::clamp(static_cast<int>(std::lround(box.x)), 0, weights.cols - 1);
  const int top = std::clamp(static_cast<int>(std::lround(box.y)), 0, weights.rows - 1);
  return {left, top, std::clamp(static_cast<int>(std::lround(box.x + box.w)), left + 1, weights.cols),
          std::clamp(static_cast<int>(std::lround(box.y + box.h)), top + 1, weights.rows)};
}

double mean_weight(const BoxSums& sums, const Box& box, ImageView<const float> weights) noexcept {
  const CellBox cells = rounded(box, weights);
  return sums.mean_in(cells.left, cells.top, cells.right, cells.bottom);
}

// A box against another: the offset of its corner and its size, in the other's sizes.
Box relative(const Box& box, const Box& to) noexcept {
  return {(box.x - to.x) / to.w, (box.y - to.y) / to.h, box.w / to.w, box.h / to.h};
}
Box placed(const Box& relative, const Box& to) noexcept {
  return {to.x + relative.x * to.w, to.y + relative.y * to.h, relative.w * to.w, relative.h * to.h};
}

Box between(const Box& a, const Box& b, double share) noexcept {
  return {std::lerp(a.x, b.x, share), std::lerp(a.y, b.y, share), std::lerp(a.w, b.w, share),
          std::lerp(a.h, b.h, share)};
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
  picker_ = PiecePicker(kSide, kSide, rules);
  sums_ = BoxSums(kSide, kSide);
  ellipses_ = EllipseSums(kSide, kSide);
  smoothed_ = Image<float>(kSide, kSide);
  blur_ = BoxBlur(kSide, kSide);
  matches_ = BitMask(kSide, kSide);
  piece_bits_ = BitMask(kSide, kSide);
  frame_mask_ = FrameMask(frame.size());
  loop_.start(frame.size(), rules, rival_rules());
  picture_ = {0, 0, 1.0 * frame.size().width, 1.0 * frame.size().height};
  box_ = box;
  most_w_ = std::max(box.w, picture_.w);
  most_h_ = std::max(box.h, picture_.h);
  ellipse_ = ellipse_of(region, box);
  ellipse_over_ = 1;
  usual_contrast_ = 0;
  usual_around_ = 0.5;
  over_fit_ = {0, 0, 1, 1};
  goes_by_piece_ = false;
  usual_likeness_ = Usual(1, kSettled);
  fill_ = 0.6;
  evidence_.take(frame);
  weigh(centre(box));
  sums_.add_up(weights());
  const Box cells = in_cells(box);
  seed_contrast_ = usual_contrast_ = std::max(kLeastBlobContrast, contrast_of(cells));
  usual_around_ = mean_weight(sums_, cells, weights()) - contrast_of(cells);
  ellipses_.add_up(weights());
  const Box fit = shifted(fitted(cells, kMostOff));
  over_fit_ = {(centre(cells).x - centre(fit).x) / cells.w, (centre(cells).y - centre(fit).y) / cells.h,
               cells.w / fit.w, cells.h / fit.h};
  const Piece* const piece = match(cells);
  piece_bits_.start(matches_.rows(), matches_.cols());
  if (piece != nullptr) {
    picker_.finder().draw_into(*piece, piece_bits_);
    fill_ = std::clamp(piece->area / std::max(1.0, shared_area(cells, in_cells(picture_))), 0.1, 1.0);
    piece_box_ = relative(cells, piece->box());
    goes_by_piece_ = overlap(cells, piece->box()) >= kLikeBox;
    ellipse_over_ = std::min(box.w, box.h) / std::max(1.0, 2 * ellipse_of(*piece).half_h * grid_.block);
  }
  return estimate({true, 1});
}

template <class E>
void BlobFollower<E>::retune(const BlobRules& rules) {
  rules_ = rules;
  picker_.retune(rules);
  loop_.retune(rules, rival_rules());
}

template <class E>
int BlobFollower<E>::block_for(const Box& box) const noexcept {
  return std::max(1, static_cast<int>(std::max(box.w, box.h) / kCells));
}

template <class E>
Box BlobFollower<E>::in_cells(const Box& box) const noexcept {
  const double block = grid_.block;
  return {(box.x - grid_.left) / block, (box.y - grid_.top) / block, box.w / block, box.h / block};
}

template <class E>
Box BlobFollower<E>::in_pixels(const Box& box) const noexcept {
  const double block = grid_.block;
  return {box.x * block + grid_.left, box.y * block + grid_.top, box.w * block, box.h * block};
}

template <class E>
void BlobFollower<E>::weigh(Point middle) noexcept {
  const double reach = rules_.reach * std::max(box_.w, box_.h) + rules_.reach_px;
  const BlobEvidence seen =
      evidence_.look(box_around(middle, 1.5 * box_.w + 2 * reach, 1.5 * box_.h + 2 * reach), block_for(box_));
  grid_ = seen.grid;
  rows_ = seen.weights.rows;
  cols_ = seen.weights.cols;
  const ImageView<float> smoothed{smoothed_.view().data, rows_, cols_, 1, cols_};
  blur_.blur_into(seen.weights, rules_.smooth * std::min(box_.w, box_.h) / grid_.block, smoothed);
  leave_out_beyond(smoothed);
}

// What lies beyond the picture's edge speaks neither for the target nor against it, and does not match.
template <class E>
void BlobFollower<E>::leave_out_beyond(ImageView<float> weights) const noexcept {
  const float neutral = std::min(static_cast<float>(neutral_weight()), grid_.level);
  const CellBox picture = rounded(in_cells(picture_), weights);
  for (int r = 0; r < weights.rows; ++r) {
    const bool is_within = r >= picture.top && r < picture.bottom;
    std::fill(weights.row(r), weights.row(r) + (is_within ? picture.left : weights.cols), neutral);
    std::fill(weights.row(r) + picture.right, weights.row(r) + weights.cols, neutral);
  }
}

// What is fitted to weights, of the target's size at the forecast, in cells.
template <class E>
Box BlobFollower<E>::forecast_box(Point forecast) const noexcept {
  const Point off{forecast.x - over_fit_.x * box_.w, forecast.y - over_fit_.y * box_.h};
  return in_cells(box_around(off, box_.w / over_fit_.w, box_.h / over_fit_.h));
}

// Where a box of the target's size stands out most, in cells, and is not about where another one is.
template <class E>
Box BlobFollower<E>::find_box(Point forecast, const std::optional<Box>& other) noexcept {
  const ImageView<const float> weights = this->weights();
  const Box at = forecast_box(forecast);
  const int cols = std::clamp(static_cast<int>(std::lround(at.w)), 1, weights.cols);
  const int rows = std::clamp(static_cast<int>(std::lround(at.h)), 1, weights.rows);
  const double size = std::max(at.w, at.h);
  const double reach = rules_.reach * size + rules_.reach_px / grid_.block;
  const Point taken = other ? centre(*other) : Point{};
  constexpr double kNone = -1e9;
  const auto near = [&](int left, int top, double contrast) {
    const double x = left + 0.5 * cols - at.x - 0.5 * at.w;
    const double y = top + 0.5 * rows - at.y - 0.5 * at.h;
    const double squared = x * x + y * y;
    if (squared > reach * reach) return kNone;
    if (other && std::abs(left + 0.5 * cols - taken.x) < 0.5 * cols &&
        std::abs(top + 0.5 * rows - taken.y) < 0.5 * rows)
      return kNone;
    return contrast - kFarPenalty * usual_contrast_ * squared / (size * size);
  };
  // Where it is expected comes first: few places are better than that one.
  const BoxSums::Places all = sums_.all_places(cols, rows);
  BoxSums::Place expected{
      std::clamp(static_cast<int>(std::lround(at.x + 0.5 * (at.w - cols))), 0, all.end_left - 1),
      std::clamp(static_cast<int>(std::lround(at.y + 0.5 * (at.h - rows))), 0, all.end_top - 1), kNone};
  expected.goodness =
      near(expected.left, expected.top, sums_.contrast(expected.left, expected.top, cols, rows));
  const auto most = static_cast<int>(std::ceil(reach));
  const BoxSums::Places within{std::max(0, expected.left - most), std::max(0, expected.top - most),
                               std::min(all.end_left, expected.left + most + 1),
                               std::min(all.end_top, expected.top + most + 1)};
  const BoxSums::Place best = sums_.best_place(cols, rows, within, expected, near);
  if (best.goodness <= kNone) return at;
  return {best.left + 0.5 * (cols - at.w), best.top + 0.5 * (rows - at.h), at.w, at.h};
}

// Cells that a target in a box, in cells, should match in: those of it that lie in the picture.
template <class E>
double BlobFollower<E>::expected_area(const Box& box) const noexcept {
  return fill_ * std::max(1.0, shared_area(box, in_cells(picture_)));
}

// The piece that matches near an expected box, in cells; one that runs beyond it is cut off there.
template <class E>
const Piece* BlobFollower<E>::match(const Box& expected) noexcept {
  set_above(weights(), grid_.level, matches_);
  const ExpectedPiece target{expected, expected_area(expected)};
  const Piece* const piece = picker_.pick(matches_, target, scaled(expected, rules_.gate));
  const Box most = scaled(expected, kClip);
  if (piece != nullptr && piece->left >= most.x - 1 && piece->top >= most.y - 1 &&
      piece->right <= most.x + most.w + 1 && piece->bottom <= most.y + most.h + 1)
    return piece;
  return picker_.clip(matches_, most);
}

// Of what is seen of the box: beyond the edge there is none.
template <class E>
double BlobFollower<E>::contrast_of(const Box& box) const noexcept {
  const CellBox cells = rounded(box, weights());
  const double contrast =
      sums_.contrast(cells.left, cells.top, cells.right - cells.left, cells.bottom - cells.top);
  return contrast / std::max(kLeastSeen, shared_area(box, in_cells(picture_)) / (box.w * box.h));
}

template <class E>
double BlobFollower<E>::gain_of(const Box& box) const noexcept {
  const EllipseSums::Sum sum = ellipses_.in({centre(box), box.w / 2, box.h / 2});
  return sum.mass - neutral_weight() * sum.count;
}

// Climbs, by growing or shrinking both sides or one, to the box whose ellipse has the largest sum of weights above a
// level midway between those in the target and around it.
template <class E>
Box BlobFollower<E>::fitted(const Box& from, double most_growth) const noexcept {
  constexpr std::array<Point, 6> kWays = {{{1, 1}, {-1, -1}, {1, 0}, {-1, 0}, {0, 1}, {0, -1}}};
  Box best = from;
  double most = gain_of(best);
  for (const double step : {0.04, 0.02})
    for (bool climbs = true; climbs;) {
      climbs = false;
      for (const Point way : kWays) {
        const Box tried =
            box_around(centre(from), best.w * std::exp(step * way.x), best.h * std::exp(step * way.y));
        const double w = tried.w / from.w;
        const double h = tried.h / from.h;
        if (std::max({w, h, 1 / w, 1 / h}) > most_growth) continue;
        const double gain = gain_of(tried);
        if (!(gain > most + kFitMargin * std::abs(most))) continue;
        most = gain;
        best = tried;
        climbs = true;
        break;
      }
    }
  return best;
}

// Moves the box to the mean place of the weights in its ellipse, a few times.
template <class E>
Box BlobFollower<E>::shifted(Box box) const noexcept {
  for (int i = 0; i < kShifts; ++i)
    box = box_around(ellipses_.in({centre(box), box.w / 2, box.h / 2}).middle, box.w, box.h);
  return box;
}

// Whether a piece was not cut off, neither at the box that it was expected in nor at the edge of the picture.
template <class E>
bool BlobFollower<E>::is_whole(const Piece& piece, const Box& expected) const noexcept {
  const Box most = scaled(expected, kClip);
  const Box picture = in_cells(picture_);
  return piece.left > std::max(most.x, picture.x) + 1 && piece.top > std::max(most.y, picture.y) + 1 &&
         piece.right < std::min(most.x + most.w, picture.x + picture.w) - 1 &&
         piece.bottom < std::min(most.y + most.h, picture.y + picture.h) - 1;
}

template <class E>
typename BlobFollower<E>::Seen BlobFollower<E>::sighting(const Piece& piece, const Box& expected) {
  Seen seen;
  const double sure = std::clamp((usual_contrast_ - 0.1) / 0.3, 0.0, 1.0);
  const Box fit = fitted(expected, std::pow(rules_.most_growth, sure));
  const Point middle = centre(in_pixels(shifted(fit)));
  const auto side = [&](double was, double factor, double most) {
    return std::clamp(was * (1 + rules_.size_rate * (factor - 1)), kLeastPx, std::max(kLeastPx, most));
  };
  const double w = side(box_.w, fit.w / expected.w, most_w_);
  const double h = side(box_.h, fit.h / expected.h, most_h_);
  seen.box = box_around({middle.x + over_fit_.x * w, middle.y + over_fit_.y * h}, w, h);
  if (goes_by_piece_ && is_whole(piece, expected))
    seen.box = between(seen.box, in_pixels(placed(piece_box_, piece.box())), kByPiece);
  if (tells_likeness()) keep_size_if_more_alike(expected, seen);
  const double block = grid_.block;
  seen.ellipse = ellipse_of(piece);
  seen.ellipse.middle = {seen.ellipse.middle.x * block + grid_.left,
                         seen.ellipse.middle.y * block + grid_.top};
  seen.ellipse.half_w *= ellipse_over_ * block;
  seen.ellipse.half_h *= ellipse_over_ * block;
  seen.area = piece.area * block * block;
  seen.contrast = contrast_of(in_cells(seen.box));
  seen.quality = seen.likeness / usual_likeness_.value();
  seen.confidence = confidence_in(seen, std::min(1.0, piece.area / expected_area(expected)));
  return seen;
}

// A size that is fitted to what stands out may leave out what the target shares with its surroundings, or take in what
// is beside it.
template <class E>
void BlobFollower<E>::keep_size_if_more_alike(const Box& expected, Seen& seen) {
  const Point middle = centre(in_pixels(expected));
  const Box kept =
      box_around({middle.x + over_fit_.x * box_.w, middle.y + over_fit_.y * box_.h}, box_.w, box_.h);
  const double as_it_was = likeness(kept);
  seen.likeness = likeness(seen.box);
  if (as_it_was <= seen.likeness + kMoreAlike) return;
  seen.box = kept;
  seen.likeness = as_it_was;
}

// Where the target's likeness can be told, contrast says little more: something else may stand out as well.
template <class E>
double BlobFollower<E>::confidence_in(const Seen& seen, double filled) const noexcept {
  const double told = std::max(0.0, seen.contrast / usual_contrast_) * std::sqrt(filled);
  const double share = tells_likeness() ? seen.likeness * seen.likeness * std::sqrt(std::sqrt(told)) : told;
  return confidence_of(share, rules_.confidence_half, rules_.confidence_steepness);
}

// \returns  Of confidence 0 where there is too little; what there is is left in piece_bits_.
template <class E>
typename BlobFollower<E>::Seen BlobFollower<E>::look_at(const Box& expected) {
  const Piece* const piece = match(expected);
  piece_bits_.start(matches_.rows(), matches_.cols());
  if (piece == nullptr || piece->area < rules_.least_area * expected_area(expected)) return nothing();
  picker_.finder().draw_into(*piece, piece_bits_);
  return sighting(*piece, expected);
}

// Where a window around a place stands out most.
template <class E>
Box BlobFollower<E>::box_around_most(Point middle) noexcept {
  weigh(middle);
  sums_.add_up(weights());
  ellipses_.add_up(weights());
  return shifted(find_box(middle, {}));
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
  consider(shifted(forecast_box(forecast)), kRatherStay);
  if (seen.confidence < kDoubt) consider(shifted(find_box(forecast, chosen)), 1 / kRatherStay);
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
  evidence_.learn(piece_bits_, seen.box);
  const Box cells = in_cells(seen.box);
  usual_likeness_.take(seen.likeness);
  usual_contrast_ += Usual::kRate * (std::max(kLeastShare * seed_contrast_, seen.contrast) - usual_contrast_);
  usual_around_ += Usual::kRate * (mean_weight(sums_, cells, weights()) - seen.contrast - usual_around_);
}

template <class E>
Estimate BlobFollower<E>::estimate(const Held& held) {
  const bool present = held.present;
  Estimate estimate{{box_, 0}, held.confidence, present};
  if (rules_.turned_box && present) estimate.box = box_of(ellipse_);
  if (present)
    frame_mask_.draw(piece_bits_, grid_.left, grid_.top, grid_.block);
  else
    frame_mask_.clear();
  if (present) estimate.minor_px = 2 * std::min(ellipse_.half_w, ellipse_.half_h);
  return estimate;
}

template <class E>
std::vector<Stage> BlobFollower<E>::stages() {
  pictures_.clear();
  pictures_.push_back(copy_of(weights()));
  for (const BitMask* bits : {&std::as_const(matches_), &std::as_const(piece_bits_)}) {
    Image<float> picture(bits->rows(), bits->cols());
    for (int r = 0; r < bits->rows(); ++r)
      for (int c = 0; c < bits->cols(); ++c) picture(r, c) = bits->at(r, c) ? 1.0f : 0.0f;
    pictures_.push_back(std::move(picture));
  }
  const OrientedBox window{{double(grid_.left), double(grid_.top), double(grid_.block * pictures_[0].cols()),
                            double(grid_.block * pictures_[0].rows())},
                           0};
  return {{"weights", std::as_const(pictures_[0]).view(), window},
          {"matches", std::as_const(pictures_[1]).view(), window},
          {"piece", std::as_const(pictures_[2]).view(), window}};
}

template class BlobFollower<ColourEvidence>;
template class BlobFollower<MotionEvidence>;

}  // namespace mnemon
