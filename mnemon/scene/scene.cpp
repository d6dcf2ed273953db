// SPDX-License-Identifier: MIT
#include <mnemon/scene/scene.hpp>

#include <algorithm>
#include <cmath>
#include <mutex>
#include <optional>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/scene/backdrop.hpp>
#include <mnemon/scene/beacon.hpp>
#include <mnemon/scene/camera.hpp>
#include <mnemon/scene/cloud_bank.hpp>
#include <mnemon/scene/coverage.hpp>
#include <mnemon/scene/difficulty.hpp>
#include <mnemon/scene/flight.hpp>
#include <mnemon/scene/lens.hpp>
#include <mnemon/scene/target.hpp>

namespace mnemon {
namespace {

constexpr int kMostExposures = 9;
constexpr double kExposurePx =
    1.5;                     // what moves further than this while the shutter is open is exposed again
constexpr int kSpanGap = 5;  // hidings that are no further apart are one
constexpr double kHiddenShare = 1e-6;  // less than float sums can tell

MNEMON_CLONES void cover_row(const float* __restrict over, const float* __restrict cover,
                             float* __restrict rgb, int cols) noexcept {
  for (int c = 0; c < cols; ++c)
    for (int k = 0; k < 3; ++k) rgb[3 * c + k] += cover[c] * (over[3 * c + k] - rgb[3 * c + k]);
}

MNEMON_CLONES void add_share(const float* __restrict from, float share, float* __restrict to,
                             int count) noexcept {
  for (int i = 0; i < count; ++i) to[i] += share * from[i];
}

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

// What truth says of how much of a target is to be seen.
struct Seen {
  double area = 0;    // of the outline, px²
  double inside = 0;  // of it within the picture
  double shown = 0;   // of that not hidden
};

}  // namespace

struct Scene::Parts {
  SceneSpec spec;
  SceneParams params;
  std::uint64_t key;
  double unit_px;
  Camera camera;
  Lens lens;
  std::unique_ptr<const Target> target;
  std::vector<Pose> poses;
  std::unique_ptr<const Target> other;
  std::vector<std::vector<Pose>> others;
  std::vector<Polygon> outlines;
  std::vector<Box> boxes;
  Backdrop backdrop;
  std::vector<CloudBank> banks;
  std::vector<Seen> seen;
  Truth truth;

  Parts(const SceneSpec& scene_spec, const ParamSet& set, std::uint64_t random)
      : spec(scene_spec),
        params(params_of(scene_spec, set)),
        key(key_of(scene_spec.name, random)),
        unit_px(params.height / 360.0),
        camera(params, mix_bits(key + 6)),
        lens(params, mix_bits(key + 7)),
        target(make_target(spec.target, mix_bits(key + 3))),
        other(make_target(spec.target, mix_bits(key + 3), 0.6 * (1 - params.lookalike))),
        backdrop(params.height, params.width, camera.margin(), mix_bits(key + 2)) {
    fly_all();
    furnish();
    for (const Pose& pose : poses) {
      outlines.push_back(target->outline(pose));
      boxes.push_back(bounds(outlines.back()));
    }
    int nth = 0;
    for (const FrameSpan& span : hidden_spans(params))
      banks.emplace_back(outlines, span.from, span.to, unit_px,
                         mix_bits(key + 4 + static_cast<std::uint64_t>(31 * nth++)));
    for (int frame = 0; frame < params.frames; ++frame) {
      seen.push_back(look_at(frame));
      truth.rows.push_back(true_row(frame));
    }
  }

