// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/mask_target.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr int kSeedRounds = 5;        // of cutting and learning colours
constexpr double kLeastPiece = 0.03;  // of the largest piece's area, for another to count
constexpr double kTightAlong = 0.75;  // least share of a seeded box's sides that its target has
constexpr double kTightArea = 0.3;    // and of its area
// How far beyond a box that is refitted its target may be, in half sides. Measured on 13 sequences of photographs: with 1.2
// boxes that are off gain 0.003 more, and right ones lose 0.008.
constexpr double kRefitReach = 1.1;
// Of the contrast of colours. It tells little of whether the target is there: it falls as soon as the target comes
// before something of its own colours.
constexpr double kToldPower = 0.15;
constexpr double kVisiblePower = 0.5;  // of the share that is visible
constexpr double kGridMargin = 1.05;   // of the appearance's grid, that a cut may reach beyond it
constexpr double kMostResizing = 2.5;  // of what was looked at in a size of another time
constexpr double kSamePose = 0.5;    // cells of the appearance, by which poses that are as good as one differ
constexpr double kFitMargin = 1.25;  // of what a fit sees, for poses it may come to

constexpr double kFirstDepth = 0.3;    // of what is taken for the target of a seeded box at first
constexpr double kSafeDepth = 0.1;     // and where its colours leave too little of it
constexpr double kMostOutside = -1.2;  // depth below which nothing is the target
constexpr double kFirstTrust = 0.2;    // in the shape of a box's ellipse
constexpr double kMoreTrust = 0.3;     // in the shape, with each round

// How deep inside a seeded box's ellipse a place is: 1 in the middle, 0 on the ellipse that touches the box's sides,
// below 0 outside that. Nothing outside an upright box is the target.
class SeedDepth {
 public:
  // `reach` is how far beyond an upright box its target may be, in half sides.
  SeedDepth(const Region& region, const Box& box, double reach)
      : ellipse_(ellipse_of(region, box)), is_upright_(std::holds_alternative<Box>(region)), reach_(reach) {}

  [[nodiscard]] double at(Point place) const noexcept {
    const double turn = ellipse_.angle_deg / kDegreesInRadian;
    const double x = place.x - ellipse_.middle.x;
    const double y = place.y - ellipse_.middle.y;
    const double u = (std::cos(turn) * x + std::sin(turn) * y) / ellipse_.half_w;
    const double v = (std::cos(turn) * y - std::sin(turn) * x) / ellipse_.half_h;
    return is_upright_ && std::max(std::abs(u), std::abs(v)) > reach_ ? 2 * kMostOutside : 1 - u * u - v * v;
  }

  // How surely such a place is the target, by its depth alone.
  [[nodiscard]] static double shape(double depth, double trust) noexcept {
    if (depth < kMostOutside) return 0;
    return std::clamp(0.55 + trust * (depth > 0 ? 0.3 + depth : depth), 0.02, 0.98);
  }

 private:
  Ellipse ellipse_;
  bool is_upright_;
  double reach_;
};

double area_of(const Appearance& appearance) noexcept {
  return appearance.area() * appearance.cell_px() * appearance.cell_px();
}

}  // namespace

int MaskTarget::block_for(double scale) const noexcept {
  return std::max(1, static_cast<int>(std::max(w_, h_) * scale / rules_.cells));
}

Box MaskTarget::grid_around(const TargetPose& pose, double margin) const noexcept {
  return upright_around({box_around(pose.middle, Appearance::kMargin * margin * w_ * pose.scale_x(),
                                    Appearance::kMargin * margin * h_ * pose.scale_y()),
                         pose.turn * kDegreesInRadian});
}

void MaskTarget::look_around(const Frame& frame, const TargetPose& pose, double reach_px,
                             const ColourModel& colours) noexcept {
  const Box grid = grid_around(pose, kGridMargin);
  last().patch.look(frame, pose.middle, grid.w + 2 * reach_px, grid.h + 2 * reach_px, block_for(pose.scale),
                    colours, light_);
}

