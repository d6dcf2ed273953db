// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/colour_evidence.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <utility>

#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr int kMostBlock = 64;       // px along a cell: beyond it the mean over a cell tells nothing
constexpr double kRing = 1.2;        // of a box: what lies outside counts as its surroundings
constexpr double kSeedWindow = 2.2;  // of the seeded box, in which colours are learnt
constexpr double kSeedCells = 36;    // along the seeded box's longer side, at the least
// How far weights go by their neighbours': more of it finds more of streamers, but lets blurred rims match, so that
// sizes are off.
constexpr float kSoftness = 0.25f;
constexpr float kMemoryRate = 0.05f;  // of the newest frame
constexpr double kLightRate = 0.02;   // at which learning takes a change of light in
constexpr int kLevels = 64;           // that the level of matching is chosen from
constexpr float kAsGood = 0.03f;      // of a share: levels that tell target and surroundings apart by no less

// A cell whose middle is in no picture shows nothing new.
bool is_seen(ImageView<const Byte> rgb, Point at) noexcept {
  return at.x >= 0 && at.y >= 0 && at.x < rgb.cols && at.y < rgb.rows;
}

Box picture_box(ImageView<const Byte> rgb) noexcept { return {0, 0, 1.0 * rgb.cols, 1.0 * rgb.rows}; }

bool is_outside(const Box& box, Point at) noexcept {
  return at.x < box.x || at.y < box.y || at.x > box.x + box.w || at.y > box.y + box.h;
}

// A mean of each colour's weight and its neighbours', along red, green and blue in turn: light and noise move colours
// from one to the next, and a seed shows only some of a target's.
void soften_along(int stride, const std::vector<float>& from, std::vector<float>& to) noexcept {
  for (int i = 0; i < kColours; ++i) {
    const int level = i / stride % kColourLevels;
    const float below = from[level > 0 ? i - stride : i];
    const float above = from[level < kColourLevels - 1 ? i + stride : i];
    to[i] = 0.5f * from[i] + 0.25f * (below + above);
  }
}

struct CellSpan {
  int begin, end;
};

// The cells whose middles are from `from` to `to`, among so many of a window.
CellSpan cells_within(double from, double to, int count) noexcept {
  const double begin = std::max(from, 0.0);
  const double end = std::min(to, 1.0 * count);
  if (!(begin < end)) return {0, 0};
  return {static_cast<int>(std::ceil(begin - 0.5)), static_cast<int>(std::floor(end + 0.5))};
}

struct CellRange {
  CellSpan rows, cols;
};

// The cells of a window whose middles are in a box, px.
CellRange cells_within(const Box& box, const BlockWindow& window) noexcept {
  const double block = window.block();
  const double x = (box.x - window.left()) / block;
  const double y = (box.y - window.top()) / block;
  return {cells_within(y, y + box.h / block, window.cells().rows),
          cells_within(x, x + box.w / block, window.cells().cols)};
}

}  // namespace

void ColourEvidence::start(const Frame& frame, const Region& region, const Box& box, const Rules& rules) {
  rules_ = rules;
  rgb_ = frame.rgb;
  light_ = LightChange(rgb_);
  window_ = BlockWindow(kMostEvidenceSide, kMostEvidenceSide, kMostBlock);
  weights_ = Image<float>(kMostEvidenceSide, kMostEvidenceSide);
  search_ = PictureSearch(frame.size());
  table_.assign(kColours, 0.0f);
  spare_ = table_;
  colours_ = ColourDistribution();
  level_ = 0.5f;
  if (rules.picked) {
    weigh_by_nearness(*rules.picked);
    return;
  }
  const int block = std::max(1, static_cast<int>(std::max(box.w, box.h) / kSeedCells));
  look(scaled(box, kSeedWindow), block);
  learn_seed(region, box);
  take_weights();
  weigh();
  choose_level(region, box);
}

void ColourEvidence::retune(const Rules& rules) {
  rules_ = rules;
  if (rules.picked) weigh_by_nearness(*rules.picked);
}