  void fly_all() {
    poses = spec.target == TargetKind::balloon ? tow(params, mix_bits(key + 1))
                                               : fly(params, spec.keys, mix_bits(key + 1));
    std::vector<Pose> middle = poses;
    make_harder(params, mix_bits(key + 8), poses);
    SceneParams calm = params;
    calm.fast = 0;
    calm.out_of_view = 0;
    make_harder(calm, mix_bits(key + 8), middle);
    others = lookalike_poses(params, mix_bits(key + 9), middle);
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
  void set_views(std::vector<Pose>& way) const {
    const int last = static_cast<int>(way.size()) - 1;
    std::vector<Affine> views;
    std::vector<Point> places;
    for (const Pose& pose : way) {
      views.push_back(inverse(camera.to_rest(pose_time(views.size()))));
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

  [[nodiscard]] double pose_time(std::size_t frame) const {
    return static_cast<double>(frame) / params.rate_hz;
  }

  void furnish() {
    if (params.clutter > 0) backdrop.string_bunting(params.clutter, target->colours(), mix_bits(key + 10));
    if (params.thicket > 0)
      backdrop.grow_thicket(params.thicket, poses[0].at, 1.1 * std::max(poses[0].size_px, 20 * unit_px),
                            mix_bits(key + 11));
  }

  // From a place in the picture to one in the backdrop, which has margins.
  [[nodiscard]] Affine to_backdrop(double time_s) const {
    const double margin = backdrop.margin();
    return after({1, 0, margin, 0, 1, margin}, camera.to_rest(time_s));
  }

  // The share of a pixel that something hides which is nearer than the target.
  [[nodiscard]] float hidden_share(int frame, const Affine& to_world, int r, int c) const {
    float open =
        1 - (camera.is_moving() ? sampled(backdrop.front_cover(), mapped(to_world, {c + 0.5, r + 0.5}))
                                : backdrop.front_cover()(r, c));
    for (const CloudBank& bank : banks) open *= 1 - bank.cover(frame, c + 0.5, r + 0.5);
    return 1 - open;
  }

  // Calls `use(row, col, share, hidden)` for the pixels of the picture that the target reaches into.
  template <class Use>
  void for_each_pixel(int frame, Use use) const {
    const Reach reach = reach_of(outlines[frame], params.height, params.width);
    if (reach.is_empty()) return;
    const Affine to_world = to_backdrop(pose_time(static_cast<std::size_t>(frame)));
    CoverageTile tile(reach.rows, reach.cols);
    tile.place(reach.top, reach.left, reach.rows, reach.cols);
    tile.add(outlines[frame]);
    const ImageView<const float> cover = tile.finish();
    for (int r = 0; r < reach.rows; ++r)
      for (int c = 0; c < reach.cols; ++c)
        if (cover(r, c) > 0)
          use(reach.top + r, reach.left + c, cover(r, c),
              hidden_share(frame, to_world, reach.top + r, reach.left + c));
  }

  [[nodiscard]] Seen look_at(int frame) const {
    Seen result{std::abs(signed_area(outlines[frame])), 0, 0};
    for_each_pixel(frame, [&](int, int, float share, float hidden) {
      result.inside += share;
      result.shown += share * (1 - hidden);
    });
    result.shown *= poses[frame].shine;
    return result;
  }

  [[nodiscard]] TruthRow true_row(int frame) const {
    TruthRow row{frame, {boxes[frame], 0}, true, 1, {}};
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
  [[nodiscard]] PositionMm position(int frame) const {
    const Pose& pose = poses[frame];
    const double z = focal_px(params.height) * kBalloonDiameterMm / pose.size_px;
    return {(pose.at.x - params.width / 2.0) * z / focal_px(params.height),
            (pose.at.y - params.height / 2.0) * z / focal_px(params.height), z};
  }

  // Frames on which `holds`, short gaps closed.
  template <class Holds>
  [[nodiscard]] std::vector<TagSpan> spans(const char* tag, Holds holds) const {
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

  [[nodiscard]] std::vector<TagSpan> all_spans() const {
    std::vector<TagSpan> all = spans("occlusion", [&](int frame) {
      return seen[frame].inside > 0 && poses[frame].shine > 0 &&
             seen[frame].shown < (1 - kHiddenShare) * poses[frame].shine * seen[frame].inside;
    });
    const auto outside = spans(
        "out-of-view", [&](int frame) { return seen[frame].inside < (1 - kHiddenShare) * seen[frame].area; });
    all.insert(all.end(), outside.begin(), outside.end());
    return all;
  }

  [[nodiscard]] std::vector<std::string> all_tags() const {
    std::vector<std::string> tags = spec.tags;
    const auto add = [&](const std::string& tag) {
      if (std::ranges::find(tags, tag) == tags.end()) tags.push_back(tag);
    };
    for (const std::string& tag : knob_tags(params)) add(tag);
    if (!banks.empty()) add("occlusion");
    return tags;
  }

  // The pose at a moment between frames.
  [[nodiscard]] Pose pose_at(const std::vector<Pose>& way, double frame) const {
    const double kept = std::clamp(frame, 0.0, static_cast<double>(way.size() - 1));
    const auto before = std::min(static_cast<std::size_t>(kept), way.size() - 1);
    const auto next = std::min(before + 1, way.size() - 1);
    return between(way[before], way[next], kept - static_cast<double>(before));
  }

  // How often the shutter's time is sampled: by how far anything goes meanwhile.
  [[nodiscard]] int exposures(int frame) const {
    const double open = lens.shutter();
    double farthest = 0;
    const auto look = [&](const std::vector<Pose>& way) {
      const Pose a = pose_at(way, frame - open / 2);
      const Pose b = pose_at(way, frame + open / 2);
      const Placing from(a);
      const Placing to(b);
      for (const Point& p : {Point{0, 0}, {0.4, 0}, {0, 0.6}})
        farthest = std::max(farthest, std::hypot(to(p).x - from(p).x, to(p).y - from(p).y));
    };
    look(poses);
    for (const auto& way : others) look(way);
    return std::clamp(static_cast<int>(std::ceil(farthest / kExposurePx)), 1, kMostExposures);
  }

  // The moment, in frames, of one of several exposures of a frame.
  [[nodiscard]] double moment(int frame, int exposure, int count) const {
    return frame + lens.shutter() * ((exposure + 0.5) / count - 0.5);
  }

  // What is behind the target, as the camera shows it; clouds and waves stand still while the shutter is open.
  void draw_behind(int frame, int count, ImageView<float> rgb) const {
    const double time_s = pose_time(static_cast<std::size_t>(frame));
    if (!camera.is_moving()) {
      backdrop.draw_behind(time_s, rgb);
      return;
    }
    Image<float> world(backdrop.rows(), backdrop.cols(), 3);
    Image<float> one(rgb.rows, rgb.cols, 3);
    backdrop.draw_behind(time_s, world.view());
    for (int i = 0; i < count; ++i) {
      warp_rgb_into(std::as_const(world).view(), to_backdrop(moment(frame, i, count) / params.rate_hz),
                    one.view());
      add_share(one.elements().data(), 1.0f / static_cast<float>(count), rgb.data,
                static_cast<int>(rgb.size()));
    }
  }

  void draw_things(double frame, ImageView<float> rgb, CoverageTile& tile) const {
    for (const auto& way : others) other->draw(pose_at(way, frame), rgb, tile);
    target->draw(pose_at(poses, frame), rgb, tile);
  }

  void draw_front(double time_s, ImageView<float> rgb) const {
    if (!camera.is_moving()) {
      for (int r = backdrop.front_top(); r < rgb.rows; ++r)
        cover_row(backdrop.front().row(r), backdrop.front_cover().row(r), rgb.row(r), rgb.cols);
      return;
    }
    const Affine to_world = to_backdrop(time_s);
    for (int r = 0; r < rgb.rows; ++r)
      for (int c = 0; c < rgb.cols; ++c) {
        const Point at = mapped(to_world, {c + 0.5, r + 0.5});
        if (at.y + 1 < backdrop.front_top()) continue;
        const float share = sampled(backdrop.front_cover(), at);
        if (share <= 0) continue;
        const auto world_r = std::clamp(static_cast<int>(at.y), 0, backdrop.rows() - 1);
        const auto world_c = std::clamp(static_cast<int>(at.x), 0, backdrop.cols() - 1);
        const float* tint = backdrop.front().row(world_r) + 3 * world_c;
        lay(rgb.row(r) + 3 * c, share, {tint[0], tint[1], tint[2]});
      }
  }

  // The light that falls on the sensor while the shutter is open for a frame.
  [[nodiscard]] Image<float> gather(int frame) const {
    const double time_s = pose_time(static_cast<std::size_t>(frame));
    Image<float> rgb(params.height, params.width, 3);
    CoverageTile tile(rgb.rows(), rgb.cols());
    const int count = exposures(frame);
    draw_behind(frame, count, rgb.view());
    lens.dull(0.75f, rgb.view());
    if (count == 1) {
      draw_things(frame, rgb.view(), tile);
    } else {
      Image<float> sum(rgb.rows(), rgb.cols(), 3);
      for (int i = 0; i < count; ++i) {
        Image<float> one = copy_of(rgb.view());
        draw_things(moment(frame, i, count), one.view(), tile);
        add_share(one.elements().data(), 1.0f / static_cast<float>(count), sum.elements().data(),
                  static_cast<int>(sum.elements().size()));
      }
      rgb = std::move(sum);
    }
    lens.dull(0.35f, rgb.view());
    for (const CloudBank& bank : banks) bank.draw(frame, rgb.view());
    draw_front(time_s, rgb.view());
    return rgb;
  }
};

Scene::Scene(const SceneSpec& spec, const ParamSet& set, std::uint64_t random)
    : parts_(std::make_unique<const Parts>(spec, set, random)) {}
Scene::Scene(Scene&&) noexcept = default;
Scene::~Scene() = default;

const SceneParams& Scene::params() const noexcept { return parts_->params; }

const Truth& Scene::truth() const noexcept { return parts_->truth; }

const Polygon& Scene::outline(int frame) const noexcept { return parts_->outlines[frame]; }

Image<Byte> Scene::render(int frame) const {
  const Lens& lens = parts_->lens;
  const double time_s = parts_->pose_time(static_cast<std::size_t>(frame));
  Image<float> rgb = parts_->gather(frame);
  lens.rain(frame, rgb.view());
  lens.focus(time_s, rgb.view());
  lens.light(time_s, rgb.view());
  return lens.compress(lens.expose(frame, std::as_const(rgb).view()));
}

Image<Byte> Scene::mask(int frame) const {
  Image<Byte> mask(parts_->params.height, parts_->params.width);
  if (!parts_->truth.rows[frame].present) return mask;
  parts_->for_each_pixel(frame, [&](int r, int c, float share, float hidden) {
    mask(r, c) = share * (1 - hidden) >= 0.5f ? 255 : 0;
  });
  return mask;
}

Sequence Scene::describe() const {
  Sequence sequence;
  sequence.name = parts_->spec.name;
  sequence.title = parts_->spec.title;
  sequence.frames = "frames/%06d.png";
  sequence.masks = "masks/%06d.png";
  sequence.truth_file = "truth.csv";
  sequence.rate_hz = parts_->params.rate_hz;
  sequence.tags = parts_->all_tags();
  sequence.spans = parts_->all_spans();
  sequence.target = TargetFacts{target_label(parts_->spec.target), {}};
  if (parts_->spec.target == TargetKind::balloon) {
    sequence.target->diameter_mm = kBalloonDiameterMm;
    sequence.camera = CameraFacts{focal_px(parts_->params.height),
                                  {parts_->params.width / 2.0, parts_->params.height / 2.0}};
  }
  sequence.truth = parts_->truth;
  return sequence;
}

void render_sequence(const Scene& scene, const std::filesystem::path& folder, int jobs,
                     const Progress& progress) {
  NewFolder made(folder);
  const Sequence sequence = scene.describe();
  make_folder(made.path() / "frames");
  make_folder(made.path() / "masks");
  const int frames = scene.params().frames;
  std::mutex mutex;
  int done = 0;
  for_each_index(frames, jobs, [&](int frame) {
    write_png(made.path() / numbered_name(sequence.frames, frame), scene.render(frame).view());
    write_png(made.path() / numbered_name(sequence.masks, frame), scene.mask(frame).view());
    const std::scoped_lock lock(mutex);
    if (progress) progress(++done, frames);
  });
  write_sequence(sequence, made.path());
  made.finish();
}

}  // namespace mnemon