MaskSighting MaskTarget::start(const Frame& frame, const Region& region, const Box& box,
                               const MaskRules& rules) {
  rules_ = rules;
  w_ = box.w;
  h_ = box.h;
  light_ = LightChange(frame.rgb);
  colours_ = ColourModel();
  cutter_ = MaskCutter(rules);
  appearance_ = Appearance(box.w, box.h);
  for (Look& one : looks_) {
    one.fit = PoseFit(appearance_.rows(), appearance_.cols());
    one.visible = VisibleCells(appearance_.rows(), appearance_.cols());
  }
  visible_before_ = VisibleCells(appearance_.rows(), appearance_.cols());
  found();
  search_ = ColourSearch(frame.size());
  frame_mask_ = FrameMask(frame.size());
  mask_bits_ = BitMask(TargetPatch::kMostSide, TargetPatch::kMostSide);
  const TargetPose pose{centre(box), 1, 0};
  look_around(frame, pose, 0, colours_);
  last().patch.mix();
  if (std::holds_alternative<Box>(region) || std::holds_alternative<OrientedBox>(region))
    start_from_box(region, box);
  else
    start_from_outline(region, box);
  count_colours();
  colours_.learn(1);
  last().patch.weigh(colours_);
  last().patch.mix();
  last().fit.take(last().patch, appearance_, pose);
  appearance_.learn(last().fit.seen(), last().patch, last().labels(), pose, 1, 1);
  seed_appearance_.emplace(box.w, box.h).copy_from(appearance_);
  const CutMask cut = cutter_.cut(last().patch, appearance_, pose);
  if (cut.area > 0) take_mask(cut);
  margins_ = MarkedMargins(box, box_of_mask());
  usual_ = UsualMask(last().contrast, area_of(appearance_));
  if (rules_.refit && !std::holds_alternative<ImageView<const Byte>>(region))
    margins_.refit(usual_.contrast());
  MaskSighting seen = sighting({pose, 1}, appearance_);
  if (!rules_.refit) seen.box = box;
  seen.confidence = 1;
  return seen;
}

// Rounds of cutting by colours, and learning the colours from what was cut out. Where the colours leave too little of
// the box, the shape is trusted more.
void MaskTarget::start_from_box(const Region& region, const Box& box) {
  const SeedDepth depth(region, box, rules_.refit ? kRefitReach : 1);
  const TargetPose pose{centre(box), 1, 0};
  Image<Byte> must(last().patch.rows(), last().patch.cols());
  const ImageView<Byte> labels = start_labels();
  const auto take_deeper_than = [&](double least) {
    for (int r = 0; r < last().patch.rows(); ++r)
      for (int c = 0; c < last().patch.cols(); ++c) {
        const double here = depth.at(last().patch.place_at({double(c), double(r)}));
        labels(r, c) = static_cast<Byte>(here > least);
        must(r, c) = here < kMostOutside ? CutProblem::kAround : CutProblem::kOpen;
      }
  };
  double trust = kFirstTrust;
  take_deeper_than(kFirstDepth);
  for (int round = 0; round < kSeedRounds; ++round) {
    count_colours();
    colours_.learn(1);
    last().patch.weigh(colours_);
    for (int r = 0; r < appearance_.rows(); ++r)
      for (int c = 0; c < appearance_.cols(); ++c)
        appearance_.shape()(r, c) =
            static_cast<float>(SeedDepth::shape(depth.at(pose.place_of(appearance_.place_of(r, c))), trust));
    take_mask(cutter_.cut(last().patch, appearance_, pose, nullptr, must.view()));
    if (fills(box)) continue;
    trust += kMoreTrust;
    take_deeper_than(kSafeDepth);
  }
}

// Whether the mask is as large as a target that a box was drawn around.
bool MaskTarget::fills(const Box& box) const noexcept {
  const Box inner = box_of_mask();
  return last().area > 0 && inner.w >= kTightAlong * box.w && inner.h >= kTightAlong * box.h &&
         last().area * last().patch.block() * last().patch.block() >= kTightArea * box.w * box.h;
}

// The outline itself says what is the target.
void MaskTarget::start_from_outline(const Region& region, const Box& box) {
  const Ellipse ellipse = ellipse_of(region, box);
  const ImageView<Byte> labels = start_labels();
  for (int r = 0; r < last().patch.rows(); ++r)
    for (int c = 0; c < last().patch.cols(); ++c)
      labels(r, c) =
          static_cast<Byte>(weight_in(region, ellipse, last().patch.place_at({double(c), double(r)})) > 0);
  cutter_.keep_pieces(is_in_pieces(last().labels()));
}

