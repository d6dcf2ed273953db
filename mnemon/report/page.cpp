// SPDX-License-Identifier: MIT
#include <mnemon/report/page.hpp>

#include <string_view>

#include <fmt/format.h>
#include <kainjow/mustache.hpp>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/base64.hpp>
#include <mnemon/report/comparison.hpp>
#include <mnemon/report/figures.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/report/strip.hpp>
#include <mnemon/report/table.hpp>
#include <mnemon/study/export.hpp>

namespace mnemon {

// Files beside this one, and Chart.js from its package, put in by the build.
extern const std::string_view page_template;
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
  return {{"label", line.label}, {"colour", line.colour}, {"points", points}};
}

Json chart_json(const LineFigure& figure) {
  Json json{{"name", figure.name},    {"title", figure.title},  {"x", figure.x_label},
            {"y", figure.y_label},    {"logX", figure.log_x},   {"unitY", figure.unit_y},
            {"lines", Json::array()}, {"shaded", Json::array()}};
  for (const FigureLine& line : figure.lines) json["lines"].push_back(line_json(line));
  for (const FigureBand& band : figure.shaded) json["shaded"].push_back({band.from, band.to});
  return json;
}

// JSON inside a script element: no text in it may end the element.
std::string script_safe(const std::string& json) {
  std::string safe;
  for (std::size_t i = 0; i < json.size(); ++i)
    safe += json.compare(i, 2, "</") == 0 ? "<\\" : std::string(1, json[i]);
  return safe;
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
    out.set("colour", tracker_colour(row.tracker_place));
    out.set("cells", cells);
    if (!row.note.empty()) out.set("note", row.note);
    out.set("width", std::to_string(table.columns.size()));
    rows << out;
  }
  data out;
  out.set("headings", headings);
  out.set("rows", rows);
  return out;
}

std::string tag_text(const StudySequence& sequence) {
  std::string text;
  for (const std::string& tag : sequence.tags) text += (text.empty() ? "" : ", ") + tag;
  return text.empty() ? "no special difficulty" : text;
}

data sequence_data(const Study& study, int place) {
  const StudySequence& sequence = study.sequences[place];
  data pictures{data::type::list};
  for (const StripPicture& picture : film_strip(study, place)) {
    data one;
    one.set("source", "data:image/jpeg;base64," + base64(jpeg_bytes(picture.rgb.view(), kPictureQuality)));
    one.set("caption", picture.caption);
    one.set("alt", fmt::format("{}, {}", sequence.name, picture.caption));
    pictures << one;
  }
  data out;
  out.set("name", sequence.name);
  out.set("title", sequence.title);
  out.set("facts", fmt::format("{} frames of {} × {} at {:g} Hz; {}", sequence.frames, sequence.size.width,
                               sequence.size.height, sequence.rate_hz, tag_text(sequence)));
  const LineFigure chart = overlap_figure(study, place);
  out.set("chart", chart.name);
  out.set("shaded", chart.shaded.empty() ? data::type::bool_false : data::type::bool_true);
  out.set("pictures", pictures);
  return out;
}

data tracker_data(const Study& study, int place) {
  data out;
  out.set("label", study.trackers[place].label);
  out.set("colour", tracker_colour(place));
  std::string params;
  const Json values =
      Json::parse(study.trackers[place].params);  // named, so that it outlives the loop over it
  for (const auto& [name, value] : values.items())
    params += fmt::format("{}{} = {}", params.empty() ? "" : ", ", name, value.dump());
  out.set("params", study.trackers[place].name + (params.empty() ? "" : ": " + params));
  return out;
}

data comparison_data(const Study& study) {
  data rows{data::type::list};
  for (const Standing& standing : standings(study)) {
    data row;
    row.set("tracker", study.trackers[standing.tracker].label);
    row.set("colour", tracker_colour(standing.tracker));
    data cells{data::type::list};
    for (const std::string& text : cells_of(standing)) cells << cell_data(text);
    row.set("cells", cells);
    rows << row;
  }
  data verdicts{data::type::list};
  for (const Comparison& comparison : comparisons(study))
    verdicts << data{"text", verdict(study, comparison)};
  data out;
  out.set("rows", rows);
  out.set("verdicts", verdicts);
  return out;
}

data page_data(const Study& study) {
  data page;
  page.set("title", study.title);
  page.set("style", std::string(page_style));
  page.set("script", std::string(page_script));
  page.set("chart_library", std::string(chart_library));
  Json charts = Json::array();
  for (const LineFigure& figure : study_figures(study)) charts.push_back(chart_json(figure));
  page.set("charts", script_safe(charts.dump()));
  page.set("summary", table_data(summary_table(study)));
  if (study.trackers.size() > 1) page.set("comparison", comparison_data(study));
  page.set("runs", table_data(run_table(study)));
  if (study.missing_runs > 0) page.set("missing", std::to_string(study.missing_runs));
  data sequences{data::type::list};
  for (int i = 0; i < static_cast<int>(study.sequences.size()); ++i) sequences << sequence_data(study, i);
  page.set("sequences", sequences);
  data trackers{data::type::list};
  for (int i = 0; i < static_cast<int>(study.trackers.size()); ++i) trackers << tracker_data(study, i);
  page.set("trackers", trackers);
  page.set("build",
           fmt::format("Mnemon {} ({}), code {}, on {} with {} cores", study.build.version,
                       study.build.compiler, study.build.code, study.build.processor, study.build.cores));
  return page;
}

}  // namespace

std::string page_html(const Study& study) {
  mustache page{std::string(page_template)};
  return page.render(page_data(study));
}

std::filesystem::path write_report(const Study& study, const std::filesystem::path& study_folder) {
  const std::filesystem::path page = study_folder / "report" / "index.html";
  const std::filesystem::path figures = study_folder / "report" / "figures";
  write_file(page, page_html(study));
  for (int i = 0; i < static_cast<int>(study.sequences.size()); ++i) {
    const auto pictures = film_strip(study, i);
    const std::string name = "strip-" + file_name_of(study.sequences[i].name) + ".png";
    if (!pictures.empty()) write_png(figures / name, contact_sheet(pictures).view());
  }
  draw_figures(study_figures(study), figures);
  return page;
}

}  // namespace mnemon
