// SPDX-License-Identifier: MIT
#include <mnemon/scene/scene.hpp>

#include <algorithm>
#include <cmath>
#include <mutex>
#include <utility>

#include <mnemon/base/random.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/image/bilinear.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/scene/coverage.hpp>
#include <mnemon/scene/flight.hpp>
#include <mnemon/scene/layout.hpp>
#include <mnemon/scene/lens.hpp>

namespace mnemon {
namespace {

constexpr int kMostExposures = 9;
constexpr int kJpegQuality = 95;
constexpr double kExposurePx = 1.5;  // how far a thing may move between two exposures

}  // namespace

struct Scene::Parts {
  Layout layout;
  Lens lens;

  Parts(const SceneSpec& spec, const ParamSet& set, std::uint64_t random)
      : layout(spec, set, random), lens(layout.params, mix_bits(layout.key + 7)) {}

  // How often the shutter's time is sampled: by how far anything goes meanwhile.
  [[nodiscard]] int exposures(int frame) const {
    const double open = lens.shutter();
    double farthest = 0;
    const auto look = [&](const std::vector<Pose>& way) {
      const Pose a = Layout::pose_at(way, frame - open / 2);
      const Pose b = Layout::pose_at(way, frame + open / 2);
      const Placing from(a);
      const Placing to(b);
      for (const Point& p : {Point{0, 0}, {0.4, 0}, {0, 0.6}})
        farthest = std::max(farthest, std::hypot(to(p).x - from(p).x, to(p).y - from(p).y));
    };
    look(layout.poses);
    for (const auto& way : layout.others) look(way);
    return std::clamp(static_cast<int>(std::ceil(farthest / kExposurePx)), 1, kMostExposures);
  }

  // The moment, in frames, of one of several exposures of a frame.
  [[nodiscard]] double moment(int frame, int exposure, int count) const {
    return frame + lens.shutter() * ((exposure + 0.5) / count - 0.5);
  }

  // What is behind the target, as the camera shows it; clouds and waves stand still while the shutter is open.
  void draw_behind(int frame, int count, ImageView<float> rgb) const {
    const double time_s = layout.time_of(frame);
    if (!layout.camera.is_moving()) {
      layout.backdrop.draw_behind(time_s, rgb);
      return;
    }
    Image<float> world(layout.backdrop.rows(), layout.backdrop.cols(), 3);
    Image<float> one(rgb.rows, rgb.cols, 3);
    layout.backdrop.draw_behind(time_s, world.view());
    for (int i = 0; i < count; ++i) {
      warp_into(std::as_const(world).view(),
                layout.to_backdrop(moment(frame, i, count) / layout.params.rate_hz), one.view());
      add_row(one.elements().data(), 1.0f / static_cast<float>(count), rgb.data,
              static_cast<int>(rgb.size()));
    }
  }

  void draw_things(double frame, ImageView<float> rgb, CoverageTile& tile) const {
    for (const auto& way : layout.others) layout.other->draw(Layout::pose_at(way, frame), rgb, tile);
    layout.target->draw(Layout::pose_at(layout.poses, frame), rgb, tile);
  }

  void draw_front(double time_s, ImageView<float> rgb) const {
    if (!layout.camera.is_moving()) {
      for (int r = layout.backdrop.front_top(); r < rgb.rows; ++r)
        cover_row(layout.backdrop.front().row(r), layout.backdrop.front_cover().row(r), rgb.row(r), rgb.cols);
      return;
    }
    const Affine to_world = layout.to_backdrop(time_s);
    for (int r = 0; r < rgb.rows; ++r)
      for (int c = 0; c < rgb.cols; ++c) {
        const Point at = mapped(to_world, {c + 0.5, r + 0.5});
        if (at.y + 1 < layout.backdrop.front_top()) continue;
        const float share = sampled(layout.backdrop.front_cover(), at.x, at.y);
        if (share <= 0) continue;
        const auto world_r = std::clamp(static_cast<int>(at.y), 0, layout.backdrop.rows() - 1);
        const auto world_c = std::clamp(static_cast<int>(at.x), 0, layout.backdrop.cols() - 1);
        const float* tint = layout.backdrop.front().row(world_r) + 3 * world_c;
        lay(rgb.row(r) + 3 * c, share, {tint[0], tint[1], tint[2]});
      }
  }