// Whether a second piece is large enough not to be a slip of whoever marked it.
bool MaskTarget::is_in_pieces(ImageView<const Byte> labels) noexcept {
  mask_bits_.read_from(labels);
  int largest = 0;
  int second = 0;
  for (const Piece& piece : cutter_.pieces().find(mask_bits_)) {
    second = std::max(second, std::min(largest, piece.area));
    largest = std::max(largest, piece.area);
  }
  return second >= kLeastPiece * largest;
}

// A mask of the whole patch, for its labels to be filled in.
ImageView<Byte> MaskTarget::start_labels() noexcept {
  last().rows = last().patch.rows();
  last().cols = last().patch.cols();
  return {last().room.view().data, last().rows, last().cols, 1, last().cols};
}

// The cutter's labels are its next cut's as well.
void MaskTarget::take_mask(const CutMask& cut) noexcept {
  const ImageView<Byte> labels = start_labels();
  for (int r = 0; r < labels.rows; ++r) std::copy_n(cut.labels.row(r), labels.cols, labels.row(r));
  last().piece = cut.piece;
  last().area = cut.area;
  last().contrast = cut.contrast;
}

void MaskTarget::count_colours() noexcept {
  for (int r = 0; r < last().patch.rows(); ++r) {
    const TargetPatch::Run inside = last().patch.inside(r);
    if (inside.first < inside.end)
      colours_.count(&last().patch.cells()(r, inside.first), &last().labels()(r, inside.first),
                     inside.end - inside.first);
  }
}

Box MaskTarget::box_of_mask() const noexcept {
  const Point from = last().patch.place_at({last().piece.left - 0.5, last().piece.top - 0.5});
  return {from.x, from.y, std::max(1, last().piece.right - last().piece.left) * 1.0 * last().patch.block(),
          std::max(1, last().piece.bottom - last().piece.top) * 1.0 * last().patch.block()};
}

MaskSighting MaskTarget::look(const Frame& frame, const TargetPose& forecast) noexcept {
  MaskSighting seen = look(frame, forecast, appearance_, colours_);
  seen.confidence = confidence(quality(seen, seen.likeness / std::max(0.05, usual_.likeness())));
  return seen;
}

MaskSighting MaskTarget::look(const Frame& frame, const TargetPose& forecast, const Appearance& appearance,
                              const ColourModel& colours, double reach,
                              std::span<const TargetPose> known) noexcept {
  const double reach_px = reach * (rules_.reach * forecast.scale * std::max(w_, h_) + rules_.reach_px);
  look_around(frame, forecast, reach_px, colours);
  const TargetPose there = last().fit.find_place(last().patch, appearance, forecast, reach_px);
  last().patch.narrow(grid_around(there, kFitMargin));
  last().patch.mix();
  const FittedPose fitted =
      last().fit.refine(last().patch, appearance, there, may_be_hidden_ ? &visible_before_.cells() : nullptr);
  if (std::ranges::any_of(known, [&](const TargetPose& pose) { return is_same(pose, fitted.pose); })) {
    MaskSighting seen;
    seen.pose = fitted.pose;
    seen.is_known = true;
    return seen;
  }
  last().visible.tell(last().fit.seen(), appearance, usual_.likeness());
  last().patch.narrow(grid_around(fitted.pose, 1));
  last().patch.mix();
  take_mask(cutter_.cut(last().patch, appearance, fitted.pose, &last().visible.cells()));
  MaskSighting seen = sighting(fitted, appearance);
  if (may_be_hidden_) seen.likeness = likeness(appearance);
  return seen;
}

bool MaskTarget::is_same(const TargetPose& one, const TargetPose& other) const noexcept {
  return one.farthest_from(other, 0.5 * w_, 0.5 * h_) < kSamePose * appearance_.cell_px() * other.scale;
}

MaskSighting MaskTarget::sighting(const FittedPose& fitted, const Appearance& appearance) noexcept {
  MaskSighting seen;
  seen.pose = fitted.pose;
  seen.likeness = fitted.likeness;
  seen.contrast = last().contrast;
  seen.area = 1.0 * last().area * last().patch.block() * last().patch.block();
  const Piece& piece = last().piece;
  seen.minor_px = 2 * ellipse_of(piece).half_h * last().patch.block();
  seen.visible = last().visible.share(appearance);
  seen.box = margins_.around(last().visible.with_hidden(box_of_mask(), appearance, seen.pose));
  seen.turned = {seen.box, 0};
  if (rules_.turned_box && last().area > 0) seen.turned = turned_box();
  return seen;
}

