// SPDX-License-Identifier: MIT
#include <mnemon/report/report_data.hpp>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <string_view>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/report/comparison.hpp>
#include <mnemon/report/figure_json.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/report/stress.hpp>
#include <mnemon/report/sweep_result.hpp>
#include <mnemon/report/table.hpp>
#include <mnemon/sequence/truth_tags.hpp>

namespace mnemon {
namespace {

constexpr double kPartsOfAPixel = 4;
constexpr double kPartsOfADegree = 10;
constexpr double kFullShare = 250;
constexpr int kNoShare = 255;

Json row_data(const ReportTable::Row& row) {
  return {{"tracker", row.tracker_place},
          {"name", row.tracker},
          {"over", row.sequence},
          {"cells", row.cells},
          {"note", row.note}};
}

Json table_data(const ReportTable& table) {
  Json json{{"first", table.first},
            {"second", table.second},
            {"columns", Json::array()},
            {"rows", Json::array()},
            {"footnote", table.footnote}};
  for (const auto& column : table.columns)
    json["columns"].push_back({{"heading", column.heading}, {"help", column.help}});
  for (const auto& row : table.rows) json["rows"].push_back(row_data(row));
  return json;
}

std::string joined(const std::vector<std::string>& words) {
  std::string text;
  for (const std::string& word : words) text += (text.empty() ? "" : ", ") + word;
  return text;
}

// The tags as given, and where those that truth can tell are otherwise.
std::string tag_text(const StudySequence& sequence) {
  const auto without = [](const std::vector<std::string>& tags, const std::vector<std::string>& others) {
    std::vector<std::string> rest;
    for (const std::string& tag : tags)
      if (follows_from_truth(tag) && std::ranges::find(others, tag) == others.end()) rest.push_back(tag);
    return rest;
  };
  std::string text = sequence.tags.empty() ? "no special difficulty" : joined(sequence.tags);
  const auto only_measured = without(sequence.measured_tags, sequence.tags);
  const auto only_given = without(sequence.tags, sequence.measured_tags);
  if (!only_measured.empty()) text += fmt::format("; by its truth also {}", joined(only_measured));
  if (!only_given.empty()) text += fmt::format("; by its truth not {}", joined(only_given));
  return text;
}

// Frames one after the other as the page unpacks them: five 16-bit numbers a frame, then bytes.
class PackedFrames {
 public:
  explicit PackedFrames(int frames)
      : boxes_(static_cast<std::size_t>(frames) * 5 * 2, '\0'),
        states_(static_cast<std::size_t>(frames), '\0') {}

  void set_box(int frame, const OrientedBox& box) {
    const double parts[] = {box.box.x * kPartsOfAPixel, box.box.y * kPartsOfAPixel,
                            box.box.w * kPartsOfAPixel, box.box.h * kPartsOfAPixel,
                            box.angle_deg * kPartsOfADegree};
    for (std::size_t i = 0; i < 5; ++i) {
      const double kept = std::isfinite(parts[i]) ? std::clamp(parts[i], -32768.0, 32767.0) : 0;
      const auto whole = static_cast<std::uint16_t>(static_cast<std::int16_t>(std::lround(kept)));
      const std::size_t at = (static_cast<std::size_t>(frame) * 5 + i) * 2;
      boxes_[at] = static_cast<char>(whole & 0xff);
      boxes_[at + 1] = static_cast<char>(whole >> 8);
    }
  }
  void set_state(int frame, int state) {
    states_[static_cast<std::size_t>(frame)] = static_cast<char>(state);
  }

  [[nodiscard]] std::string boxes() const { return base64(boxes_); }
  [[nodiscard]] std::string states() const { return base64(states_); }

