// SPDX-License-Identifier: MIT
// A tracker's step beside its bound: the transforms, windows, features and products that it cannot do without, at its
// own sizes, each run alone.
#include <cmath>
#include <cstring>
#include <string>
#include <utility>
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/image/arithmetic.hpp>
#include <mnemon/scene/scene.hpp>
#include <mnemon/signal/real_transform.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/corr/grey_patch.hpp>
#include <mnemon/track/corr/kernel.hpp>
#include <mnemon/track/corr/plain.hpp>
#include <mnemon/track/corr/reliable.hpp>
#include <mnemon/track/corr/scaled.hpp>
#include <mnemon/track/corr/spectra.hpp>
#include <mnemon/track/shift/back_projection.hpp>

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

// The parts of a step that looks through a window of cells, each alone, at a tracker's own sizes.
class CellParts {
 public:
  explicit CellParts(const PatchWindow& window)
      : features_(window.rows(), window.cols(), window.width_px(), window.height_px()),
        stacks_(window.rows(), window.cols(), CellFeatures::kChannels),
        planes_(window.rows(), window.cols(), 2),
        stack_(stacks_.make_stack()),
        spectrum_(stacks_.make_spectrum()),
        other_(stacks_.make_spectrum()),
        plane_(planes_.make_stack()),
        plane_spectrum_(planes_.make_spectrum()),
        window_(window) {}

  void look(const Frame& frame, Point middle) { features_.take(frame.rgb, window_.around(middle)); }
  /// Cells about the middle are all that `look_at_target` works out, where only they are learnt.
  void keep_to_middle(int rows, int cols) { features_.keep_to_middle(rows, cols); }
  void look_at_target(const Frame& frame, Point middle) {
    features_.take_target(frame.rgb, window_.around(middle));
  }
  void transform_stacks(int count) {
    for (int i = 0; i < count; ++i) stacks_.forward_into(stack_.view(), spectrum_.view());
  }
  void transform_planes(int count) {
    for (int i = 0; i < count; ++i) planes_.forward_into(plane_.view(), plane_spectrum_.view());
  }
  /// Products of all channels at all frequencies: of two spectra into one channel, or of one into another.
  void multiply(int sums, int whole) {
    for (int i = 0; i < sums; ++i) correlate_into(spectrum_, other_, plane_spectrum_);
    for (int i = 0; i < whole; ++i) blend_towards(floats(std::as_const(spectrum_)), 0.1f, floats(other_));
  }

 private:
  CellFeatures features_;
  PairTransform stacks_;
  PairTransform planes_;
  Image<float> stack_;
  Image<Complex> spectrum_;
  Image<Complex> other_;
  Image<float> plane_;
  Image<Complex> plane_spectrum_;
  PatchWindow window_;
};

// Times a tracker's steps against `bound(frame, middle)`, and counts what they allocate.
template <class Bound>
void measure_step(benchmark::State& state, const char* name, const ParamSet& params, Bound bound) {
  Footage footage;
  const auto tracker = Catalogue::standard().make(name, params);
  (void)tracker->seed(footage.first(), footage.box());
  long steps = 0;
  long allocations = 0;
  bool held = true;
  Frame frame = footage.next();
  Point middle = centre(footage.box());
  const auto step = [&] {
    const long before = test::allocation_count();
    const Estimate estimate = tracker->follow(frame);
    allocations += test::allocation_count() - before;
    held = estimate.present && held;
    middle = centre(estimate.box.box);
    ++steps;
  };
  measure_ratio(state, step, [&] {
    bound(frame, middle);
    frame = footage.next();
  });
  state.counters["allocations"] = static_cast<double>(allocations) / static_cast<double>(steps);
  if (!held) state.SkipWithError("the target was lost");
}

void corr_plain_step(benchmark::State& state) {
  const Box box = Footage().box();
  const int samples = static_cast<int>(state.range(0));
  const PatchWindow window(box.w, box.h,
                           {CorrPlainParams{}.padding, CorrPlainParams{}.reach_px, samples, 1, true});
  const RealTransform transform(window.rows(), window.cols());
  Image<float> patch = transform.make_picture();
  Image<Complex> spectrum = transform.make_spectrum();
  GreyPatch features(window.rows(), window.cols(), window.width_px(), window.height_px());
  measure_step(state, "corr-plain", {{"window_samples", samples}}, [&](const Frame& frame, Point middle) {
    for (int i = 0; i < 2; ++i) {
      features.take(frame.rgb, window.around(middle));
      transform.forward_into(patch.view(), spectrum.view());
    }
    transform.inverse_into(spectrum.view(), patch.view());
  });
  state.SetLabel(std::to_string(window.rows()) + " x " + std::to_string(window.cols()));
}
BENCHMARK(corr_plain_step)->Arg(32)->Arg(64)->Arg(96)->UseManualTime()->Unit(benchmark::kMicrosecond);

// What is learnt by filters that fade the surroundings out: 1.5 times the target.
void keep_to_target(CellParts& parts, const PatchWindow& window) {
  const Point share = window.target_share();
  parts.keep_to_middle(2 * static_cast<int>(std::ceil(0.75 * share.y * window.rows())),
                       2 * static_cast<int>(std::ceil(0.75 * share.x * window.cols())));
}