OrientedBox MaskTarget::turned_box() noexcept {
  const OrientedBox cells = cutter_.pieces().turned_box(last().piece);
  const Point middle = centre(cells.box);
  const double block = last().patch.block();
  return {box_around(last().patch.place_at({middle.x - 0.5, middle.y - 0.5}), cells.box.w * block,
                     cells.box.h * block),
          cells.angle_deg};
}

double MaskTarget::quality(const MaskSighting& seen, double alike) const noexcept {
  const double sized = usual_.sized(seen.area, seen.visible, seen.pose.scale);
  if (sized == 0) return 0;
  const double told = std::clamp(seen.contrast / usual_.contrast(), 0.0, 1.0);
  double goes_with = std::max(0.0, correlation(last().fit.seen(), appearance_, counted()));
  if (seed_appearance_)
    goes_with = std::max(goes_with, correlation(last().fit.seen(), *seed_appearance_, counted()));
  return std::sqrt(goes_with * alike * sized) * std::pow(told, kToldPower) *
         (may_be_hidden_ ? std::pow(seen.visible, kVisiblePower) : 1);
}

void MaskTarget::learn(const MaskSighting& seen) noexcept {
  appearance_.learn(last().fit.seen(), last().patch, last().labels(), seen.pose, rules_.appearance_rate,
                    rules_.shape_rate, &last().visible.cells());
  if (seed_appearance_)
    appearance_.draw_towards(*seed_appearance_, rules_.appearance_anchor * rules_.appearance_rate,
                             rules_.shape_anchor * rules_.shape_rate);
  count_colours();
  colours_.learn(rules_.colour_rate);
  usual_.take(seen.likeness, seen.contrast, seen.area, seen.visible, seen.pose.scale);
}

TargetPose MaskTarget::pose_of_mask(const MaskSighting& seen) const noexcept {
  TargetPose pose = seen.pose;
  if (seen.area <= 0) return pose;
  pose.middle = centre(box_of_mask());
  pose.scale = std::clamp(usual_.scale_of(seen.area), pose.scale / kMostResizing, pose.scale * kMostResizing);
  return pose;
}

void MaskTarget::draw_mask(bool present, Point moved) noexcept {
  if (present) {
    mask_bits_.read_from(last().labels());
    frame_mask_.draw(mask_bits_, last().patch.left() + static_cast<int>(std::lround(moved.x)),
                     last().patch.top() + static_cast<int>(std::lround(moved.y)), last().patch.block());
  } else {
    frame_mask_.clear();
  }
}

std::vector<Stage> MaskTarget::stages() {
  pictures_.clear();
  const auto add = [&](int rows, int cols, int channels, auto value) {
    Image<float> picture(rows, cols, channels);
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c)
        for (int k = 0; k < channels; ++k) picture(r, c, k) = value(r, c, k);
    pictures_.push_back(std::move(picture));
  };
  const int rows = last().patch.rows();
  const int cols = last().patch.cols();
  add(rows, cols, 3, [&](int r, int c, int k) { return static_cast<float>(last().patch.cells()(r, c, k)); });
  add(rows, cols, 1, [&](int r, int c, int) { return last().patch.likelihood(r, c); });
  const ImageView<const float> shape = std::as_const(appearance_).shape();
  add(shape.rows, shape.cols, 1, [&](int r, int c, int) { return shape(r, c); });
  add(rows, cols, 1, [&](int r, int c, int) { return static_cast<float>(last().labels()(r, c)); });
  const ImageView<const float> differences = last().fit.differences();
  add(differences.rows, differences.cols, 1, [&](int r, int c, int) { return differences(r, c); });
  const int block = last().patch.block();
  const OrientedBox window{
      {double(last().patch.left()), double(last().patch.top()), double(block * cols), double(block * rows)},
      0};
  struct Named {
    std::string_view name;
    bool lies_in_window;
  };
  constexpr Named kNamed[] = {
      {"patch", true}, {"likelihood", true}, {"shape", false}, {"mask", true}, {"match", false}};
  std::vector<Stage> stages;
  for (std::size_t i = 0; i < pictures_.size(); ++i)
    if (!pictures_[i].empty())
      stages.push_back({kNamed[i].name, std::as_const(pictures_[i]).view(),
                        kNamed[i].lies_in_window ? std::optional(window) : std::nullopt});
  return stages;
}

}  // namespace mnemon
