// SPDX-License-Identifier: MIT
#include <mnemon/score/steadiness.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

namespace mnemon {
namespace {

constexpr int kFewestFrames = 30;

// Where truth and estimate were on a frame on which both are known.
struct Place {
  int frame = 0;
  Point truth;
  Point estimate;
  double size = 1;
};

std::vector<Place> places_of(std::span<const FrameScore> frames, const Truth& truth, const Trace& trace) {
  std::vector<Place> places;
  for (const FrameScore& frame : frames) {
    if (!frame.present || !frame.found) continue;
    const TruthRow* const right = truth.find(frame.frame);
    const TraceRow* const row = trace.find(frame.frame);
    if (right == nullptr || row == nullptr) continue;
    const Box& box = right->box.box;
    places.push_back({frame.frame, centre(box), centre(row->box.box), std::sqrt(box.w * box.h)});
  }
  return places;
}

Point error_of(const Place& place) {
  return {(place.estimate.x - place.truth.x) / place.size, (place.estimate.y - place.truth.y) / place.size};
}

Figure jitter_of(std::span<const Place> places) {
  std::vector<double> trembles;
  for (std::size_t i = 2; i < places.size(); ++i) {
    if (places[i].frame - places[i - 2].frame != 2) continue;
    const Point a = error_of(places[i - 2]);
    const Point b = error_of(places[i - 1]);
    const Point c = error_of(places[i]);
    trembles.push_back(std::hypot(a.x - 2 * b.x + c.x, a.y - 2 * b.y + c.y));
  }
  return median(trembles);
}

// The mean squared distance from the estimate to where the truth was `shift` frames before, target sizes squared.
Figure misfit(std::span<const Place> places, int shift) {
  double sum = 0;
  int count = 0;
  for (std::size_t i = 0, from = 0; i < places.size(); ++i) {
    const int wanted = places[i].frame - shift;
    while (from > 0 && places[from].frame > wanted) --from;
    while (from < places.size() && places[from].frame < wanted) ++from;
    if (from == places.size()) break;
    if (places[from].frame != wanted) continue;
    const double x = (places[i].estimate.x - places[from].truth.x) / places[i].size;
    const double y = (places[i].estimate.y - places[from].truth.y) / places[i].size;
    sum += x * x + y * y;
    ++count;
  }
  return count >= kFewestFrames ? ratio(sum, count) : std::nullopt;
}

bool goes_farther_than_its_size(std::span<const Place> places) {
  double way = 0;
  for (std::size_t i = 1; i < places.size(); ++i)
    way += std::hypot(places[i].truth.x - places[i - 1].truth.x, places[i].truth.y - places[i - 1].truth.y) /
           places[i].size;
  return way > 1;
}

Figure lag_of(std::span<const Place> places) {
  if (!goes_farther_than_its_size(places)) return std::nullopt;
  std::vector<double> misfits;
  for (int shift = -kMostLag; shift <= kMostLag; ++shift) {
    const Figure one = misfit(places, shift);
    if (!one) return std::nullopt;
    misfits.push_back(*one);
  }
  const auto best = static_cast<int>(std::ranges::min_element(misfits) - misfits.begin());
  if (best == 0 || best == 2 * kMostLag) return best - kMostLag;
  const double left = misfits[best - 1];
  const double right = misfits[best + 1];
  const double bend = left - 2 * misfits[best] + right;
  return best - kMostLag + (bend > 0 ? 0.5 * (left - right) / bend : 0.0);
}

}  // namespace

Steadiness steadiness(std::span<const FrameScore> frames, const Truth& truth, const Trace& trace) {
  const std::vector<Place> places = places_of(frames, truth, trace);
  return {jitter_of(places), lag_of(places)};
}

}  // namespace mnemon
