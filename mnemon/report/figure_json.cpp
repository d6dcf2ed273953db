// SPDX-License-Identifier: MIT
#include <mnemon/report/figure_json.hpp>

#include <algorithm>

#include <nlohmann/json.hpp>

namespace mnemon {
namespace {

Json numbers_json(const std::vector<double>& values) {
  Json json = Json::array();
  for (const double value : values) json.push_back(figure_json(value));
  return json;
}

// The tags of a sequence that hold on a frame.
std::vector<std::string> tags_on(const StudySequence& sequence, int frame) {
  std::vector<std::string> tags;
  for (const std::string& tag : sequence.tags) {
    const bool has_spans =
        std::ranges::any_of(sequence.spans, [&](const TagSpan& span) { return span.tag == tag; });
    if (!has_spans) tags.push_back(tag);
  }
  for (const TagSpan& span : sequence.spans)
    if (frame >= span.from && frame <= span.to && std::ranges::find(tags, span.tag) == tags.end())
      tags.push_back(span.tag);
  return tags;
}

}  // namespace

Json figure_to_json(const ReportFigure& figure) {
  static constexpr const char* kKinds[] = {"lines", "points", "bars"};
  Json json{{"name", figure.name},
            {"title", figure.title},
            {"kind", kKinds[static_cast<int>(figure.kind)]},
            {"x", figure.x_label},
            {"y", figure.y_label},
            {"log_x", figure.log_x},
            {"unit_y", figure.unit_y},
            {"categories", figure.categories},
            {"note", figure.note},
            {"front", figure.front},
            {"series", Json::array()},
            {"shaded", Json::array()}};
  for (const FigureSeries& line : figure.lines)
    json["series"].push_back({{"label", line.label},
                              {"colour", line.colour},
                              {"dashed", line.dashed},
                              {"tracker", line.tracker},
                              {"x", numbers_json(line.x)},
                              {"y", numbers_json(line.y)},
                              {"low", numbers_json(line.low)},
                              {"high", numbers_json(line.high)}});
  for (const FigureBand& band : figure.shaded) json["shaded"].push_back({band.from, band.to});
  return json;
}

Json answers_json(const std::vector<Answered>& answers) {
  Json json = Json::array();
  for (const Answered& answer : answers) {
    Json figures = Json::array();
    for (const ReportFigure& figure : answer.figures) figures.push_back(figure_to_json(figure));
    json.push_back({{"question", std::string(answer.question)}, {"figures", figures}});
  }
  return json;
}

Json trouble_json(const StudySequence& sequence, const TroubleRow& row) {
  return {{"kind", std::string(trouble_text(row.kind))},
          {"frame", row.begin},
          {"frames", row.frames},
          {"absent_frames", row.absent_frames},
          {"end", std::string(end_text(row.end))},
          {"cause", std::string(cause_text(row.cause))},
          {"said_lost", row.said_lost},
          {"overlap_before", figure_json(row.overlap_before)},
          {"confidence_before", figure_json(row.confidence_before)},
          {"other", row.other.empty() ? Json() : Json(row.other)},
          {"overlap_with_other", figure_json(row.overlap_with_other)},
          {"tags", tags_on(sequence, row.begin)}};
}

}  // namespace mnemon
