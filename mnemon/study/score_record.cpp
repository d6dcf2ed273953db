// SPDX-License-Identifier: MIT
#include <mnemon/study/score_record.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/nearest_name.hpp>

namespace mnemon {
namespace {

Figure unaided_only(const RunScore& score, const Figure& figure) {
  return score.help == Help::unaided ? figure : std::nullopt;
}

Figure restart_only(const RunScore& score, const Figure& figure) {
  return score.help == Help::restart ? figure : std::nullopt;
}

constexpr bool kCount = true;
constexpr bool kOfFrames = true;
using S = const RunScore&;

constexpr std::array kMeasures{
    ScalarMeasure{"success_area", [](S s) { return s.success_area; }, Better::higher, false, kOfFrames},
    ScalarMeasure{"success_at_0.5", [](S s) { return s.success_at_half; }, Better::higher, false, kOfFrames},
    ScalarMeasure{"success_at_0.75", [](S s) { return s.success_at_three_quarters; }, Better::higher, false,
                  kOfFrames},
    ScalarMeasure{"hit_rate_20", [](S s) { return s.hit_rate_20; }, Better::higher, false, kOfFrames},
    ScalarMeasure{"relative_centre_area", [](S s) { return s.relative_centre_area; }, Better::higher, false,
                  kOfFrames},
    ScalarMeasure{"median_centre_error", [](S s) { return s.median_centre_error; }, Better::lower, false,
                  kOfFrames},
    ScalarMeasure{"found_share", [](S s) { return s.found_share; }, Better::higher, false, kOfFrames},
    ScalarMeasure{"angle_frames", [](S s) { return Figure(s.angle_frames); }, Better::neither, kCount,
                  kOfFrames},
    ScalarMeasure{"angle_error_mean", [](S s) { return s.angle_error_mean; }, Better::lower, false,
                  kOfFrames},
    ScalarMeasure{"angle_error_median", [](S s) { return s.angle_error_median; }, Better::lower, false,
                  kOfFrames},
    ScalarMeasure{"hold_precision", [](S s) { return s.holds.precision(); }, Better::higher, false,
                  kOfFrames},
    ScalarMeasure{"hold_recall", [](S s) { return s.holds.recall(); }, Better::higher, false, kOfFrames},
    ScalarMeasure{"hold_f", [](S s) { return s.holds.f(); }, Better::higher, false, kOfFrames},
    ScalarMeasure{"best_f", [](S s) { return s.best_f; }, Better::higher, false, kOfFrames},
    ScalarMeasure{"absence_rate", [](S s) { return s.absence_rate; }, Better::higher, false, kOfFrames},
    ScalarMeasure{"position_frames", [](S s) { return Figure(s.position_frames); }, Better::neither, kCount},
    ScalarMeasure{"position_error_median", [](S s) { return s.position_error_median; }, Better::lower},
    ScalarMeasure{"mask_frames", [](S s) { return Figure(s.mask_frames); }, Better::neither, kCount,
                  kOfFrames},
    ScalarMeasure{"mean_mask_overlap", [](S s) { return s.mean_mask_overlap; }, Better::higher, false,
                  kOfFrames},
    ScalarMeasure{"losses", [](S s) { return unaided_only(s, s.losses.losses); }, Better::lower, kCount},
    ScalarMeasure{"recovered_share", [](S s) { return unaided_only(s, s.losses.recovered_share); },
                  Better::higher},
    ScalarMeasure{"frames_to_recover", [](S s) { return unaided_only(s, s.losses.frames_to_recover); },
                  Better::lower},
    ScalarMeasure{"time_off_target", [](S s) { return unaided_only(s, s.losses.time_off_target); },
                  Better::lower},
    ScalarMeasure{"frames_to_first_loss", [](S s) { return unaided_only(s, s.losses.frames_to_first_loss); },
                  Better::higher},
    ScalarMeasure{"returned_share", [](S s) { return s.returned_share; }, Better::higher},
    ScalarMeasure{"frames_to_return", [](S s) { return s.frames_to_return; }, Better::lower},
    ScalarMeasure{"restarts", [](S s) { return restart_only(s, s.restarts); }, Better::lower, kCount},
    ScalarMeasure{"restarts_per_1000", [](S s) { return restart_only(s, s.restarts_per_1000); },
                  Better::lower},
    ScalarMeasure{"held_overlap", [](S s) { return restart_only(s, s.held_overlap); }, Better::higher},
    ScalarMeasure{"median_hold", [](S s) { return restart_only(s, s.median_hold); }, Better::higher},
    ScalarMeasure{"skipped_share", [](S s) { return s.skipped_share; }, Better::lower},
    ScalarMeasure{"seed_frame", [](S s) { return Figure(s.seed_frame); }, Better::neither, kCount},
    ScalarMeasure{"scored_frames", [](S s) { return Figure(s.scored_frames); }, Better::neither, kCount,
                  kOfFrames},
    ScalarMeasure{"present_frames", [](S s) { return Figure(s.present_frames); }, Better::neither, kCount,
                  kOfFrames},
    ScalarMeasure{"absent_frames", [](S s) { return Figure(s.absent_frames); }, Better::neither, kCount,
                  kOfFrames},
    ScalarMeasure{"found_frames", [](S s) { return Figure(s.found_frames); }, Better::neither, kCount,
                  kOfFrames},
    ScalarMeasure{"missing_frames", [](S s) { return Figure(s.missing_frames); }, Better::neither, kCount,
                  kOfFrames},
    ScalarMeasure{"seed_ms", [](S s) { return s.speed.seed_ms; }, Better::lower},
    ScalarMeasure{"steps", [](S s) { return Figure(s.speed.steps); }, Better::neither, kCount},
    ScalarMeasure{"step_ms_mean", [](S s) { return s.speed.step_ms_mean; }, Better::lower},
    ScalarMeasure{"step_ms_p50", [](S s) { return s.speed.step_ms_p50; }, Better::lower},
    ScalarMeasure{"step_ms_p95", [](S s) { return s.speed.step_ms_p95; }, Better::lower},
    ScalarMeasure{"step_ms_p99", [](S s) { return s.speed.step_ms_p99; }, Better::lower},
    ScalarMeasure{"step_ms_worst", [](S s) { return s.speed.step_ms_worst; }, Better::lower},
    ScalarMeasure{"frames_per_s", [](S s) { return s.speed.frames_per_s; }, Better::higher},
};

// From here on the table holds figures of speed, which stand in an object of their own in JSON.
constexpr std::string_view kFirstOfSpeed = "seed_ms";

Json value_json(const ScalarMeasure& measure, const RunScore& score) {
  const Figure value = measure.of(score);
  return value && measure.is_count ? Json(std::lround(*value)) : figure_json(value);
}

Json curve_json(const std::vector<double>& curve) { return curve.empty() ? Json() : Json(curve); }

Json hold_curve_json(const std::vector<HoldPoint>& curve) {
  Json rows = Json::array();
  for (const HoldPoint& point : curve)
    rows.push_back({point.confidence, figure_json(point.precision()), figure_json(point.recall()),
                    figure_json(point.f())});
  return rows;
}

Json returns_json(const std::vector<Return>& returns) {
  Json rows = Json::array();
  for (const Return& back : returns)
    rows.push_back({{"frame", back.frame},
                    {"frames", back.frames ? Json(*back.frames) : Json()},
                    {"returned", back.returned}});
  return rows;
}

// Lists of what a figure alone cannot say.
void add_lists(const RunScore& score, Json& json) {
  json["overlap_curve"] = curve_json(score.overlap_curve);
  json["centre_curve"] = curve_json(score.centre_curve);
  json["relative_centre_curve"] = curve_json(score.relative_centre_curve);
  json["hold_curve"] = hold_curve_json(score.hold_curve);
  json["returns"] = returns_json(score.returns);
  json["stretches"] = json["survival"] = Json();
  if (score.help == Help::unaided) return;
  json["stretches"] = json["survival"] = Json::array();
  for (const Stretch& stretch : score.stretches)
    json["stretches"].push_back({{"frames", stretch.frames}, {"lost", stretch.lost}});
  for (const SurvivalPoint& point : score.survival) json["survival"].push_back({point.n, point.share});
}

}  // namespace

std::span<const ScalarMeasure> scalar_measures() { return kMeasures; }

const ScalarMeasure& scalar_measure(std::string_view name) {
  const auto at = std::ranges::find(kMeasures, name, &ScalarMeasure::name);
  if (at != kMeasures.end()) return *at;
  std::vector<std::string> names;
  for (const ScalarMeasure& measure : kMeasures) names.emplace_back(measure.name);
  throw CallError(fmt::format("there is no measure '{}'{}", name, name_hint(std::string(name), names)));
}

std::vector<double> packed_figures(const RunScore& score) {
  std::vector<double> figures;
  figures.reserve(kMeasures.size());
  for (const ScalarMeasure& measure : kMeasures)
    figures.push_back(measure.of(score).value_or(std::numeric_limits<double>::quiet_NaN()));
  return figures;
}

Figure packed_figure(std::span<const double> figures, std::string_view measure) {
  const auto place = static_cast<std::size_t>(&scalar_measure(measure) - kMeasures.data());
  return figures.empty() || std::isnan(figures[place]) ? Figure() : Figure(figures[place]);
}

Json figure_json(const Figure& figure) { return figure && std::isfinite(*figure) ? Json(*figure) : Json(); }

Json score_json(const RunScore& score) {
  Json json;
  json["protocol"] = score.help == Help::restart ? "restart" : "unaided";
  Json speed;
  bool is_speed = false;
  for (const ScalarMeasure& measure : kMeasures) {
    is_speed = is_speed || measure.name == kFirstOfSpeed;
    (is_speed ? speed : json)[std::string(measure.name)] = value_json(measure, score);
  }
  add_lists(score, json);
  json["speed"] = speed;
  return json;
}

}  // namespace mnemon
