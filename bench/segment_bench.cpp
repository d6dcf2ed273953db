// SPDX-License-Identifier: MIT
// Trackers by masks and blobs beside what they cannot do without: the flow of their cut, and passes over the pixels of
// their windows; and the preparation of whole frames beside reading them.
#include <algorithm>
#include <cmath>
#include <cstring>
#include <utility>
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/track/blob/preparation.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/mask/mask_target.hpp>

#include "cut_problem.hpp"
#include "ratio.hpp"
#include "support/allocations.hpp"

namespace mnemon::bench {
namespace {

// One pass over a window's pixels: what they weigh by a table.
void weigh_pixels(ImageView<const Byte> rgb, const std::vector<float>& table, std::vector<float>& out) {
  std::size_t i = 0;
  for (int r = 0; r < rgb.rows; ++r)
    for (int c = 0; c < rgb.cols; ++c) out[i++] = table[colour_index(&rgb(r, c))];
  benchmark::DoNotOptimize(out.data());
}

class Flight {
 public:
  static constexpr int kFrames = 60;

  Flight() : scene_(demo_scene("steady"), {{"frames", kFrames}}, 1) {
    for (int i = 0; i < kFrames; ++i) pictures_.push_back(scene_.render(i));
  }
  [[nodiscard]] Frame frame(int i) const { return {pictures_[i].view(), i, i / 30.0}; }
  [[nodiscard]] Frame next() {
    at_ = (at_ + 1) % (2 * kFrames - 2);
    return frame(at_ < kFrames ? at_ : 2 * kFrames - 2 - at_);
  }
  [[nodiscard]] const Box& box() const { return scene_.truth().rows[0].box.box; }

 private:
  Scene scene_;
  std::vector<Image<Byte>> pictures_;
  int at_ = 0;
};

template <class Bound>
void measure_step(benchmark::State& state, const char* name, Bound bound) {
  Flight flight;
  const auto tracker = Catalogue::standard().make(name, {});
  (void)tracker->seed(flight.frame(0), flight.box());
  long steps = 0;
  long allocations = 0;
  bool held = true;
  Frame frame = flight.next();
  measure_ratio(
      state,
      [&] {
        const long before = test::allocation_count();
        held = tracker->follow(frame).present && held;
        allocations += test::allocation_count() - before;
        ++steps;
      },
      [&] {
        bound(frame);
        frame = flight.next();
      });
  state.counters["allocations"] = static_cast<double>(allocations) / static_cast<double>(steps);
  if (!held) state.SkipWithError("the target was lost");
}

// The problems that a mask of each frame of a flight is cut from.
class OwnCuts {
 public:
  explicit OwnCuts(Flight& flight) {
    MaskTarget target;
    MaskSighting seen = target.start(flight.frame(0), flight.box(), flight.box(), {});
    for (int i = 0; i < Flight::kFrames; ++i) {
      seen = target.look(flight.frame(i), seen.pose);
      target.found();
      target.learn(seen);
      const CutProblem problem = target.problem();
      problems_.push_back(
          {copy_of(problem.gain), copy_of(problem.right), copy_of(problem.down), copy_of(problem.fixed)});
      most_rows_ = std::max(most_rows_, problem.gain.rows);
      most_cols_ = std::max(most_cols_, problem.gain.cols);
    }
    cut_ = MinimumCut(most_rows_, most_cols_);
    labels_ = Image<Byte>(most_rows_, most_cols_);
  }
  void solve(int frame) noexcept {
    const Problem& problem = problems_[frame];
    const int rows = problem.gain.rows();
    const int cols = problem.gain.cols();
    benchmark::DoNotOptimize(
        cut_.cut({problem.gain.view(), problem.right.view(), problem.down.view(), problem.fixed.view()},
                 {labels_.view().data, rows, cols, 1, cols}));
  }