// use(row, column, how much it is the target, whether it is around it) for each cell of the window.
template <class Use>
void ColourEvidence::for_each_cell(const Region& region, const Box& box, Use use) const {
  const ImageView<const Byte> cells = window_.cells();
  const Ellipse ellipse = ellipse_of(region, box);
  const Box outer = scaled(box, kRing);
  for (int r = 0; r < cells.rows; ++r)
    for (int c = 0; c < cells.cols; ++c) {
      const Point at{window_.left() + (c + 0.5) * window_.block(),
                     window_.top() + (r + 0.5) * window_.block()};
      if (is_seen(rgb_, at))
        use(r, c, static_cast<float>(weight_in(region, ellipse, at)), is_outside(outer, at));
    }
}

void ColourEvidence::learn_seed(const Region& region, const Box& box) {
  const ImageView<const Byte> cells = window_.cells();
  std::vector<float> target(kColours);
  std::vector<float> around(kColours);
  for_each_cell(region, box, [&](int r, int c, float weight, bool is_around) {
    const ColourIndex colour = colour_index(&cells(r, c));
    target[colour] += weight;
    if (is_around) around[colour] += 1;
  });
  if (std::ranges::all_of(target, [](float v) { return v <= 0; }))
    target[colour_index(&cells(cells.rows / 2, cells.cols / 2))] = 1;
  colours_ = ColourDistribution(choose_space(target, around, rules_.space));
  for (int i = 0; i < kColours; ++i) {
    colours_.count_target(static_cast<ColourIndex>(i), target[i]);
    colours_.count_around(static_cast<ColourIndex>(i), around[i]);
  }
  colours_.learn(1, 1);
  memory_.start(colours_.space(), target);
  // Of a box's ellipse some is not the target: its colours count again as far as they stand out.
  if (!std::holds_alternative<Box>(region) && !std::holds_alternative<OrientedBox>(region)) return;
  for (int i = 0; i < kColours; ++i)
    colours_.count_target(static_cast<ColourIndex>(i), target[i] * colours_.weights()[i]);
  colours_.learn(1, 1);
}

void ColourEvidence::take_weights() noexcept {
  std::copy_n(colours_.weights(), kColours, table_.begin());
  constexpr int kBlue = 1;
  constexpr int kGreen = kColourLevels;
  constexpr int kRed = kColourLevels * kColourLevels;
  soften_along(kBlue, table_, spare_);
  soften_along(kGreen, spare_, table_);
  soften_along(kRed, table_, spare_);
  for (int i = 0; i < kColours; ++i) table_[i] = std::lerp(colours_.weights()[i], spare_[i], kSoftness);
}

BlobEvidence ColourEvidence::look(const Box& window, int block) {
  block = std::clamp(block, 1, kMostBlock);
  const int cols = std::clamp(static_cast<int>(std::ceil(window.w / block)), 4, kMostEvidenceSide);
  const int rows = std::clamp(static_cast<int>(std::ceil(window.h / block)), 4, kMostEvidenceSide);
  const Point middle = centre(window);
  window_.sample(rgb_, static_cast<int>(std::floor(middle.x - 0.5 * cols * block)),
                 static_cast<int>(std::floor(middle.y - 0.5 * rows * block)), rows, cols, block);
  if (!light_.is_none()) window_.take_back(light_);
  weigh();
  return {{weights_.view().data, rows, cols, 1, cols},
          static_cast<float>(level()),
          window_.left(),
          window_.top(),
          block};
}

void ColourEvidence::weigh() noexcept {
  const ImageView<const Byte> cells = window_.cells();
  weigh_colours(cells.data, cells.rows * cells.cols, table_.data(), 1, weights_.view().data);
}

// The level with the most of the target above it less the most of the surroundings. Where these are told apart well,
// levels far from each other do about as well: the middle of them, at which the borders of smoothed weights stay
// where they are.
void ColourEvidence::choose_level(const Region& region, const Box& box) {
  std::array<float, kLevels> target{};
  std::array<float, kLevels> around{};
  const int cols = window_.cells().cols;
  for_each_cell(region, box, [&](int r, int c, float weight, bool is_around) {
    const float value = weights_.view().data[static_cast<std::ptrdiff_t>(r) * cols + c];
    const int level = std::min(kLevels - 1, static_cast<int>(value * kLevels));
    target[level] += weight;
    if (is_around) around[level] += 1;
  });
  const float target_sum = std::accumulate(target.begin(), target.end(), 0.0f);
  const float around_sum = std::max(1.0f, std::accumulate(around.begin(), around.end(), 0.0f));
  if (!(target_sum > 0)) return;
  std::array<float, kLevels> told{};  // apart by each level
  float above = 0;
  for (int i = kLevels - 1; i > 0; --i) {
    above += target[i] / target_sum - around[i] / around_sum;
    told[i] = above;
  }
  const auto best = static_cast<int>(std::max_element(told.begin() + 1, told.end()) - told.begin());
  const float enough = told[best] - kAsGood;
  int first = best;
  while (first > 1 && told[first - 1] >= enough) --first;
  int last = best;
  while (last + 1 < kLevels && told[last + 1] >= enough) ++last;
  level_ = static_cast<float>(first + last) / (2 * kLevels);
}

