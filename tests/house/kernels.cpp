// SPDX-License-Identifier: MIT
// Prints what the kernels make of random numbers, to the last bit. Built twice, with and without clones for
// newer processors: both must print the same.
#include <bit>
#include <cstdint>
#include <cstdio>
#include <span>
#include <utility>
#include <vector>

#include <mnemon/base/random.hpp>
#include <mnemon/image/arithmetic.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/scene/scene.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/track/corr/cell_features.hpp>
#include <mnemon/track/corr/colour_response.hpp>
#include <mnemon/track/corr/kernel_filter.hpp>
#include <mnemon/track/corr/linear_filter.hpp>
#include <mnemon/track/corr/masked_filter.hpp>
#include <mnemon/track/corr/pose_search.hpp>
#include <mnemon/track/corr/ridge_filter.hpp>
#include <mnemon/track/corr/target_colours.hpp>
#include <mnemon/track/mask/memory.hpp>
#include <mnemon/track/shift/back_projection.hpp>

namespace {

using namespace mnemon;

void print_bits(const char* name, std::span<const float> values) {
  std::uint64_t state = 1;
  for (const float v : values) state = mix_bits(state ^ std::bit_cast<std::uint32_t>(v));
  std::printf("%s %zu %016lx\n", name, values.size(), static_cast<unsigned long>(state));
}

std::vector<float> random_values(int count) {
  std::vector<float> values(count);
  Random random(static_cast<std::uint64_t>(count));
  for (float& v : values) v = static_cast<float>(random.uniform(0, 250));
  return values;
}

void print_arithmetic(int count) {
  std::vector<float> values = random_values(count);
  const float sums[] = {sum_of(values), sum_of_squares(values), dot(values, random_values(count))};
  print_bits("sums", sums);
  log1p_in_place(values);
  print_bits("logarithm", values);
  normalise_and_taper(values, random_values(count));
  print_bits("taper", values);
}

void print_window(int rows, int cols) {
  Image<Byte> picture(90, 110, 3);
  Random random(7);
  for (Byte& b : picture.elements()) b = static_cast<Byte>(random.bits());
  GreyWindow sampler(rows, cols, 120, 80);
  Image<float> out(rows, cols);
  sampler.sample_into(picture.view(), {-7.3, 11.9, 101.7, 66.2}, out.view());
  print_bits("window", out.elements());
  const ImageView<const float> map = std::as_const(out).view();
  const Cell at = highest_cell(map);
  const float quality[] = {static_cast<float>(at.row), static_cast<float>(at.col),
                           static_cast<float>(peak_to_sidelobe(map, at, 3))};
  print_bits("peak", quality);
}

void print_features() {
  Image<Byte> picture(90, 110, 3);
  Random random(9);
  for (Byte& b : picture.elements()) b = static_cast<Byte>(random.bits());
  CellFeatures features(20, 16, 120, 80);
  print_bits("turned features", features.take(picture.view(), {{20, 10, 60, 50}, 33}).elements());
  print_bits("features", features.take(picture.view(), {-7.3, 11.9, 101.7, 66.2}).elements());
  ColourModel model;
  for (const ColourIndex colour : features.colours().elements()) {
    if (colour % 3 == 0) model.count_target(colour);
    if (colour % 5 != 0) model.count_surroundings(colour);
  }
  model.learn(1);
  print_bits("colours", {model.table(), kColours});
  ColourResponse response(20, 16);
  Image<float> likelihood(20, 16);
  cell_likelihood_into(features.colours(), model, likelihood.view());
  print_bits("by colour", response.find(likelihood.view(), {0.4, 0.3}).elements());
  BackProjection back;
  back.look(picture.view(), {3, 4, 80, 70}, model.table());
  const Moments moments = back.moments_in({{40, 41}, 25, 14, 33});
  const float sums[] = {static_cast<float>(moments.mass), static_cast<float>(moments.middle.x),
                        static_cast<float>(moments.xy)};
  print_bits("moments", sums);
  PoseSearch pose(40, 30, {2, 30}, 110, 90);
  pose.learn(picture.view(), {{50, 44}}, 1);
  const PoseSearch::Change change = pose.find(picture.view(), {{51, 44}, 1.2, 17}, {});
  const float changes[] = {static_cast<float>(change.growth), static_cast<float>(change.turn_deg)};
  print_bits("pose", changes);
}

void print_filter(const char* name, StackFilter& filter, int channels = 8) {
  Image<float> stack(16, 20, channels);
  Random random(11);
  for (int i = 0; i < 3; ++i) {
    for (float& v : stack.elements()) v = static_cast<float>(random.uniform(-1, 1));
    filter.learn(stack.view(), i == 0 ? 1.0f : 0.1f);
    print_bits(name, filter.respond(stack.view()).elements());
  }
}

void print_filters() {
  RidgeFilter ridge(16, 20, 8, 1, 0.01);
  KernelFilter kernel(16, 20, 8, 1, 0.01, Kernel::gaussian, 1);
  MaskedFilter masked(16, 20, 8, {});
  LinearFilter linear(16, 20, 2, 0.01);
  print_filter("linear", linear, 1);
  print_filter("ridge", ridge);
  print_filter("kernel", kernel);
  print_filter("masked", masked);
}

// Where a tracker by masks finds a target, frame by frame.
void print_masks() {
  const Scene scene(demo_scene("cloudbank"), {{"frames", 60}, {"width", 320}, {"height", 180}}, 1);
  MaskMemory tracker(MaskMemoryParams{});
  std::vector<float> places;
  for (int i = 0; i < 34; ++i) {
    const Image<Byte> picture = scene.render(i);
    const Frame frame{picture.view(), i, i / 30.0};
    const Estimate estimate =
        i == 0 ? tracker.seed(frame, scene.truth().rows[0].box.box) : tracker.follow(frame);
    const Box& box = estimate.box.box;
    for (const double value : {box.x, box.y, box.w, box.h, estimate.confidence})
      places.push_back(static_cast<float>(value));
    for (const Stage& stage : tracker.stages())
      for (int r = 0; r < stage.picture.rows; ++r)
        places.insert(places.end(), stage.picture.row(r), stage.picture.row(r) + stage.picture.row_length());
  }
  print_bits("masks", places);
}

void print_frame(const char* scene, int frame) {
  const Image<Byte> picture =
      Scene(demo_scene(scene), {{"frames", 30}, {"hidden_frames", 6}}, 4).render(frame);
  const std::vector<float> levels(picture.elements().begin(), picture.elements().end());
  print_bits(scene, levels);
}

}  // namespace

int main() {
  for (const int count : {1, 15, 16, 17, 33, 3456}) print_arithmetic(count);
  print_window(17, 33);
  print_window(64, 54);
  print_features();
  print_filters();
  print_masks();
  print_frame("climb", 3);
  print_frame("cloudbank", 12);
}