  // The light that falls on the sensor while the shutter is open for a frame.
  [[nodiscard]] Image<float> gather(int frame) const {
    const double time_s = layout.time_of(frame);
    Image<float> rgb(layout.params.height, layout.params.width, 3);
    CoverageTile tile(rgb.rows(), rgb.cols());
    const int count = exposures(frame);
    draw_behind(frame, count, rgb.view());
    lens.dull(0.75f, rgb.view());
    if (count == 1) {
      draw_things(frame, rgb.view(), tile);
    } else {
      Image<float> sum(rgb.rows(), rgb.cols(), 3);
      Image<float> one(rgb.rows(), rgb.cols(), 3);
      for (int i = 0; i < count; ++i) {
        std::ranges::copy(rgb.elements(), one.elements().begin());
        draw_things(moment(frame, i, count), one.view(), tile);
        add_row(one.elements().data(), 1.0f / static_cast<float>(count), sum.elements().data(),
                static_cast<int>(sum.elements().size()));
      }
      rgb = std::move(sum);
    }
    lens.dull(0.35f, rgb.view());
    for (const CloudBank& bank : layout.banks) bank.draw(frame, rgb.view());
    draw_front(time_s, rgb.view());
    return rgb;
  }
};

Scene::Scene(const SceneSpec& spec, const ParamSet& set, std::uint64_t random)
    : parts_(std::make_unique<const Parts>(spec, set, random)) {}
Scene::Scene(Scene&&) noexcept = default;
Scene::~Scene() = default;

const SceneParams& Scene::params() const noexcept { return parts_->layout.params; }

const Truth& Scene::truth() const noexcept { return parts_->layout.truth; }

const Polygon& Scene::outline(int frame) const noexcept { return parts_->layout.outlines[frame]; }

Image<Byte> Scene::render(int frame) const {
  const Lens& lens = parts_->lens;
  const double time_s = parts_->layout.time_of(frame);
  Image<float> rgb = parts_->gather(frame);
  lens.rain(frame, rgb.view());
  lens.focus(time_s, rgb.view());
  lens.light(time_s, rgb.view());
  return lens.compress(lens.expose(frame, std::as_const(rgb).view()));
}

Image<Byte> Scene::mask(int frame) const {
  const Layout& layout = parts_->layout;
  Image<Byte> mask(layout.params.height, layout.params.width);
  if (!layout.truth.rows[frame].present) return mask;
  layout.for_each_pixel(frame, [&](int r, int c, float share, float hidden) {
    mask(r, c) = share * (1 - hidden) >= 0.5f ? 255 : 0;
  });
  return mask;
}

Sequence Scene::describe() const {
  const Layout& layout = parts_->layout;
  Sequence sequence;
  sequence.name = layout.spec.name;
  sequence.title = layout.spec.title;
  sequence.frames = "frames/%06d.jpg";
  sequence.masks = "masks/%06d.png";
  sequence.truth_file = "truth.csv";
  if (!layout.others.empty()) sequence.others_file = "others.csv";
  sequence.rate_hz = layout.params.rate_hz;
  sequence.tags = layout.tags();
  sequence.spans = layout.spans();
  sequence.target = TargetFacts{target_label(layout.spec.target), {}};
  if (layout.spec.target == TargetKind::balloon) {
    sequence.target->diameter_mm = kBalloonDiameterMm;
    sequence.camera =
        CameraFacts{focal_px(layout.params.height), {layout.params.width / 2.0, layout.params.height / 2.0}};
  }
  sequence.truth = layout.truth;
  return sequence;
}

void render_sequence(const Scene& scene, const std::filesystem::path& folder, int jobs,
                     const Progress& progress, FrameForm form, bool overwrite) {
  NewFolder made(
      folder, overwrite ? Replace::if_only_of({"frames", "masks", "others.csv", "sequence.toml", "truth.csv"})
                        : Replace::nothing());
  Sequence sequence = scene.describe();
  if (form == FrameForm::png) sequence.frames = "frames/%06d.png";
  make_folder(made.path() / "frames");
  make_folder(made.path() / "masks");
  const int frames = scene.params().frames;
  std::mutex mutex;
  int done = 0;
  for_each_index(frames, jobs, [&](int frame) {
    const std::filesystem::path file = made.path() / numbered_name(sequence.frames, frame);
    if (form == FrameForm::png)
      write_png(file, scene.render(frame).view());
    else
      write_file(file, jpeg_bytes(scene.render(frame).view(), kJpegQuality));
    write_png(made.path() / numbered_name(sequence.masks, frame), scene.mask(frame).view());
    const std::scoped_lock lock(mutex);
    if (progress) progress(++done, frames);
  });
  write_sequence(sequence, made.path());
  made.finish();
}

}  // namespace mnemon