// A window and the target in it, two transforms of a stack, seven of a plane: kernels of detection and learning with their correlations,
// and the response.
void corr_kernel_step(benchmark::State& state) {
  const Box box = Footage().box();
  const PatchWindow window = cell_window_of(CorrKernelParams{}, box);
  CellParts parts(window);
  keep_to_target(parts, window);
  measure_step(state, "corr-kernel", {}, [&](const Frame& frame, Point middle) {
    parts.look(frame, middle);
    parts.look_at_target(frame, middle);
    parts.transform_stacks(2);
    parts.transform_planes(5);
    parts.multiply(2, 1);
  });
}
BENCHMARK(corr_kernel_step)->UseManualTime()->Unit(benchmark::kMicrosecond);

// The same without the kernels, and the features of 17 sizes where they are due.
void corr_scaled_step(benchmark::State& state) {
  const Box box = Footage().box();
  const PatchWindow window = cell_window_of(CorrScaledParams{}, box);
  CellParts parts(window);
  keep_to_target(parts, window);
  PoseSearch pose(box.w, box.h, {2, 0}, 640, 360);
  pose.learn(Footage().first().rgb, {centre(box)}, 1);
  int step = 0;
  measure_step(state, "corr-scaled", {}, [&](const Frame& frame, Point middle) {
    parts.look(frame, middle);
    parts.look_at_target(frame, middle);
    parts.transform_stacks(2);
    parts.transform_planes(1);
    parts.multiply(1, 2);
    if (step++ % CorrScaledParams{}.pose_wait != 0) return;
    (void)pose.find(frame.rgb, {middle}, {});
    pose.learn(frame.rgb, {middle}, 0.025);
  });
}
BENCHMARK(corr_scaled_step)->UseManualTime()->Unit(benchmark::kMicrosecond);

// The features of 17 sizes and 17 turns where they are due. Two transforms to respond by channel, two at the learning's
// ends, and two for the start and each alternation.
void corr_reliable_step(benchmark::State& state) {
  const Box box = Footage().box();
  CellParts parts(cell_window_of(CorrReliableParams{}, box));
  PoseSearch pose(box.w, box.h, {2, CorrReliableParams{}.turn_deg}, 640, 360);
  const int rounds = 1 + CorrReliableParams{}.iterations;
  int step = 0;
  pose.learn(Footage().first().rgb, {centre(box)}, 1);
  measure_step(state, "corr-reliable", {}, [&](const Frame& frame, Point middle) {
    for (int i = 0; i < 2; ++i) parts.look(frame, middle);
    parts.transform_stacks(4 + 2 * rounds);
    parts.multiply(1, 4 * rounds + 4);
    if (step++ % CorrReliableParams{}.pose_wait != 0) return;
    (void)pose.find(frame.rgb, {middle}, {});
    pose.learn(frame.rgb, {middle}, 0.025);
  });
}
BENCHMARK(corr_reliable_step)->UseManualTime()->Unit(benchmark::kMicrosecond);

// The window's colours and weights once, and the sums of ten shifts.
void shift_step(benchmark::State& state, const char* name, int sums) {
  const Box box = Footage().box();
  const std::vector<float> table(kColours, 0.5f);
  BackProjection back;
  measure_step(state, name, {}, [&](const Frame& frame, Point middle) {
    const Ellipse ellipse{middle, box.w / 2, box.h / 2, 0};
    back.look(frame.rgb, box_around(middle, 2.2 * box.w + 24, 2.2 * box.h + 24), table.data());
    for (int i = 0; i < sums; ++i) benchmark::DoNotOptimize(back.moments_in(ellipse));
    int on = 0;
    back.for_each_colour(
        ellipse, [&](int, int, ColourIndex colour, double squared) { on += squared < 1 ? colour : 0; });
    benchmark::DoNotOptimize(on);
  });
}
BENCHMARK_CAPTURE(shift_step, fixed, "shift-fixed", 10)->UseManualTime()->Unit(benchmark::kMicrosecond);
BENCHMARK_CAPTURE(shift_step, adaptive, "shift-adaptive", 25)->UseManualTime()->Unit(benchmark::kMicrosecond);

// The histograms of 200 x 200 samples out of 275 x 275 pixels, against a copy of as many bytes as the crop reads and
// the cells hold, a hundred times over: about what speed allows for.
void gradient_histogram(benchmark::State& state) {
  Footage footage;
  GreyWindow sampler(200, 200, 276, 276);
  GradientHistogram gradients(50, 50);
  Image<float> grey(200, 200);
  Image<float> cells(50, 50, 32);
  const Frame frame = footage.first();
  std::vector<char> from(1 << 20), to(1 << 20);
  const auto work = [&] {
    sampler.sample_into(frame.rgb, {100.3, 40.7, 275, 275}, grey.view());
    gradients.describe_into(grey.view(), cells.view());
  };
  const auto copy = [&] {
    for (int i = 0; i < 4; ++i) {
      std::memcpy(to.data(), from.data(), from.size());
      benchmark::DoNotOptimize(to.data());
      benchmark::ClobberMemory();
    }
  };
  measure_ratio(state, work, copy);
  state.SetLabel("against copying 4 MiB");
}
BENCHMARK(gradient_histogram)->UseManualTime()->Unit(benchmark::kMicrosecond);

}  // namespace
}  // namespace mnemon::bench
