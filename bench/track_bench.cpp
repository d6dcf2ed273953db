// SPDX-License-Identifier: MIT
// A tracker's step beside its bound: the transforms it cannot do without, at its own sizes, run alone.
#include <string>
#include <utility>
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/scene/scene.hpp>
#include <mnemon/signal/stack_transform.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/corr/patch_window.hpp>

#include "ratio.hpp"
#include "support/allocations.hpp"

namespace mnemon::bench {
namespace {

constexpr int kFrames = 100;

// Frames of an easy flight, forwards and back again without an end.
class Footage {
 public:
  Footage() : scene_(demo_scene("steady"), {{"frames", kFrames}}, 1) {
    for (int i = 0; i < kFrames; ++i) pictures_.push_back(scene_.render(i));
  }
  [[nodiscard]] Frame first() const { return {pictures_[0].view(), 0, 0}; }
  [[nodiscard]] const Box& box() const { return scene_.truth().rows[0].box.box; }
  [[nodiscard]] Frame next() {
    at_ = (at_ + 1) % (2 * kFrames - 2);
    const int i = at_ < kFrames ? at_ : 2 * kFrames - 2 - at_;
    return {std::as_const(pictures_[i]).view(), i, 0};
  }

 private:
  Scene scene_;
  std::vector<Image<Byte>> pictures_;
  int at_ = 0;
};

void corr_plain_step(benchmark::State& state) {
  Footage footage;
  const int samples = static_cast<int>(state.range(0));
  const auto tracker = Catalogue::standard().make("corr-plain", {{"template_px", samples}});
  tracker->seed(footage.first(), footage.box());
  const PatchWindow window(footage.box().w, footage.box().h, 2.0, samples);
  const StackTransform transform(window.rows(), window.cols());
  Image<float> patch = transform.make_stack();
  Image<Complex> spectrum = transform.make_spectrum();
  long steps = 0;
  long allocations = 0;
  bool held = true;
  const auto step = [&] {
    const long before = test::allocation_count();
    held = tracker->follow(footage.next()).present && held;
    allocations += test::allocation_count() - before;
    ++steps;
  };
  const auto three_transforms = [&] {
    transform.forward_into(patch.view(), spectrum.view());
    transform.forward_into(patch.view(), spectrum.view());
    transform.inverse_into(spectrum.view(), patch.view());
  };
  measure_ratio(state, step, three_transforms);
  state.counters["allocations"] = static_cast<double>(allocations) / static_cast<double>(steps);
  if (!held) state.SkipWithError("the target was lost");
  state.SetLabel(std::to_string(window.rows()) + " x " + std::to_string(window.cols()));
}
BENCHMARK(corr_plain_step)->Arg(32)->Arg(64)->Arg(128)->UseManualTime()->Unit(benchmark::kMicrosecond);

}  // namespace
}  // namespace mnemon::bench
