// SPDX-License-Identifier: MIT
#include <mnemon/scene/layout.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/random.hpp>
#include <mnemon/image/bilinear.hpp>
#include <mnemon/scene/beacon.hpp>
#include <mnemon/scene/coverage.hpp>
#include <mnemon/scene/difficulty.hpp>
#include <mnemon/scene/flight.hpp>

namespace mnemon {
namespace {

constexpr int kSpanGap = 5;            // hidings that are no further apart are one
constexpr double kHiddenShare = 1e-6;  // less than float sums can tell

// Scenes of one random number still differ from each other.
std::uint64_t key_of(const std::string& name, std::uint64_t random) {
  std::uint64_t key = mix_bits(random + 17);
  for (const char c : name) key = mix_bits(key ^ static_cast<unsigned char>(c));
  return key;
}

SceneParams params_of(const SceneSpec& spec, const ParamSet& set) {
  ParamSet all = spec.set;
  for (const auto& [name, value] : set) all[name] = value;
  const auto params = bound_params<SceneParams>(all, spec.name);
  params.check();
  return params;
}

}  // namespace

Layout::Layout(const SceneSpec& scene_spec, const ParamSet& set, std::uint64_t random)
    : spec(scene_spec),
      params(params_of(scene_spec, set)),
      key(key_of(scene_spec.name, random)),
      camera(params, mix_bits(key + 6)),
      target(make_target(spec.target, mix_bits(key + 3))),
      other(make_target(spec.target, mix_bits(key + 3), 0.6 * (1 - params.lookalike))),
      backdrop(params.height, params.width, camera.margin(), mix_bits(key + 2)) {
  // The first random number flies the paths of the scenario as they are written.
  if (random != 1) spec.keys = other_path(spec.keys, mix_bits(key + 12));
  fly_all();
  furnish();
  for (const Pose& pose : poses) outlines.push_back(target->outline(pose));
  std::uint64_t bank_key = key + 4;
  for (const FrameSpan& span : hidden_spans(params)) {
    banks.emplace_back(outlines, span.from, span.to, params.height / 360.0, mix_bits(bank_key));
    bank_key += 31;
  }
  for (int frame = 0; frame < params.frames; ++frame) {
    seen.push_back(look_at(frame));
    truth.rows.push_back(true_row(frame));
    for (std::size_t i = 0; i < others.size(); ++i) {
      const Box box = bounds(other->outline(others[i][frame]));
      if (reaches_into(box, params.width, params.height))
        truth.others.push_back({frame, fmt::format("{} {}", target_label(spec.target), i + 2), {box, 0}});
    }
  }
}

void Layout::fly_all() {
  poses = spec.target == TargetKind::balloon ? tow(params, mix_bits(key + 1))
                                             : fly(params, spec.keys, mix_bits(key + 1));
  if (params.lookalike > 0) {
    std::vector<Pose> middle = poses;
    SceneParams calm = params;
    calm.fast = 0;
    calm.out_of_view = 0;
    make_harder(calm, mix_bits(key + 8), middle);
    others = lookalike_poses(params, mix_bits(key + 9), middle);
  }
  make_harder(params, mix_bits(key + 8), poses);
  if (spec.target == TargetKind::kite) {
    hang_tails(params, tail_place(spec.target), mix_bits(key + 1), poses);
    for (std::size_t i = 0; i < others.size(); ++i)
      hang_tails(params, tail_place(spec.target), mix_bits(key + 50 + i), others[i]);
  }
  if (spec.target == TargetKind::beacon)
    for (Pose& pose : poses) pose.shine = blinking(pose.time_s);
  set_views(poses);
  for (auto& way : others) set_views(way);
}

// The camera's own motion, and the lean that a moving thing gets from rows that are read one after the other.
void Layout::set_views(std::vector<Pose>& way) const {
  const int last = static_cast<int>(way.size()) - 1;
  std::vector<Affine> views;
  std::vector<Point> places;
  for (const Pose& pose : way) {
    views.push_back(inverse(camera.to_rest(time_of(static_cast<int>(views.size())))));
    places.push_back(mapped(views.back(), pose.at));
  }
  for (int i = 0; i <= last; ++i) {
    const int before = way[i].anew ? i : std::max(0, i - 1);
    const int next = i < last && way[i + 1].anew ? i : std::min(last, i + 1);
    const double frames = std::max(1, next - before);
    const double delay = params.readout / params.height;  // frames a row
    const Point speed{(places[next].x - places[before].x) / frames,
                      (places[next].y - places[before].y) / frames};
    const double middle = 0.5 * params.height;
    const Affine lean{1, speed.x * delay,     -speed.x * delay * middle,
                      0, 1 + speed.y * delay, -speed.y * delay * middle};
    way[i].view = after(lean, views[i]);
  }
}

void Layout::furnish() {
  if (params.clutter > 0) backdrop.string_bunting(params.clutter, target->colours(), mix_bits(key + 10));
  if (params.thicket > 0)
    backdrop.grow_thicket(params.thicket, poses[0].at,
                          1.1 * std::max(poses[0].size_px, 20 * params.height / 360.0), mix_bits(key + 11));
}

Affine Layout::to_backdrop(double time_s) const {
  const double margin = backdrop.margin();
  return after({1, 0, margin, 0, 1, margin}, camera.to_rest(time_s));
}

// The share of a pixel that something hides which is nearer than the target.
float Layout::hidden_share(int frame, const Affine& to_world, int r, int c) const {
  const Point at = mapped(to_world, {c + 0.5, r + 0.5});
  float open =
      1 - (camera.is_moving() ? sampled(backdrop.front_cover(), at.x, at.y) : backdrop.front_cover()(r, c));
  for (const CloudBank& bank : banks) open *= 1 - bank.cover(frame, c + 0.5, r + 0.5);
  return 1 - open;
}

void Layout::for_each_pixel(int frame, const OnPixel& use) const {
  const Reach reach = reach_of(outlines[frame], params.height, params.width);
  if (reach.is_empty()) return;
  const Affine to_world = to_backdrop(time_of(frame));
  CoverageTile tile(reach.rows, reach.cols);
  const ImageView<const float> cover = covered(outlines[frame], reach, tile);
  for (int r = 0; r < reach.rows; ++r)
    for (int c = 0; c < reach.cols; ++c)
      if (cover(r, c) > 0)
        use(reach.top + r, reach.left + c, cover(r, c),
            hidden_share(frame, to_world, reach.top + r, reach.left + c));
}

Seen Layout::look_at(int frame) const {
  Seen result{std::abs(signed_area(outlines[frame])), 0, 0};
  for_each_pixel(frame, [&](int, int, float share, float hidden) {
    result.inside += share;
    result.shown += share * (1 - hidden);
  });
  result.shown *= poses[frame].shine;
  return result;
}

TruthRow Layout::true_row(int frame) const {
  TruthRow row{frame, {bounds(outlines[frame]), 0}, true, 1, {}};
  row.visible = std::min(1.0, seen[frame].shown / seen[frame].area);
  if (row.visible > 1 - kHiddenShare) row.visible = 1;  // what float sums leave of a target in full view
  if (row.visible < kHiddenShare) row.visible = 0;
  row.present = row.visible > 0;
  if (!row.present) row.box = {};
  if (row.present && spec.target == TargetKind::balloon && !camera.is_moving())
    row.position = position(frame);
  return row;
}

// Where the balloon is: its size says how far, its place in the picture where.
PositionMm Layout::position(int frame) const {
  const Pose& pose = poses[frame];
  const double z = focal_px(params.height) * kBalloonDiameterMm / pose.size_px;
  return {(pose.at.x - params.width / 2.0) * z / focal_px(params.height),
          (pose.at.y - params.height / 2.0) * z / focal_px(params.height), z};
}

std::vector<TagSpan> Layout::spans_where(const char* tag, const std::function<bool(int)>& holds) const {
  std::vector<TagSpan> found;
  for (int frame = 0; frame < params.frames; ++frame) {
    if (!holds(frame)) continue;
    if (!found.empty() && frame - found.back().to <= kSpanGap)
      found.back().to = frame;
    else
      found.push_back({tag, frame, frame});
  }
  return found;
}

std::vector<TagSpan> Layout::spans() const {
  std::vector<TagSpan> all = spans_where("occlusion", [&](int frame) {
    return seen[frame].inside > 0 && poses[frame].shine > 0 &&
           seen[frame].shown < (1 - kHiddenShare) * poses[frame].shine * seen[frame].inside;
  });
  const auto outside = spans_where(
      "out-of-view", [&](int frame) { return seen[frame].inside < (1 - kHiddenShare) * seen[frame].area; });
  all.insert(all.end(), outside.begin(), outside.end());
  return all;
}

std::vector<std::string> Layout::tags() const {
  std::vector<std::string> all = spec.tags;
  const auto add = [&](const std::string& tag) {
    if (std::ranges::find(all, tag) == all.end()) all.push_back(tag);
  };
  for (const std::string& tag : knob_tags(params)) add(tag);
  if (!banks.empty()) add("occlusion");
  return all;
}

Pose Layout::pose_at(const std::vector<Pose>& way, double frame) {
  const double kept = std::clamp(frame, 0.0, static_cast<double>(way.size() - 1));
  const auto before = std::min(static_cast<std::size_t>(kept), way.size() - 1);
  const auto next = std::min(before + 1, way.size() - 1);
  return between(way[before], way[next], kept - static_cast<double>(before));
}

}  // namespace mnemon
