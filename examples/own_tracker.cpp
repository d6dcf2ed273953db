// SPDX-License-Identifier: MIT
// A tracker of one's own, put into the catalogue and benchmarked beside the library's.
//   own_tracker PLAN STUDY-FOLDER
#include <algorithm>
#include <cstdio>
#include <exception>

#include <mnemon/report/table.hpp>
#include <mnemon/study/runner.hpp>

namespace {

using namespace mnemon;

struct ReddestParams {
  int reach_px = 8;

  static void describe(auto& schema) {
    using P = ReddestParams;
    schema.field("reach_px", &P::reach_px, {1, 64}, "px", "How far the box may go in one frame, each way.");
  }
};

/// Moves the box to where its red is strongest: enough for a red kite on a blue sky.
class Reddest final : public Tracker {
 public:
  explicit Reddest(const ReddestParams& params) : params_(params) {}

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) override {
    box_ = box;
    return {{box_, 0}, 1, true};
  }

  Estimate do_follow(const Frame& frame) override {
    Box best = box_;
    long most = red_inside(frame, box_);
    for (int dy = -params_.reach_px; dy <= params_.reach_px; ++dy)
      for (int dx = -params_.reach_px; dx <= params_.reach_px; ++dx) {
        const Box moved{box_.x + dx, box_.y + dy, box_.w, box_.h};
        const long red = red_inside(frame, moved);
        if (red <= most) continue;
        most = red;
        best = moved;
      }
    box_ = best;
    return {{box_, 0}, 0.5, true};
  }

  static long red_inside(const Frame& frame, const Box& box) {
    const int left = std::clamp(static_cast<int>(box.x), 0, frame.rgb.cols);
    const int right = std::clamp(static_cast<int>(box.x + box.w), left, frame.rgb.cols);
    const int top = std::clamp(static_cast<int>(box.y), 0, frame.rgb.rows);
    const int bottom = std::clamp(static_cast<int>(box.y + box.h), top, frame.rgb.rows);
    long sum = 0;
    for (int r = top; r < bottom; ++r)
      for (int c = left; c < right; ++c) sum += frame.rgb(r, c, 0) - frame.rgb(r, c, 2);
    return sum;
  }

  ReddestParams params_;
  Box box_;
};

void benchmark(const char* plan_file, const char* folder) {
  Catalogue catalogue = Catalogue::standard();
  catalogue.add(tracker_entry<Reddest, ReddestParams>("reddest", "own", "Follows red.", ""));
  run_plan(read_plan(plan_file, catalogue), catalogue, folder, {});
  const Study study = read_study(folder);
  std::printf("%s", table_text(summary_table(Results(study), 0)).c_str());
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 3) {
    std::fprintf(stderr, "Usage: own_tracker PLAN STUDY-FOLDER\n");
    return 2;
  }
  try {
    benchmark(argv[1], argv[2]);
    return 0;
  } catch (const std::exception& error) {
    std::fprintf(stderr, "own_tracker: %s\n", error.what());
    return 1;
  }
}
