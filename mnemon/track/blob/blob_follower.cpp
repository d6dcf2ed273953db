// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/blob_follower.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include <mnemon/track/confidence.hpp>
#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr int kSide = EvidenceSource::kMostSide;
constexpr double kCells = 36;  // along a target's longer side, at the least, where it has as many pixels
constexpr double kVelocityRate = 0.3;
constexpr double kVelocityKept = 0.9;  // of the forecast's speed, a frame without the target
constexpr int kFramesUntilSearch = 2;
constexpr double kFarPenalty = 0.1;  // of the usual contrast, for a place a target size away
constexpr double kClip = 1.25;       // of the expected box, what a piece is cut down to
constexpr double kUsualRate = 0.05;
constexpr double kLeastContrast = 0.05;
constexpr double kLeastShare = 0.5;  // of the seed's contrast, that is expected at the least
constexpr double kMostOff = 1.5;     // a fit that is further from the seeded box is of something else
constexpr double kFitMargin = 0.002;
constexpr int kShifts = 3;
constexpr double kLeastPx = 4;

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

}  // namespace

Estimate BlobFollower::start(const Frame& frame, const Region& region, const Box& box, const BlobRules& rules,
                             EvidenceSource& source) {
  rules_ = rules;
  source_ = &source;
  picker_ = PiecePicker(kSide, kSide, rules.pick);
  sums_ = BoxSums(kSide, kSide);
  ellipses_ = EllipseSums(kSide, kSide);
  smoothed_ = Image<float>(kSide, kSide);
  line_ = Image<float>(kSide, kSide);
  matches_ = BitMask(kSide, kSide);
  piece_bits_ = BitMask(kSide, kSide);
  size_ = frame.size();
  frame_mask_ = Image<Byte>(size_.height, size_.width);
  drawn_ = {};
  box_ = box;
  ellipse_ = ellipse_of(region, box);
  circle_px_ = std::max(box.w, box.h);
  ellipse_over_ = 1;
  over_fit_ = {0, 0, 1, 1};
  velocity_ = {};
  frames_lost_ = 0;
  fill_ = 0.6;
  weigh(frame, centre(box));
  sums_.add_up(evidence_.weights);
  const Box cells = in_cells(box);
  seed_contrast_ = usual_contrast_ = std::max(kLeastContrast, contrast_of(cells));
  usual_around_ = mean_weight(sums_, cells, evidence_.weights) - contrast_of(cells);
  ellipses_.add_up(evidence_.weights);
  const Box fit = shifted(fitted(cells, kMostOff));
  over_fit_ = {(centre(cells).x - centre(fit).x) / cells.w, (centre(cells).y - centre(fit).y) / cells.h,
               cells.w / fit.w, cells.h / fit.h};
  const Piece* const piece = match(cells);
  piece_bits_.start(matches_.rows(), matches_.cols());
  if (piece != nullptr) {
    picker_.finder().draw_into(*piece, piece_bits_);
    fill_ = std::clamp(piece->area / (cells.w * cells.h), 0.1, 1.0);
    ellipse_over_ = std::min(box.w, box.h) / std::max(1.0, 2 * ellipse_of(*piece).half_h * evidence_.block);
  }
  return estimate(1, true);
}

int BlobFollower::block_for(const Box& box) const noexcept {
  return std::max(1, static_cast<int>(std::max(box.w, box.h) / kCells));
}

Box BlobFollower::in_cells(const Box& box) const noexcept {
  const double block = evidence_.block;
  return {(box.x - evidence_.left) / block, (box.y - evidence_.top) / block, box.w / block, box.h / block};
}

Box BlobFollower::in_pixels(const Box& box) const noexcept {
  const double block = evidence_.block;
  return {box.x * block + evidence_.left, box.y * block + evidence_.top, box.w * block, box.h * block};
}