 private:
  std::string boxes_;
  std::string states_;
};

// States of truth: 0 no truth, 1 absent, 2 present.
Json truth_data(const Truth& truth, int frames) {
  PackedFrames packed(frames);
  for (const TruthRow& row : truth.rows) {
    if (row.frame < 0 || row.frame >= frames) continue;
    packed.set_state(row.frame, row.present ? 2 : 1);
    if (row.present) packed.set_box(row.frame, row.box);
  }
  return {{"boxes", packed.boxes()}, {"states", packed.states()}};
}

Json others_data(const Truth& truth) {
  Json json = Json::object();
  const auto tenth = [](double value) { return std::round(10 * value) / 10; };
  for (const OtherRow& row : truth.others) {
    const Box& box = row.box.box;
    json[row.name].push_back(
        {row.frame, tenth(box.x), tenth(box.y), tenth(box.w), tenth(box.h), tenth(row.box.angle_deg)});
  }
  return json;
}

int share_byte(const Figure& share) {
  return share && std::isfinite(*share)
             ? static_cast<int>(std::lround(kFullShare * std::clamp(*share, 0.0, 1.0)))
             : kNoShare;
}

// What stands for a run's pictures in names of files.
std::string picture_name(const Study& study, const StudyRun& run, int frame, std::string_view what) {
  return fmt::format("{}-{}-{}-{:06}.jpg", file_name_of(study.sequences[run.sequence].name),
                     file_name_of(study.trackers[run.tracker].label), what, frame);
}

Json run_data(const Results& results, const StudyRun& run, const PlacePicture& place) {
  const Study& study = results.study();
  const StudySequence& sequence = study.sequences[run.sequence];
  const Truth truth = study.truth_of(sequence);
  const Trace trace = study.trace_of(run);
  PackedFrames packed(sequence.frames);
  std::string overlaps(static_cast<std::size_t>(sequence.frames), static_cast<char>(kNoShare));
  std::string confidences = overlaps;
  // States of a run: 0 nothing known, 1 it claims nothing, 2 it claims the target.
  for (const TraceRow& row : trace.rows) {
    if (row.frame < 0 || row.frame >= sequence.frames) continue;
    packed.set_state(row.frame, is_found(row) ? 2 : 1);
    if (is_found(row)) packed.set_box(row.frame, row.box);
    confidences[static_cast<std::size_t>(row.frame)] = static_cast<char>(share_byte(row.confidence));
  }
  for (const FrameScore& frame : score_frames(truth, trace).frames)
    if (frame.present && frame.frame >= 0 && frame.frame < sequence.frames)
      overlaps[static_cast<std::size_t>(frame.frame)] = static_cast<char>(share_byte(frame.overlap));
  Json json{{"tracker", run.tracker},    {"sequence", run.sequence},     {"boxes", packed.boxes()},
            {"states", packed.states()}, {"overlaps", base64(overlaps)}, {"confidences", base64(confidences)},
            {"troubles", Json::array()}, {"crops", Json::array()},       {"stages", Json::array()}};
  const RunMoments moments = study.moments_of(run);
  for (const TroubleRow& row : troubles_of_run(truth, trace, study.protocols[run.protocol].score_options()))
    json["troubles"].push_back(trouble_json(sequence, row));
  for (const StudyCrop& crop : moments.crops)
    json["crops"].push_back({{"frame", crop.frame},
                             {"window", {crop.window.x, crop.window.y, crop.window.w, crop.window.h}},
                             {"src", place(picture_name(study, run, crop.frame, "crop"), crop.jpeg)}});
  int number = 0;
  for (const StudyStage& stage : moments.stages)
    json["stages"].push_back(
        {{"frame", stage.frame},
         {"name", stage.name},
         {"low", figure_json(stage.low)},
         {"high", figure_json(stage.high)},
         {"src",
          place(picture_name(study, run, stage.frame, fmt::format("stage{}", number++)), stage.jpeg)}});
  return json;
}

Json sequence_data(const Study& study, const StudySequence& sequence, const PlacePicture& place) {
  const Truth truth = study.truth_of(sequence);
  Json json{{"name", sequence.name},
            {"title", sequence.title},
            {"facts", fmt::format("{} frames of {} × {} at {:g} Hz; {}", sequence.frames, sequence.size.width,
                                  sequence.size.height, sequence.rate_hz, tag_text(sequence))},
            {"frames", sequence.frames},
            {"width", sequence.size.width},
            {"height", sequence.size.height},
            {"rate_hz", sequence.rate_hz},
            {"tags", sequence.tags},
            {"truth", truth_data(truth, sequence.frames)},
            {"others", others_data(truth)},
            {"pictures", Json::array()}};
  for (const StudyPicture& picture : study.pictures_of(sequence))
    json["pictures"].push_back(
        {{"frame", picture.frame},
         {"src",
          place(fmt::format("{}-{:06}.jpg", file_name_of(sequence.name), picture.frame), picture.jpeg)}});
  return json;
}

Json tracker_data(const Results& results, int tracker) {
  const StudyTracker& known = results.study().trackers[tracker];
  std::string params;
  const Json values = Json::parse(known.params);  // named, so that it outlives the loop over it
  for (const auto& [name, value] : values.items())
    params += fmt::format("{}{} = {}", params.empty() ? "" : ", ", name, json_text(value));
  return {{"id", tracker},
          {"label", known.label},
          {"name", known.name},
          {"params", params},
          {"colour", tracker_colour(tracker)},
          {"dashed", is_tracker_dashed(tracker)},
          {"floor", known.is_floor()}};
}

Json protocol_data(const Results& results, int protocol) {
  const Protocol& known = results.study().protocols[protocol];
  std::string params;
  for (const auto& [key, value] : known.params)
    params += fmt::format("{}{} = {}", params.empty() ? "" : ", ", key, to_text(value));
  return {{"name", known.name},
          {"summary", known.entry().summary},
          {"params", params},
          {"over", table_data(summary_table(results, protocol))}};
}

Json pairs_data(const Results& results, const std::vector<Comparison>& pairs) {
  Json json = Json::array();
  for (const Comparison& pair : pairs)
    json.push_back({{"better", pair.better},
                    {"worse", pair.worse},
                    {"separated", pair.is_separated()},
                    {"difference", cell_text(pair.difference, 3)},
                    {"text", verdict(results.study(), pair)}});
  return json;
}

// What is shown of the plan's first protocol alone.
void add_first_protocol(const Results& results, int protocol, Json& json) {
  const std::vector<Comparison> pairs = comparisons(results, protocol);
  json["answer"] = answer_text(results, protocol, pairs);
  json["merit"] = table_data(merit_table(results, protocol, pairs));
  json["pairs"] = pairs_data(results, pairs);
  const ReportTable tags = tag_table(results, protocol);
  json["tags"] = tags.columns.empty() ? Json() : table_data(tags);
  for (const SweepResult& sweep : sweep_results(results, protocol))
    json["sweeps"].push_back({{"label", results.study().trackers[sweep.base].label},
                              {"choice", choice_text(sweep, results.study())},
                              {"sensitivity", sensitivity_text(sweep)},
                              {"effects", table_data(effect_table(sweep, results.study()))}});
}

}  // namespace

Json report_data(const Results& results, const std::vector<Answered>& answers) {
  const Study& study = results.study();
  Json json{{"format", "mnemon-report/1"},
            {"title", study.title},
            {"missing_runs", study.missing_runs},
            {"answer", ""},
            {"merit", Json()},
            {"pairs", Json::array()},
            {"tags", Json()},
            {"figures", answers_json(answers)},
            {"trackers", Json::array()},
            {"sweeps", Json::array()},
            {"stress", Json::array()},
            {"builds", Json::array()}};
  for (const int tracker : results.trackers()) json["trackers"].push_back(tracker_data(results, tracker));
  if (!results.protocols().empty()) add_first_protocol(results, results.protocols().front(), json);
  for (const StressResult& result : stress_results(study))
    json["stress"].push_back(
        {{"scene", result.scene}, {"knob", result.knob}, {"table", table_data(stress_table(result, study))}});
  for (const BuildFacts& build : study.builds)
    json["builds"].push_back(fmt::format("Mnemon {} ({}), code {}, on {} with {} cores", build.version,
                                         build.compiler, build.code, build.processor, build.cores));
  return json;
}

void visit_protocol_data(const Results& results,
                         const std::function<void(const Json& protocol, const VisitRowData& rows)>& use) {
  for (const int protocol : results.protocols())
    use(protocol_data(results, protocol), [&](const std::function<void(const Json&)>& use_row) {
      return table_data(visit_sequence_rows(results, protocol,
                                            [&](const ReportTable::Row& row) { use_row(row_data(row)); }));
    });
}

void visit_sequence_data(const Results& results, const PlacePicture& place,
                         const std::function<void(int, const Json&)>& use) {
  const Study& study = results.study();
  for (const int sequence : results.sequences())
    use(sequence, sequence_data(study, study.sequences[sequence], place));
}

// The first run of each tracker on each sequence under the plan's first protocol.
void visit_run_data(const Results& results, const PlacePicture& place,
                    const std::function<void(const Json&)>& use) {
  if (results.protocols().empty()) return;
  const int protocol = results.protocols().front();
  for (const int tracker : results.trackers())
    for (const int sequence : results.sequences()) {
      const auto& runs = results.runs(tracker, sequence, protocol);
      if (!runs.empty() && runs.front()->failure.empty()) use(run_data(results, *runs.front(), place));
    }
}

}  // namespace mnemon
