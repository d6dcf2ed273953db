// SPDX-License-Identifier: MIT
#include <mnemon/study/score_record.hpp>

#include <cmath>

namespace mnemon {
namespace {

Json curve_json(const std::vector<double>& curve) { return curve.empty() ? Json() : Json(curve); }

Json hold_curve_json(const std::vector<HoldPoint>& curve) {
  Json rows = Json::array();
  for (const HoldPoint& point : curve)
    rows.push_back(
        {point.confidence, figure_json(point.precision), figure_json(point.recall), figure_json(point.f)});
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

Json speed_json(const Speed& speed) {
  return {{"seed_ms", figure_json(speed.seed_ms)},
          {"steps", speed.steps},
          {"step_ms_mean", figure_json(speed.step_ms_mean)},
          {"step_ms_p50", figure_json(speed.step_ms_p50)},
          {"step_ms_p95", figure_json(speed.step_ms_p95)},
          {"step_ms_p99", figure_json(speed.step_ms_p99)},
          {"step_ms_worst", figure_json(speed.step_ms_worst)},
          {"frames_per_s", figure_json(speed.frames_per_s)}};
}

void add_place_figures(const RunScore& score, Json& json) {
  json["mean_overlap"] = figure_json(score.mean_overlap);
  json["success_curve"] = curve_json(score.success_curve);
  json["success_area"] = figure_json(score.success_area);
  json["success_at_0.5"] = figure_json(score.success_at_half);
  json["success_at_0.75"] = figure_json(score.success_at_three_quarters);
  json["centre_curve"] = curve_json(score.centre_curve);
  json["hit_rate_20"] = figure_json(score.hit_rate_20);
  json["relative_centre_curve"] = curve_json(score.relative_centre_curve);
  json["relative_centre_area"] = figure_json(score.relative_centre_area);
  json["median_centre_error"] = figure_json(score.median_centre_error);
  json["found_share"] = figure_json(score.found_share);
  json["angle_frames"] = score.angle_frames;
  json["angle_error_mean"] = figure_json(score.angle_error_mean);
  json["angle_error_median"] = figure_json(score.angle_error_median);
}

void add_loss_figures(const RunScore& score, Json& json) {
  const bool unaided = score.help == Help::unaided;
  const auto only = [](bool applies, const Json& value) { return applies ? value : Json(); };
  json["losses"] = only(unaided, score.losses.losses);
  json["recovered_share"] = only(unaided, figure_json(score.losses.recovered_share));
  json["frames_to_recover"] = only(unaided, figure_json(score.losses.frames_to_recover));
  json["time_off_target"] = only(unaided, figure_json(score.losses.time_off_target));
  json["frames_to_first_loss"] = only(unaided, figure_json(score.losses.frames_to_first_loss));
  json["returns"] = returns_json(score.returns);
  json["returned_share"] = figure_json(score.returned_share);
  json["frames_to_return"] = figure_json(score.frames_to_return);
  json["restarts"] = only(!unaided, score.restarts);
  json["restarts_per_1000"] = only(!unaided, figure_json(score.restarts_per_1000));
  json["held_overlap"] = only(!unaided, figure_json(score.held_overlap));
  Json stretches = Json::array();
  for (const Stretch& stretch : score.stretches)
    stretches.push_back({{"frames", stretch.frames}, {"lost", stretch.lost}});
  json["stretches"] = only(!unaided, stretches);
  Json survival = Json::array();
  for (const SurvivalPoint& point : score.survival) survival.push_back({point.n, point.share});
  json["survival"] = only(!unaided, survival);
  json["median_hold"] = only(!unaided, figure_json(score.median_hold));
}

}  // namespace

Json figure_json(const Figure& figure) { return figure && std::isfinite(*figure) ? Json(*figure) : Json(); }

Json params_json(const ParamSet& params) {
  Json json = Json::object();
  for (const auto& entry : params)
    json[entry.first] = std::visit([](const auto& value) { return Json(value); }, entry.second);
  return json;
}

Json score_json(const RunScore& score) {
  Json json;
  json["protocol"] = score.help == Help::restart ? "restart" : "unaided";
  json["seed_frame"] = score.seed_frame;
  json["scored_frames"] = score.scored_frames;
  json["present_frames"] = score.present_frames;
  json["absent_frames"] = score.absent_frames;
  json["found_frames"] = score.found_frames;
  json["missing_frames"] = score.missing_frames;
  add_place_figures(score, json);
  json["hold_precision"] = figure_json(score.holds.precision);
  json["hold_recall"] = figure_json(score.holds.recall);
  json["hold_f"] = figure_json(score.holds.f);
  json["hold_curve"] = hold_curve_json(score.hold_curve);
  json["best_f"] = figure_json(score.best_f);
  json["absence_rate"] = figure_json(score.absence_rate);
  add_loss_figures(score, json);
  json["skipped_share"] = figure_json(score.skipped_share);
  json["speed"] = speed_json(score.speed);
  return json;
}

std::vector<ScalarScore> scalar_scores(const RunScore& score) {
  std::vector<ScalarScore> scalars;
  const auto add_from = [&scalars](const Json& json) {
    for (const auto& [key, value] : json.items())
      if (value.is_number() || value.is_null())
        scalars.push_back({key, value.is_null() ? Figure() : Figure(value.get<double>())});
  };
  const Json json = score_json(score);
  add_from(json);
  add_from(json["speed"]);
  // A curve or list that is null for want of frames is no single figure either.
  std::erase_if(scalars, [](const ScalarScore& s) {
    return s.measure.ends_with("_curve") || s.measure == "stretches" || s.measure == "survival";
  });
  return scalars;
}

}  // namespace mnemon