void BlobFollower::weigh(const Frame& frame, Point middle) noexcept {
  const double reach = rules_.reach * std::max(box_.w, box_.h) + rules_.reach_px;
  evidence_ = source_->look(frame, box_around(middle, 1.5 * box_.w + 2 * reach, 1.5 * box_.h + 2 * reach),
                            block_for(box_));
  smooth();
}

// A running mean along rows, then along columns.
void BlobFollower::smooth() noexcept {
  const int rows = evidence_.weights.rows;
  const int cols = evidence_.weights.cols;
  const ImageView<float> out{smoothed_.view().data, rows, cols, 1, cols};
  const int radius =
      static_cast<int>(std::lround(0.5 * rules_.smooth * std::min(box_.w, box_.h) / evidence_.block));
  if (radius == 0) {
    for (int r = 0; r < rows; ++r) std::copy_n(evidence_.weights.row(r), cols, out.row(r));
    evidence_.weights = out;
    return;
  }
  const ImageView<float> lines{line_.view().data, rows, cols, 1, cols};
  const float share = 1 / static_cast<float>(2 * radius + 1);
  for (int r = 0; r < rows; ++r) {
    const float* const in = evidence_.weights.row(r);
    float sum = 0;
    for (int c = -radius; c <= radius; ++c) sum += in[std::clamp(c, 0, cols - 1)];
    for (int c = 0; c < cols; ++c) {
      lines(r, c) = share * sum;
      sum += in[std::min(c + radius + 1, cols - 1)] - in[std::max(c - radius, 0)];
    }
  }
  for (int r = 0; r < rows; ++r) {
    float* const to = out.row(r);
    std::fill_n(to, cols, 0.0f);
    for (int i = -radius; i <= radius; ++i) {
      const float* const in = lines.row(std::clamp(r + i, 0, rows - 1));
      for (int c = 0; c < cols; ++c) to[c] += share * in[c];
    }
  }
  evidence_.weights = out;
}

// Where a box of the target's size stands out most, in cells.
Box BlobFollower::find_box(Point forecast) noexcept {
  const ImageView<const float> weights = evidence_.weights;
  sums_.add_up(weights);
  ellipses_.add_up(weights);
  const Point off{forecast.x - over_fit_.x * box_.w, forecast.y - over_fit_.y * box_.h};
  const Box at = in_cells(box_around(off, box_.w / over_fit_.w, box_.h / over_fit_.h));
  const int cols = std::clamp(static_cast<int>(std::lround(at.w)), 1, weights.cols);
  const int rows = std::clamp(static_cast<int>(std::lround(at.h)), 1, weights.rows);
  const double size = std::max(at.w, at.h);
  const double reach = rules_.reach * size + rules_.reach_px / evidence_.block;
  Box best = at;
  double most = -1e9;
  for (int r = 0; r + rows <= weights.rows; ++r)
    for (int c = 0; c + cols <= weights.cols; ++c) {
      const double away = std::hypot(c + 0.5 * cols - at.x - 0.5 * at.w, r + 0.5 * rows - at.y - 0.5 * at.h);
      if (away > reach) continue;
      const double penalty = kFarPenalty * usual_contrast_ * (away / size) * (away / size);
      const double score = sums_.contrast(c, r, cols, rows) - penalty;
      if (score <= most) continue;
      most = score;
      best = {c + 0.5 * (cols - at.w), r + 0.5 * (rows - at.h), at.w, at.h};
    }
  return best;
}

// The piece that matches near an expected box, in cells; one that runs beyond it is cut off there.
const Piece* BlobFollower::match(const Box& expected) noexcept {
  set_above(evidence_.weights, evidence_.level, matches_);
  const ExpectedPiece target{expected, fill_ * expected.w * expected.h};
  const Piece* const piece = picker_.pick(matches_, target, scaled(expected, rules_.gate));
  const Box most = scaled(expected, kClip);
  if (piece != nullptr && piece->left >= most.x - 1 && piece->top >= most.y - 1 &&
      piece->right <= most.x + most.w + 1 && piece->bottom <= most.y + most.h + 1)
    return piece;
  return picker_.clip(matches_, most);
}

