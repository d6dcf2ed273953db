// SPDX-License-Identifier: MIT
#include <mnemon/report/study_json.hpp>

#include <nlohmann/json.hpp>

#include <cmath>

#include <mnemon/report/comparison.hpp>
#include <mnemon/report/figure_json.hpp>
#include <mnemon/report/stress.hpp>
#include <mnemon/report/sweep_result.hpp>

namespace mnemon {
namespace {

Json interval_json(const std::optional<Interval>& interval) {
  return interval ? Json{figure_json(interval->low), figure_json(interval->high)} : Json();
}

Json mean_json(const MeanOver& over) {
  return {{"mean", figure_json(over.mean)},
          {"sequences", over.known},
          {"interval", interval_json(over.interval)}};
}

// Every measure of a tracker under a protocol, over sequences and by tag.
Json tracker_scores_json(const Results& results, int tracker, int protocol) {
  RunScore pooled;
  pooled.speed = results.pooled_speed(tracker, protocol);
  Json json;
  for (const ScalarMeasure& measure : scalar_measures())
    json["over_sequences"][std::string(measure.name)] =
        mean_json(mean_over(results.values(tracker, protocol, measure.name)));
  json["over_sequences"]["highest_rate_hz"] =
      mean_json(mean_over(results.values(tracker, protocol, "highest_rate_hz")));
  json["success_area_by_frames"] = figure_json(results.mean_by_frames(tracker, protocol, "success_area"));
  for (const char* measure : {"steps", "step_ms_mean", "step_ms_p50", "step_ms_p95", "step_ms_p99",
                              "step_ms_worst", "frames_per_s"})
    json["all_steps"][measure] = figure_json(scalar_measure(measure).of(pooled));
  json["by_tag"] = Json::object();
  for (const std::string& tag : results.tags())
    json["by_tag"][tag] = mean_json(mean_over(results.tagged_values(tracker, protocol, "success_area", tag)));
  json["by_set"] = Json::object();
  for (const std::string& set : results.sets())
    json["by_set"][set] = mean_json(mean_over(results.values_in_set(tracker, protocol, "success_area", set)));
  return json;
}

Json comparisons_json(const Results& results, const std::vector<Comparison>& pairs) {
  Json json = Json::array();
  for (const Comparison& comparison : pairs)
    json.push_back({{"better", results.study().trackers[comparison.better].label},
                    {"worse", results.study().trackers[comparison.worse].label},
                    {"sequences", comparison.sequences},
                    {"difference", comparison.difference},
                    {"interval", interval_json(comparison.interval)},
                    {"separated", comparison.is_separated()},
                    {"p", figure_json(comparison.p)}});
  return json;
}

Json protocol_json(const Results& results, int protocol) {
  const Study& study = results.study();
  const std::vector<Comparison> pairs = comparisons(results, protocol);
  Json json{{"protocol", study.protocols[protocol].name},
            {"params", params_json(study.protocols[protocol].params)},
            {"trackers", Json::object()},
            {"groups", Json::object()},
            {"comparisons", comparisons_json(results, pairs)},
            {"sweeps", Json::array()}};
  for (const int tracker : results.trackers(protocol))
    json["trackers"][study.trackers[tracker].label] = tracker_scores_json(results, tracker, protocol);
  for (const Standing& standing : standings(results, protocol, pairs))
    json["groups"][study.trackers[standing.tracker].label] = standing.group;
  for (const SweepResult& sweep : sweep_results(results, protocol)) {
    Json one{{"tracker", study.trackers[sweep.base].label},
             {"chosen", sweep.chosen < 0 ? Json() : Json(study.trackers[sweep.chosen].label)},
             {"chosen_mean", figure_json(sweep.chosen_mean)},
             {"base_mean", figure_json(sweep.base_mean)},
             {"gain", figure_json(sweep.gain.mean)},
             {"gain_interval", interval_json(sweep.gain.interval)},
             {"effects", Json::array()},
             {"variations", Json::array()}};
    for (const SweepEffect& effect : sweep.effects)
      one["effects"].push_back(
          {{"parameter", effect.parameter}, {"value", effect.value}, {"mean", figure_json(effect.mean)}});
    for (std::size_t i = 0; i < sweep.variations.size(); ++i)
      one["variations"].push_back({{"label", study.trackers[sweep.variations[i]].label},
                                   {"choosing_mean", figure_json(sweep.chosen_by[i])}});
    json["sweeps"].push_back(one);
  }
  return json;
}

Json stress_json(const StressResult& result, const Study& study) {
  Json json{{"scene", result.scene},
            {"knob", result.knob},
            {"levels", result.levels},
            {"trackers", Json::object()}};
  for (const StressCurve& curve : result.curves) {
    Json one{{"below_half_at", figure_json(curve.falls_at)},
             {"interval", interval_json(curve.interval)},
             {"means", Json::array()}};
    for (const Figure& mean : curve.means) one["means"].push_back(figure_json(mean));
    json["trackers"][study.trackers[curve.tracker].label] = one;
  }
  return json;
}

Json run_json(const Study& study, const StudyRun& run) {
  Json troubles = Json::array();
  Json rates = Json::array();
  for (const RateArea& one : run.rate_areas) rates.push_back({one.rate_hz, figure_json(one.success_area)});
  for (const TroubleRow& row : run.troubles)
    troubles.push_back(trouble_json(study.sequences[run.sequence], row));
  return {{"tracker", study.trackers[run.tracker].label},
          {"sequence", study.sequences[run.sequence].name},
          {"protocol", study.protocols[run.protocol].name},
          {"start", run.start},
          {"repeat", run.repeat},
          {"build", run.build},
          {"timed", run.timed},
          {"failure", run.failure.empty() ? Json() : Json(run.failure)},
          {"highest_rate_hz", figure_json(run.highest_rate_hz)},
          {"success_area_by_rate", rates},
          {"score", run.score ? score_json(*run.score) : Json()},
          {"troubles", troubles}};
}

}  // namespace

Json study_json(const Results& results) {
  const Study& study = results.study();
  Json json;
  json["title"] = study.title;
  json["builds"] = Json::array();
  for (const BuildFacts& build : study.builds)
    json["builds"].push_back({{"version", build.version},
                              {"code", build.code},
                              {"compiler", build.compiler},
                              {"processor", build.processor},
                              {"cores", build.cores},
                              {"arithmetic", build.arithmetic}});
  json["missing_runs"] = study.missing_runs;
  json["trackers"] = Json::array();
  for (const StudyTracker& tracker : study.trackers)
    json["trackers"].push_back({{"label", tracker.label},
                                {"name", tracker.name},
                                {"params", Json::parse(tracker.params)},
                                {"sweep", tracker.sweep.empty() ? Json() : Json(tracker.sweep)}});
  json["sequences"] = Json::array();
  for (const StudySequence& sequence : study.sequences)
    json["sequences"].push_back({{"name", sequence.name},
                                 {"frames", sequence.frames},
                                 {"tags", sequence.tags},
                                 {"measured_tags", sequence.measured_tags}});
  json["protocols"] = Json::array();
  for (const int protocol : results.protocols())
    json["protocols"].push_back(protocol_json(results, protocol));
  json["figures"] = answers_json(answered_questions(results));
  json["stress"] = Json::array();
  for (const StressResult& result : stress_results(study))
    json["stress"].push_back(stress_json(result, study));
  json["runs"] = Json::array();
  for (const StudyRun& run : study.runs) json["runs"].push_back(run_json(study, run));
  return json;
}

}  // namespace mnemon