void ColourEvidence::learn(const BitMask& target, const Box& box) {
  if (rules_.picked) return;
  const ImageView<const Byte> cells = window_.cells();
  const CellRange seen = cells_within(picture_box(rgb_), window_);
  const CellRange inner = cells_within(scaled(box, kRing), window_);
  for (int r = seen.rows.begin; r < seen.rows.end; ++r) {
    const bool beside = r < inner.rows.begin || r >= inner.rows.end;
    const int first =
        seen.cols.begin + (seen.cols.begin + r) % 2;  // like the black squares of a board, which is enough
    for (int c = first; c < seen.cols.end; c += 2) {
      const ColourIndex colour = colour_index(&cells(r, c));
      if (target.at(r, c))
        colours_.count_target(colour, 1);
      else if (beside || c < inner.cols.begin || c >= inner.cols.end)
        colours_.count_around(colour, 1);
    }
  }
  remember(box);
  memory_.learn(kMemoryRate);
  colours_.learn(rules_.target_rate, rules_.around_rate);
  take_weights();
  light_.learnt(kLightRate);
}

// Counts the colours in the ellipse of a box that were sampled and are in the picture.
void ColourEvidence::remember(const Box& box) noexcept {
  memory_.forget();
  const ImageView<const Byte> cells = window_.cells();
  const double block = window_.block();
  const Point middle{(centre(box).x - window_.left()) / block, (centre(box).y - window_.top()) / block};
  const double half_w = 0.5 * box.w / block;
  const double half_h = 0.5 * box.h / block;
  const CellRange seen = cells_within(picture_box(rgb_), window_);
  const CellSpan rows = cells_within(middle.y - half_h, middle.y + half_h, cells.rows);
  for (int r = std::max(rows.begin, seen.rows.begin); r < std::min(rows.end, seen.rows.end); ++r) {
    const double y = (r + 0.5 - middle.y) / half_h;
    const double reach = half_w * std::sqrt(std::max(0.0, 1 - y * y));
    const CellSpan cols = cells_within(middle.x - reach, middle.x + reach, cells.cols);
    const int end = std::min(cols.end, seen.cols.end);
    for (int c = std::max(cols.begin, seen.cols.begin); c < end; ++c)
      memory_.count(colour_index(&cells(r, c)));
  }
}

double ColourEvidence::likeness(const Box& box) {
  remember(box);
  return memory_.likeness();
}

std::optional<Point> ColourEvidence::search(const Box& box, bool first) {
  if (first) search_.start();
  const Point place = search_.find(rgb_, table_in_this_light(), box.w, box.h).middle;
  search_.leave_out(place);
  return place;
}

std::optional<Point> ColourEvidence::search_beside(const Box& box) {
  return search_.find_beside(rgb_, table_in_this_light(), centre(box), box.w, box.h);
}

// What colours weigh as they are in the frame at hand.
const float* ColourEvidence::table_in_this_light() noexcept {
  if (light_.is_none()) return table_.data();
  light_.bring_in(table_.data(), spare_.data());
  return spare_.data();
}

// 1 at the picked colour, and half at its distance.
void ColourEvidence::weigh_by_nearness(const PickedColour& picked) {
  const auto [red, green, blue] = picked.rgb;
  for (int i = 0; i < kColours; ++i) {
    const auto [r, g, b] = colour_of(static_cast<ColourIndex>(i));
    const double dr = 255.0 * r - red;
    const double dg = 255.0 * g - green;
    const double db = 255.0 * b - blue;
    const double light = 0.5 * (0.299 * dr + 0.587 * dg + 0.114 * db);
    const double away = std::hypot(light, dr - dg, 0.5 * (dr + dg) - db);
    table_[i] = static_cast<float>(std::max(0.0, 1 - 0.5 * away / picked.distance));
  }
}

}  // namespace mnemon
