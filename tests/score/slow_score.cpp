// SPDX-License-Identifier: MIT
#include "score/slow_score.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>
#include <vector>

namespace mnemon::test {
namespace {

struct Seen {
  int frame;
  bool scored, present, found, missing;
  double overlap, error, relative, confidence;
};

bool proper(const OrientedBox& b) {
  for (const double v : {b.box.x, b.box.y, b.box.w, b.box.h, b.angle_deg})
    if (!std::isfinite(v)) return false;
  return b.box.w > 0 && b.box.h > 0;
}

double middle(std::vector<double> v) {
  std::sort(v.begin(), v.end());
  const std::size_t n = v.size();
  return n % 2 == 1 ? v[n / 2] : (v[n / 2 - 1] + v[n / 2]) / 2;
}

template <class T>
double size_of(const T& all) {
  return static_cast<double>(all.size());
}

Figure over(double part, double whole) { return whole == 0 ? Figure() : Figure(part / whole); }

Figure middle_or_null(const std::vector<double>& v) { return v.empty() ? Figure() : Figure(middle(v)); }

// Whether a frame is scored, by looking through all events for each frame anew.
enum class Kind { out, settling, scored };
Kind kind_of(int frame, const Trace& trace) {
  const TraceRow* before = nullptr;
  for (const TraceRow& row : trace.rows) {
    if ((row.event == Event::reseed || row.event == Event::mark) && row.frame == frame) return Kind::out;
    if ((row.event == Event::loss || row.event == Event::reseed) && row.frame < frame) before = &row;
  }
  if (before == nullptr) return Kind::scored;
  if (before->event == Event::loss) return Kind::out;
  return frame - before->frame <= 10 ? Kind::settling : Kind::scored;
}

int seed_of(const Trace& trace) {
  for (const TraceRow& row : trace.rows)
    if (row.event == Event::seed) return row.frame;
  int lowest = trace.rows.front().frame;
  for (const TraceRow& row : trace.rows) lowest = std::min(lowest, row.frame);
  return lowest;
}

std::vector<Seen> look(const Truth& truth, const Trace& trace) {
  std::vector<Seen> all;
  for (const TruthRow& t : truth.rows) {
    const Kind kind = kind_of(t.frame, trace);
    if (t.frame <= seed_of(trace) || kind == Kind::out) continue;
    Seen s{t.frame, kind == Kind::scored, t.present, false, true, 0, INFINITY, INFINITY, 1};
    for (const TraceRow& e : trace.rows) {
      if (e.frame != t.frame) continue;
      s.missing = false;
      s.confidence = e.confidence;
      s.found = e.present && proper(e.box) && std::isfinite(e.confidence);
      if (!s.found || !t.present) continue;
      s.overlap = overlap(t.box, e.box);
      const double dx = e.box.box.x + e.box.box.w / 2 - t.box.box.x - t.box.box.w / 2;
      const double dy = e.box.box.y + e.box.box.h / 2 - t.box.box.y - t.box.box.h / 2;
      s.error = std::sqrt(dx * dx + dy * dy);
      const double a = t.box.angle_deg * std::numbers::pi / 180;
      const double u = dx * std::cos(a) + dy * std::sin(a);
      const double v = -dx * std::sin(a) + dy * std::cos(a);
      s.relative = std::sqrt(u * u / t.box.box.w / t.box.box.w + v * v / t.box.box.h / t.box.box.h);
    }
    all.push_back(s);
  }
  return all;
}

bool off(const Seen& s) { return s.present && s.overlap < 0.1 - 1e-9; }

struct SlowLoss {
  int begin;
  int end;  // -1: none
};

// Every start is tried: is it followed by five off frames, counting present frames alone?
std::vector<SlowLoss> losses_of(const std::vector<Seen>& present) {
  std::vector<SlowLoss> losses;
  for (std::size_t i = 0; i < present.size();) {
    bool lost = i + 5 <= present.size();
    for (std::size_t k = i; lost && k < i + 5; ++k) lost = off(present[k]);
    if (!lost) {
      ++i;
      continue;
    }
    std::size_t end = i;
    while (end < present.size() && present[end].overlap < 0.5 - 1e-9) ++end;
    losses.push_back({present[i].frame, end < present.size() ? present[end].frame : -1});
    i = end + 1;
  }
  return losses;
}

void add_unaided(const std::vector<Seen>& present, int seed, std::map<std::string, Figure>& out) {
  const auto losses = losses_of(present);
  std::vector<double> waits;
  double inside = 0;
  for (const SlowLoss& loss : losses)
    if (loss.end >= 0) waits.push_back(loss.end - loss.begin);
  for (const Seen& s : present)
    for (const SlowLoss& loss : losses)
      inside += s.frame >= loss.begin && (loss.end < 0 || s.frame < loss.end) ? 1 : 0;
  out["losses"] = size_of(losses);
  out["recovered_share"] = over(size_of(waits), size_of(losses));
  out["frames_to_recover"] = middle_or_null(waits);
  out["time_off_target"] = over(inside, size_of(present));
  out["frames_to_first_loss"] = losses.empty() ? Figure() : Figure(losses[0].begin - seed);
}

void add_restart(const std::vector<Seen>& all, const Truth& truth, const Trace& trace,
                 std::map<std::string, Figure>& out) {
  std::vector<int> losses, reseeds;
  int last = trace.rows.back().frame;
  if (!truth.rows.empty()) last = std::max(last, truth.rows.back().frame);
  for (const TraceRow& row : trace.rows) {
    if (row.event == Event::loss) losses.push_back(row.frame);
    if (row.event == Event::reseed) reseeds.push_back(row.frame);
  }
  const int seed = seed_of(trace);
  std::set<int> led;
  std::vector<std::pair<int, int>> stretches;  // frames, lost
  std::vector<int> starts{seed};
  starts.insert(starts.end(), reseeds.begin(), reseeds.end());
  for (std::size_t i = 0; i < starts.size(); ++i) {
    const int until = i + 1 < starts.size() ? starts[i + 1] : last + 1;
    int loss = -1;
    for (const int l : losses)
      if (l > starts[i] && l < until && loss < 0) loss = l;
    if (loss < 0) {
      stretches.push_back({(until > last ? last : until) - starts[i], 0});
      continue;
    }
    std::vector<int> present_before;  // since the start, up to the loss
    std::vector<bool> is_off;
    for (const Seen& s : all)
      if (s.present && s.frame > starts[i] && s.frame <= loss) {
        present_before.push_back(s.frame);
        is_off.push_back(off(s));
      }
    int first_off = loss;
    for (int k = 1; k <= 5 && k <= static_cast<int>(is_off.size()) && is_off[is_off.size() - k]; ++k) {
      first_off = present_before[present_before.size() - k];
      led.insert(first_off);
    }
    stretches.push_back({first_off - starts[i], 1});
  }
  double sum = 0, count = 0;
  for (const Seen& s : all)
    if (s.scored && s.present && !led.contains(s.frame)) {
      sum += s.overlap;
      count += 1;
    }
  out["restarts"] = size_of(reseeds);
  out["restarts_per_1000"] = over(1000 * size_of(reseeds), last - seed);
  out["held_overlap"] = over(sum, count);
  double share = 1;
  Figure median_hold;
  for (int n = 0; n <= last && !median_hold; ++n) {
    double at_risk = 0, lost = 0;
    for (const auto& [frames, is_lost] : stretches) {
      at_risk += frames >= n ? 1 : 0;
      lost += frames == n && is_lost != 0 ? 1 : 0;
    }
    if (lost == 0) continue;
    share *= 1 - lost / at_risk;
    if (share <= 0.5 + 1e-9) median_hold = n;
  }
  out["median_hold"] = median_hold;
}

}  // namespace

std::map<std::string, Figure> slow_score(const Truth& truth, const Trace& trace, bool restart) {
  const std::vector<Seen> all = look(truth, trace);
  std::vector<Seen> scored, present;
  for (const Seen& s : all)
    if (s.scored) scored.push_back(s);
  for (const Seen& s : scored)
    if (s.present) present.push_back(s);
  std::map<std::string, Figure> out;
  double found = 0, missing = 0, right = 0, found_present = 0, rightly_absent = 0, sum = 0;
  std::vector<double> errors;
  std::set<double> confidences;
  for (const Seen& s : scored) {
    found += s.found;
    missing += s.missing;
    right += s.present && s.found && s.overlap > 0.5 + 1e-9;
    rightly_absent += !s.present && !s.found;
    if (s.found) confidences.insert(s.confidence);
  }
  for (const Seen& s : present) {
    sum += s.overlap;
    found_present += s.found;
    if (s.found) errors.push_back(s.error);
  }
  const double n = size_of(present);
  out["scored_frames"] = size_of(scored);
  out["present_frames"] = n;
  out["found_frames"] = found;
  out["missing_frames"] = missing;
  out["success_area"] = over(sum, n);
  double relative = 0, half = 0, hits = 0;
  for (const Seen& s : present) {
    for (int k = 0; k <= 100; ++k) relative += s.relative <= k / 200.0 + 1e-9;
    half += s.overlap > 0.5 + 1e-9;
    hits += s.error <= 20 + 1e-9;
  }
  out["relative_centre_area"] = over(relative, 101 * n);
  out["success_at_0.5"] = over(half, n);
  out["hit_rate_20"] = over(hits, n);
  out["median_centre_error"] = middle_or_null(errors);
  out["found_share"] = over(found_present, n);
  out["hold_precision"] = over(right, found);
  out["hold_recall"] = over(right, n);
  out["hold_f"] = over(2 * right, found + n);
  Figure best;
  for (const double c : confidences) {
    double f = 0, r = 0;
    for (const Seen& s : scored) {
      f += s.found && s.confidence >= c;
      r += s.present && s.found && s.confidence >= c && s.overlap > 0.5 + 1e-9;
    }
    best = std::max(best.value_or(0), 2 * r / (f + n));
  }
  out["best_f"] = best;
  out["absence_rate"] = over(rightly_absent, size_of(scored) - n);
  if (restart)
    add_restart(all, truth, trace, out);
  else
    add_unaided(present, seed_of(trace), out);
  return out;
}

}  // namespace mnemon::test