double BlobFollower::contrast_of(const Box& box) const noexcept {
  const CellBox cells = rounded(box, evidence_.weights);
  return sums_.contrast(cells.left, cells.top, cells.right - cells.left, cells.bottom - cells.top);
}

double BlobFollower::gain_of(const Box& box) const noexcept {
  const EllipseSums::Sum sum = ellipses_.in({centre(box), box.w / 2, box.h / 2});
  return sum.mass - (usual_around_ + 0.5 * usual_contrast_) * sum.count;
}

// Climbs, by growing or shrinking both sides or one, to the box whose ellipse has the largest sum of weights above a
// level midway between those in the target and around it.
Box BlobFollower::fitted(const Box& from, double most_growth) const noexcept {
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
Box BlobFollower::shifted(Box box) const noexcept {
  for (int i = 0; i < kShifts; ++i)
    box = box_around(ellipses_.in({centre(box), box.w / 2, box.h / 2}).middle, box.w, box.h);
  return box;
}

BlobFollower::Sighting BlobFollower::sighting(const Piece& piece, const Box& expected) noexcept {
  Sighting seen;
  const double sure = std::clamp((usual_contrast_ - 0.1) / 0.3, 0.0, 1.0);
  const Box fit = fitted(expected, std::pow(rules_.most_growth, sure));
  const Point middle = centre(in_pixels(shifted(fit)));
  const auto side = [&](double was, double factor) {
    return std::max(kLeastPx, was * (1 + rules_.size_rate * (factor - 1)));
  };
  const double w = side(box_.w, fit.w / expected.w);
  const double h = side(box_.h, fit.h / expected.h);
  seen.box = box_around({middle.x + over_fit_.x * w, middle.y + over_fit_.y * h}, w, h);
  const double block = evidence_.block;
  seen.ellipse = ellipse_of(piece);
  seen.ellipse.middle = {seen.ellipse.middle.x * block + evidence_.left,
                         seen.ellipse.middle.y * block + evidence_.top};
  seen.ellipse.half_w *= ellipse_over_ * block;
  seen.ellipse.half_h *= ellipse_over_ * block;
  seen.area = piece.area * block * block;
  seen.contrast = contrast_of(in_cells(seen.box));
  const double told = std::max(0.0, seen.contrast / usual_contrast_);
  const double filled = std::min(1.0, piece.area / (fill_ * expected.w * expected.h));
  seen.confidence =
      confidence_of(told * std::sqrt(filled), rules_.confidence_half, rules_.confidence_steepness);
  seen.circle_px = 2 * picker_.finder().enclosing_radius(piece) * block;
  return seen;
}

BlobFollower::Sighting BlobFollower::look(const Frame& frame, Point forecast) {
  weigh(frame, forecast);
  const Box expected = shifted(find_box(forecast));
  const Piece* const piece = match(expected);
  piece_bits_.start(matches_.rows(), matches_.cols());
  if (piece == nullptr || piece->area < rules_.pick.least_area * fill_ * expected.w * expected.h)
    return {box_};
  picker_.finder().draw_into(*piece, piece_bits_);
  return sighting(*piece, expected);
}

Estimate BlobFollower::follow(const Frame& frame) {
  const bool lost = frames_lost_ >= kFramesUntilSearch;
  const Point was = centre(box_);
  const Point forecast{std::clamp(was.x + velocity_.x, 0.0, 1.0 * size_.width),
                       std::clamp(was.y + velocity_.y, 0.0, 1.0 * size_.height)};
  Sighting seen = look(frame, forecast);
  if (lost && seen.confidence < rules_.refind_from) {
    const auto place = source_->search(frame, box_, frames_lost_ == kFramesUntilSearch);
    if (place) seen = look(frame, *place);
  }
  if (seen.confidence >= (lost ? rules_.refind_from : rules_.present_from)) {
    const Point now = centre(seen.box);
    if (frames_lost_ > 0)
      velocity_ = {};
    else
      velocity_ = {velocity_.x + kVelocityRate * (now.x - was.x - velocity_.x),
                   velocity_.y + kVelocityRate * (now.y - was.y - velocity_.y)};
    frames_lost_ = 0;
    box_ = seen.box;
    ellipse_ = seen.ellipse;
    circle_px_ = seen.circle_px;
    if (seen.confidence >= rules_.learn_from) learn(seen);
    return estimate(seen.confidence, true);
  }
  ++frames_lost_;
  box_ = box_around(forecast, box_.w, box_.h);
  velocity_ = {kVelocityKept * velocity_.x, kVelocityKept * velocity_.y};
  return estimate(std::min(seen.confidence, rules_.present_from), false);
}

void BlobFollower::learn(const Sighting& seen) {
  source_->learn(piece_bits_, seen.box);
  const Box cells = in_cells(seen.box);
  usual_contrast_ += kUsualRate * (std::max(kLeastShare * seed_contrast_, seen.contrast) - usual_contrast_);
  usual_around_ +=
      kUsualRate * (mean_weight(sums_, cells, evidence_.weights) - seen.contrast - usual_around_);
}

Estimate BlobFollower::estimate(double confidence, bool present) {
  Estimate estimate{{box_, 0}, confidence, present};
  if (rules_.turned_box && present) estimate.box = box_of(ellipse_);
  draw_mask(present);
  estimate.mask = std::as_const(frame_mask_).view();
  if (present) estimate.extent = {2 * std::min(ellipse_.half_w, ellipse_.half_h), circle_px_};
  return estimate;
}

void BlobFollower::draw_mask(bool present) {
  for (int r = 0; r < static_cast<int>(drawn_.h); ++r)
    std::fill_n(frame_mask_.view().row(static_cast<int>(drawn_.y) + r) + static_cast<int>(drawn_.x),
                static_cast<int>(drawn_.w), Byte{0});
  drawn_ = {};
  if (!present) return;
  const int block = evidence_.block;
  const int left = std::clamp(evidence_.left, 0, size_.width);
  const int top = std::clamp(evidence_.top, 0, size_.height);
  const int right = std::clamp(evidence_.left + piece_bits_.cols() * block, left, size_.width);
  const int bottom = std::clamp(evidence_.top + piece_bits_.rows() * block, top, size_.height);
  for (int y = top; y < bottom; ++y) {
    const int row = (y - evidence_.top) / block;
    for (int c = 0; c < piece_bits_.cols(); ++c) {
      if (!piece_bits_.at(row, c)) continue;
      const int first = std::clamp(evidence_.left + c * block, left, right);
      const int end = std::clamp(evidence_.left + (c + 1) * block, left, right);
      for (int x = first; x < end; ++x) frame_mask_(y, x) = 1;
    }
  }
  drawn_ = {double(left), double(top), double(right - left), double(bottom - top)};
}

std::vector<Stage> BlobFollower::stages() {
  pictures_.clear();
  pictures_.push_back(copy_of(evidence_.weights));
  for (const BitMask* bits : {&std::as_const(matches_), &std::as_const(piece_bits_)}) {
    Image<float> picture(bits->rows(), bits->cols());
    for (int r = 0; r < bits->rows(); ++r)
      for (int c = 0; c < bits->cols(); ++c) picture(r, c) = bits->at(r, c) ? 1.0f : 0.0f;
    pictures_.push_back(std::move(picture));
  }
  return {{"weights", std::as_const(pictures_[0]).view()},
          {"matches", std::as_const(pictures_[1]).view()},
          {"piece", std::as_const(pictures_[2]).view()}};
}

}  // namespace mnemon