 private:
  struct Problem {
    Image<std::int32_t> gain, right, down;
    Image<Byte> fixed;
  };
  std::vector<Problem> problems_;
  int most_rows_ = 0;
  int most_cols_ = 0;
  MinimumCut cut_;
  Image<Byte> labels_;
};

// The bound is the flow of the cuts of its own frames.
void mask_step(benchmark::State& state, const char* name, int cuts) {
  Flight flight;
  OwnCuts own(flight);
  measure_step(state, name, [&](const Frame& frame) {
    for (int i = 0; i < cuts; ++i) own.solve(frame.index);
  });
}
BENCHMARK_CAPTURE(mask_step, cut, "mask-plain", 1)->UseManualTime()->Unit(benchmark::kMicrosecond);
BENCHMARK_CAPTURE(mask_step, memory, "mask-memory", 3)->UseManualTime()->Unit(benchmark::kMicrosecond);

// The chain of `blob-colour`: sample, weigh, smooth, sum, find, match, clean, find pieces, learn.
void blob_colour_step(benchmark::State& state) {
  const std::vector<float> table(kColours, 0.5f);
  std::vector<float> out(1 << 16);
  measure_step(state, "blob-colour", [&](const Frame& frame) {
    const int side = 160;
    const ImageView<const Byte> window{frame.rgb.data, side, side, 3, frame.rgb.stride};
    for (int step = 0; step < 9; ++step) weigh_pixels(window, table, out);
  });
}
BENCHMARK(blob_colour_step)->UseManualTime()->Unit(benchmark::kMicrosecond);

// Whole frames of 1280 x 720 through the usual chain, beside copying a frame once for each of its three steps.
void blob_motion_preparation(benchmark::State& state) {
  Image<Byte> frame(720, 1280, 3);
  for (std::size_t i = 0; i < frame.elements().size(); ++i)
    frame.elements()[i] = static_cast<Byte>(i * 7919 >> 5);
  std::vector<Byte> copy(frame.elements().size());
  Preparation preparation;
  preparation.start(std::as_const(frame).view(), {100, 100, 50, 50}, {});
  measure_ratio(
      state,
      [&] {
        benchmark::DoNotOptimize(preparation.prepare(std::as_const(frame).view(), {100, 100, 50, 50}));
      },
      [&] {
        for (int step = 0; step < 3; ++step) {
          std::memcpy(copy.data(), frame.elements().data(), copy.size());
          benchmark::ClobberMemory();
        }
      });
  state.counters["frames_per_s"] = 1e6 / state.counters["work_us"];
}
BENCHMARK(blob_motion_preparation)->UseManualTime()->Unit(benchmark::kMicrosecond);

// A grid beside one pass over its memory.
void minimum_cut(benchmark::State& state) {
  const int side = static_cast<int>(state.range(0));
  const bool in_band = state.range(1) != 0;
  const RealCut real(side);
  CutProblem problem = real.problem();
  Image<Byte> whole(side, side);
  MinimumCut cut(side, side);
  cut.cut(problem, whole.view());
  // Eight cells either side of the mask's rim are open.
  Image<Byte> fixed(side, side);
  for (int r = 0; r < side; ++r)
    for (int c = 0; c < side; ++c) {
      bool mixed = false;
      for (int i = -8; i <= 8; i += 4)
        for (int j = -8; j <= 8; j += 4)
          mixed =
              mixed || whole(std::clamp(r + i, 0, side - 1), std::clamp(c + j, 0, side - 1)) != whole(r, c);
      fixed(r, c) = mixed ? CutProblem::kOpen : whole(r, c);
    }
  if (in_band) problem.fixed = fixed.view();
  Image<Byte> labels(side, side);
  std::vector<char> from(static_cast<std::size_t>(side) * side * 32), to(from.size());
  measure_ratio(
      state, [&] { benchmark::DoNotOptimize(cut.cut(problem, labels.view())); },
      [&] {
        std::memcpy(to.data(), from.data(), from.size());
        benchmark::ClobberMemory();
      });
}
BENCHMARK(minimum_cut)
    ->ArgNames({"side", "band"})
    ->ArgsProduct({{100, 200}, {0, 1}})
    ->UseManualTime()
    ->Unit(benchmark::kMicrosecond);

}  // namespace
}  // namespace mnemon::bench
