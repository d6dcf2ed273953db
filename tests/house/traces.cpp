// SPDX-License-Identifier: MIT
// Prints what every tracker answers on every demo scene, to the last bit. Built twice, with and without clones for
// newer processors: both must print the same.
#include <bit>
#include <cstdint>
#include <cstdio>
#include <vector>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/scene.hpp>
#include <mnemon/track/catalogue.hpp>

namespace {

using namespace mnemon;

constexpr int kFrames = 40;

std::uint64_t bits_of(const Estimate& estimate, std::uint64_t state) {
  const OrientedBox& box = estimate.box;
  for (const double v : {box.box.x, box.box.y, box.box.w, box.box.h, box.angle_deg, estimate.confidence,
                         estimate.present ? 1.0 : 0.0})
    state = mix_bits(state ^ std::bit_cast<std::uint64_t>(v));
  return state;
}

void print_traces(const SceneSpec& spec) {
  const Scene scene(spec, {{"width", 320}, {"height", 180}}, 1);
  std::vector<Image<Byte>> pictures;
  for (int i = 0; i < kFrames; ++i) pictures.push_back(scene.render(i));
  const Catalogue catalogue = Catalogue::standard();
  for (const TrackerEntry& entry : catalogue.entries()) {
    const auto tracker = entry.make({});
    std::uint64_t state = 1;
    for (int i = 0; i < kFrames; ++i) {
      const Frame frame{pictures[i].view(), i, i / 30.0};
      state = bits_of(i == 0 ? tracker->seed(frame, scene.truth().rows[0].box.box) : tracker->follow(frame),
                      state);
    }
    std::printf("%s %s %016lx\n", spec.name.c_str(), entry.name.c_str(), static_cast<unsigned long>(state));
  }
}

}  // namespace

int main() {
  for (const SceneSpec& spec : demo_scenes()) print_traces(spec);
}
