// SPDX-License-Identifier: MIT
#include <mnemon/report/page.hpp>

#include <algorithm>
#include <string_view>

#include <fmt/format.h>
#include <kainjow/mustache.hpp>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/comparison.hpp>
#include <mnemon/report/figures.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/report/stress.hpp>
#include <mnemon/report/strip.hpp>
#include <mnemon/report/sweep_result.hpp>
#include <mnemon/report/table.hpp>
#include <mnemon/sequence/truth_tags.hpp>

namespace mnemon {

// Files beside this one, and Chart.js from its package, put in by the build.
extern const std::string_view page_template;
extern const std::string_view page_table;
extern const std::string_view page_style;
extern const std::string_view page_script;
extern const std::string_view chart_library;

namespace {

using kainjow::mustache::data;
using kainjow::mustache::mustache;

constexpr int kPictureQuality = 85;

Json line_json(const FigureLine& line) {
  Json points = Json::array();
  for (std::size_t i = 0; i < line.x.size(); ++i) points.push_back({line.x[i], figure_json(line.y[i])});
  return {{"label", line.label}, {"colour", line.colour}, {"dashed", line.dashed}, {"points", points}};
}

Json chart_json(const LineFigure& figure) {
  Json json{{"name", figure.name},    {"title", figure.title},  {"x", figure.x_label},
            {"y", figure.y_label},    {"logX", figure.log_x},   {"unitY", figure.unit_y},
            {"lines", Json::array()}, {"shaded", Json::array()}};
  for (const FigureLine& line : figure.lines) json["lines"].push_back(line_json(line));
  for (const FigureBand& band : figure.shaded) json["shaded"].push_back({band.from, band.to});
  return json;
}

// JSON inside a script element: without '<' no text in it can end the element, or begin a comment in which it does
// not end.
std::string script_safe(const std::string& json) {
  std::string safe;
  for (const char c : json) safe += c == '<' ? "\\u003c" : std::string(1, c);
  return safe;
}

// What stands for a tracker beside its name.
data swatch(int place) {
  data out;
  out.set("colour", tracker_colour(place));
  if (is_tracker_dashed(place)) out.set("is_second", data::type::bool_true);
  return out;
}

data cell_data(const std::string& text) { return data{"text", text == "-" ? "–" : text}; }

data table_data(const ReportTable& table) {
  data headings{data::type::list};
  for (const auto& column : table.columns) {
    data heading;
    heading.set("text", column.heading);
    heading.set("help", column.help);
    headings << heading;
  }
  data rows{data::type::list};
  for (const auto& row : table.rows) {
    data cells{data::type::list};
    for (const std::string& text : row.cells) cells << cell_data(text);
    data out;
    out.set("tracker", row.tracker);
    out.set("sequence", row.sequence);
    if (row.tracker_place >= 0) out.set("swatch", swatch(row.tracker_place));
    out.set("cells", cells);
    if (!row.note.empty()) out.set("note", row.note);
    rows << out;
  }
  data out;
  out.set("first", table.first);
  out.set("second", table.second);
  out.set("headings", headings);
  out.set("rows", rows);
  if (!table.footnote.empty()) out.set("footnote", table.footnote);
  return out;
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

data sequence_data(const Results& results, int protocol, int place) {
  const StudySequence& sequence = results.study().sequences[place];
  data pictures{data::type::list};
  for (const StripPicture& picture : film_strip(results, protocol, place)) {
    data one;
    one.set("source", "data:image/jpeg;base64," + base64(jpeg_bytes(picture.rgb.view(), kPictureQuality)));
    std::string lost;
    for (std::size_t i = 1; i < picture.lost.size(); ++i) lost += (i == 1 ? "" : ", ") + picture.lost[i].text;
    one.set("caption", picture.caption + (lost.empty() ? "" : "; lost by " + lost));
    one.set("alt", fmt::format("{}, {}", sequence.name, picture.caption));
    pictures << one;
  }
  data out;
  out.set("name", sequence.name);
  out.set("title", sequence.title);
  out.set("facts", fmt::format("{} frames of {} × {} at {:g} Hz; {}", sequence.frames, sequence.size.width,
                               sequence.size.height, sequence.rate_hz, tag_text(sequence)));
  const LineFigure chart = overlap_figure(results, protocol, place);
  out.set("chart", chart.name);
  out.set("shaded", chart.shaded.empty() ? data::type::bool_false : data::type::bool_true);
  out.set("pictures", pictures);
  return out;
}

data tracker_data(const Study& study, int place) {
  data out;
  out.set("label", study.trackers[place].label);
  out.set("swatch", swatch(place));
  std::string params;
  const Json values =
      Json::parse(study.trackers[place].params);  // named, so that it outlives the loop over it
  for (const auto& [name, value] : values.items())
    params += fmt::format("{}{} = {}", params.empty() ? "" : ", ", name, json_text(value));
  out.set("params", study.trackers[place].name + (params.empty() ? "" : ": " + params));
  return out;
}

data comparison_data(const Results& results, int protocol) {
  const std::vector<Comparison> pairs = comparisons(results, protocol);
  data verdicts{data::type::list};
  for (const Comparison& comparison : pairs) verdicts << data{"text", verdict(results.study(), comparison)};
  data out;
  out.set("answer", answer_text(results, protocol, pairs));
  out.set("table", table_data(standing_table(results, protocol, pairs)));
  out.set("verdicts", verdicts);
  return out;
}

data protocol_data(const Results& results, int protocol) {
  const std::string& name = results.study().protocols[protocol].name;
  const ProtocolEntry& entry = results.study().protocols[protocol].entry();
  std::string params;
  for (const auto& [key, value] : results.study().protocols[protocol].params)
    params += fmt::format("{}{} = {}", params.empty() ? "" : ", ", key, to_text(value));
  data out;
  out.set("name", name);
  out.set("summary", entry.summary);
  out.set("params", params);
  out.set("over", table_data(summary_table(results, protocol)));
  out.set("runs", table_data(sequence_table(results, protocol)));
  out.set("survival", std::ranges::find(entry.figures, "survival") != entry.figures.end()
                          ? data::type::bool_true
                          : data::type::bool_false);
  return out;
}

data sweeps_data(const Results& results, int protocol) {
  data sweeps{data::type::list};
  for (const SweepResult& sweep : sweep_results(results, protocol)) {
    data one;
    one.set("label", results.study().trackers[sweep.base].label);
    one.set("choice", choice_text(sweep, results.study()));
    one.set("sensitivity", sensitivity_text(sweep));
    one.set("effects", table_data(effect_table(sweep, results.study())));
    sweeps << one;
  }
  return sweeps;
}

data stress_data(const Study& study) {
  data all{data::type::list};
  for (const StressResult& result : stress_results(study)) {
    data one;
    one.set("chart", stress_figure(result, study).name);
    one.set("scene", result.scene);
    one.set("knob", result.knob);
    one.set("table", table_data(stress_table(result, study)));
    all << one;
  }
  return all;
}

// What is shown once, under the plan's first protocol.
void add_first_protocol(const Results& results, int protocol, data& page) {
  page.set("first", protocol_data(results, protocol));
  const ReportTable tags = tag_table(results, protocol);
  if (!tags.columns.empty()) page.set("tags", table_data(tags));
  if (results.trackers(protocol).size() > 1) page.set("comparison", comparison_data(results, protocol));
  page.set("has_times", shows_step_times(results, protocol) ? data::type::bool_true : data::type::bool_false);
  page.set("sweeps", sweeps_data(results, protocol));
  data sequences{data::type::list};
  for (const int sequence : results.sequences()) sequences << sequence_data(results, protocol, sequence);
  page.set("sequences", sequences);
  data others{data::type::list};
  for (const int other : results.protocols())
    if (other != protocol) others << protocol_data(results, other);
  page.set("others", others);
}

data page_data(const Results& results) {
  const Study& study = results.study();
  data page;
  page.set("table_rows", kainjow::mustache::partial([] { return std::string(page_table); }));
  page.set("title", study.title);
  page.set("style", std::string(page_style));
  page.set("script", std::string(page_script));
  page.set("chart_library", std::string(chart_library));
  Json charts = Json::array();
  for (const LineFigure& figure : study_figures(results)) charts.push_back(chart_json(figure));
  page.set("charts", script_safe(json_text(charts)));
  if (!results.protocols().empty()) add_first_protocol(results, results.protocols().front(), page);
  page.set("stress", stress_data(study));
  if (study.missing_runs > 0) page.set("missing", std::to_string(study.missing_runs));
  data trackers{data::type::list};
  for (const int tracker : results.trackers()) trackers << tracker_data(study, tracker);
  page.set("trackers", trackers);
  data builds{data::type::list};
  for (const BuildFacts& build : study.builds)
    builds << data{"text", fmt::format("Mnemon {} ({}), code {}, on {} with {} cores", build.version,
                                       build.compiler, build.code, build.processor, build.cores)};
  page.set("builds", builds);
  return page;
}

}  // namespace

std::string page_html(const Study& study) {
  mustache page{std::string(page_template)};
  return plain_text(page.render(page_data(Results(study))));
}

std::filesystem::path write_report(const Study& study, const std::filesystem::path& study_folder) {
  const std::filesystem::path page = study_folder / "report" / "index.html";
  const std::filesystem::path figures = study_folder / "report" / "figures";
  write_file(page, page_html(study));
  const Results results(study);
  if (!results.protocols().empty())
    for (const int sequence : results.sequences()) {
      const auto pictures = film_strip(results, results.protocols().front(), sequence);
      const std::string name = "strip-" + file_name_of(study.sequences[sequence].name) + ".png";
      if (!pictures.empty()) write_png(figures / name, contact_sheet(pictures).view());
    }
  draw_figures(study_figures(results), figures);
  return page;
}

}  // namespace mnemon
