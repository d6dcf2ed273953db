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
#include <mnemon/scene/cloud_bank.hpp>
#include <mnemon/scene/coverage.hpp>
#include <mnemon/scene/kite.hpp>

namespace mnemon {
namespace {

inline std::uint32_t mix_word(std::uint32_t v) noexcept {
  v = (v ^ (v >> 16)) * 0x7feb352dU;
  v = (v ^ (v >> 15)) * 0x846ca68bU;
  return v ^ (v >> 16);
}

// Adds noise and rounds to bytes. The sum of a word's four bytes is near to normal: mean 510, deviation
// 147.8.
MNEMON_CLONES void expose(const float* __restrict levels, std::uint32_t key, float noise,
                          Byte* __restrict bytes, int count) noexcept {
  const float scale = noise / 147.8f;
  for (int i = 0; i < count; ++i) {
    const std::uint32_t word = mix_word(static_cast<std::uint32_t>(i) * 0x9e3779b1U + key);
    const std::uint32_t sum = (word & 255U) + ((word >> 8) & 255U) + ((word >> 16) & 255U) + (word >> 24);
    const float level =
        levels[i] + scale * (static_cast<float>(static_cast<std::int32_t>(sum)) - 510.0f) + 0.5f;
    const float kept = level < 0.0f ? 0.0f : level > 255.0f ? 255.0f : level;
    bytes[i] = static_cast<Byte>(static_cast<std::int32_t>(kept));
  }
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

}  // namespace

struct Scene::Parts {
  SceneSpec spec;
  SceneParams params;
  std::uint64_t key;
  double unit_px;
  std::vector<KitePose> poses;
  std::vector<Polygon> outlines;
  std::vector<Box> boxes;
  Backdrop backdrop;
  Kite kite;
  std::optional<CloudBank> bank;
  Truth truth;

  Parts(const SceneSpec& scene_spec, const ParamSet& set, std::uint64_t random)
      : spec(scene_spec),
        params(params_of(scene_spec, set)),
        key(key_of(scene_spec.name, random)),
        unit_px(params.height / 360.0),
        poses(fly(params, spec.keys, mix_bits(key + 1))),
        backdrop(params.height, params.width, mix_bits(key + 2)),
        kite(mix_bits(key + 3)) {
    for (const KitePose& pose : poses) {
      outlines.push_back(sail_outline(pose));
      boxes.push_back(bounds(outlines.back()));
    }
    if (params.hidden_frames > 0) {
      const int from =
          static_cast<int>(std::lround(params.hidden_at * (params.frames - 1) - params.hidden_frames / 2.0));
      bank.emplace(boxes, from, from + params.hidden_frames - 1, unit_px, mix_bits(key + 4));
    }
    for (int frame = 0; frame < params.frames; ++frame) truth.rows.push_back(true_row(frame));
  }

  // Calls `use(row, col, share)` for the pixels of the picture that show some of the sail.
  template <class Use>
  void for_each_seen(int frame, Use use) const {
    const Box& box = boxes[frame];
    const int top = std::max(0, static_cast<int>(std::floor(box.y)));
    const int left = std::max(0, static_cast<int>(std::floor(box.x)));
    const int rows = std::min(params.height, static_cast<int>(std::ceil(box.y + box.h))) - top;
    const int cols = std::min(params.width, static_cast<int>(std::ceil(box.x + box.w))) - left;
    if (rows <= 0 || cols <= 0) return;
    CoverageTile tile(rows, cols);
    tile.place(top, left, rows, cols);
    tile.add(outlines[frame]);
    const ImageView<const float> cover = tile.finish();
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c) {
        float share = cover(r, c) * (1 - backdrop.land_cover()(top + r, left + c));
        if (bank) share *= 1 - bank->cover(frame, left + c + 0.5, top + r + 0.5);
        if (share > 0) use(top + r, left + c, share);
      }
  }

  [[nodiscard]] TruthRow true_row(int frame) const {
    double seen = 0;
    for_each_seen(frame, [&](int, int, float share) { seen += share; });
    TruthRow row{frame, {boxes[frame], 0}, true, 1};
    row.visible = std::min(1.0, seen / std::abs(signed_area(outlines[frame])));
    if (row.visible > 1 - 1e-6) row.visible = 1;  // what float sums leave of a sail in full view
    row.present = row.visible > 0;
    if (!row.present) row.box = {};
    return row;
  }

  [[nodiscard]] std::vector<TagSpan> hidden_spans() const {
    if (!bank) return {};
    const auto hidden = [](const TruthRow& row) { return row.visible < 1; };
    const auto first = std::ranges::find_if(truth.rows, hidden);
    const auto last = std::find_if(truth.rows.rbegin(), truth.rows.rend(), hidden);
    return {{"occlusion", first->frame, last->frame}};
  }
};

Scene::Scene(const SceneSpec& spec, const ParamSet& set, std::uint64_t random)
    : parts_(std::make_unique<const Parts>(spec, set, random)) {}
Scene::Scene(Scene&&) noexcept = default;
Scene::~Scene() = default;

const SceneParams& Scene::params() const noexcept { return parts_->params; }

const Truth& Scene::truth() const noexcept { return parts_->truth; }

Image<Byte> Scene::render(int frame) const {
  const Parts& parts = *parts_;
  Image<float> rgb(parts.params.height, parts.params.width, 3);
  CoverageTile tile(rgb.rows(), rgb.cols());
  parts.backdrop.draw_behind(frame / parts.params.rate_hz, rgb.view());
  parts.kite.draw(parts.poses[frame], rgb.view(), tile);
  if (parts.bank) parts.bank->draw(frame, rgb.view());
  parts.backdrop.draw_land(rgb.view());
  Image<Byte> bytes(rgb.rows(), rgb.cols(), 3);
  const auto key = static_cast<std::uint32_t>(mix_bits(parts.key + 1000 + frame));
  expose(rgb.elements().data(), key, static_cast<float>(parts.params.noise), bytes.elements().data(),
         static_cast<int>(rgb.elements().size()));
  return bytes;
}

Image<Byte> Scene::mask(int frame) const {
  Image<Byte> mask(parts_->params.height, parts_->params.width);
  parts_->for_each_seen(frame, [&](int r, int c, float share) { mask(r, c) = share >= 0.5f ? 255 : 0; });
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
  sequence.tags = parts_->spec.tags;
  sequence.spans = parts_->hidden_spans();
  if (parts_->bank && std::ranges::find(sequence.tags, "occlusion") == sequence.tags.end())
    sequence.tags.emplace_back("occlusion");
  sequence.target = TargetFacts{"diamond kite", {}};
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
