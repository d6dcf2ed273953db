// SPDX-License-Identifier: MIT
#include <mnemon/sequence/truth_tags.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>

namespace mnemon {
namespace {

constexpr std::array<std::string_view, 6> kMeasured{"scale", "aspect", "rotation",
                                                    "fast",  "small",  "out-of-view"};
constexpr double kSeen = 0.5;
constexpr double kFastShare = 0.05;

double size_of(const TruthRow& row) { return std::sqrt(row.box.box.w * row.box.box.h); }
double aspect_of(const TruthRow& row) { return row.box.box.w / row.box.box.h; }

bool differs_by_factor(double a, double b, double factor) { return a >= factor * b || b >= factor * a; }

bool is_fast(const std::vector<const TruthRow*>& seen, double sizes) {
  double steps = 0;
  double fast = 0;
  for (std::size_t i = 1; i < seen.size(); ++i) {
    if (seen[i]->frame != seen[i - 1]->frame + 1) continue;
    const Point a = centre(seen[i - 1]->box.box);
    const Point b = centre(seen[i]->box.box);
    steps += 1;
    fast += std::hypot(b.x - a.x, b.y - a.y) >= sizes * size_of(*seen[i]) ? 1 : 0;
  }
  return steps > 0 && fast >= kFastShare * steps;
}

double outside_share(const Box& box, FrameSize size) {
  const double w = std::max(0.0, std::min<double>(size.width, box.x + box.w) - std::max(0.0, box.x));
  const double h = std::max(0.0, std::min<double>(size.height, box.y + box.h) - std::max(0.0, box.y));
  return 1 - w * h / (box.w * box.h);
}

bool leaves_view(const Truth& truth, FrameSize size, double share) {
  bool at_edge = false;  // on the last frame that it was present
  for (const TruthRow& row : truth.rows) {
    if (!row.present && at_edge) return true;
    if (!row.present) continue;
    const double outside = outside_share(upright_around(row.box), size);
    if (outside >= share) return true;
    at_edge = outside > 0;
  }
  return false;
}

}  // namespace

std::vector<std::string> tags_from_truth(const Truth& truth, FrameSize size,
                                         const TagThresholds& thresholds) {
  std::vector<const TruthRow*> seen;
  for (const TruthRow& row : truth.rows)
    if (row.present && row.visible >= kSeen) seen.push_back(&row);
  if (seen.empty()) return {};
  const TruthRow& first = *seen.front();
  const auto on_some = [&](auto holds) {
    return std::ranges::any_of(seen, [&](const TruthRow* row) { return holds(*row); });
  };
  const auto small =
      std::ranges::count_if(seen, [&](const TruthRow* r) { return size_of(*r) < thresholds.small_px; });
  const std::array<bool, 6> holds{
      on_some(
          [&](const TruthRow& r) { return differs_by_factor(size_of(r), size_of(first), thresholds.scale); }),
      on_some([&](const TruthRow& r) {
        return differs_by_factor(aspect_of(r), aspect_of(first), thresholds.aspect);
      }),
      on_some([&](const TruthRow& r) {
        return std::abs(std::remainder(r.box.angle_deg - first.box.angle_deg, 180.0)) >=
               thresholds.rotation_deg;
      }),
      is_fast(seen, thresholds.fast),
      2 * static_cast<std::size_t>(small) >= seen.size(),
      leaves_view(truth, size, thresholds.out_of_view)};
  std::vector<std::string> tags;
  for (std::size_t i = 0; i < holds.size(); ++i)
    if (holds[i]) tags.emplace_back(kMeasured[i]);
  return tags;
}

bool follows_from_truth(const std::string& tag) {
  return std::ranges::find(kMeasured, tag) != kMeasured.end();
}

}  // namespace mnemon
