// SPDX-License-Identifier: MIT
#include <mnemon/report/page.hpp>

#include <algorithm>
#include <array>
#include <fstream>
#include <sstream>
#include <string_view>
#include <utility>

#include <fmt/format.h>
#include <kainjow/mustache.hpp>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/report_data.hpp>
#include <mnemon/report/strip.hpp>

namespace mnemon {

// Files in `page/`, and Chart.js from its package, put in by the build.
extern const std::string_view page_template;
extern const std::string_view page_style;
extern const std::string_view page_charts;
extern const std::string_view page_data;
extern const std::string_view page_elements;
extern const std::string_view page_losses;
extern const std::string_view page_main;
extern const std::string_view page_parts;
extern const std::string_view page_state;
extern const std::string_view page_tables;
extern const std::string_view page_viewer;
extern const std::string_view chart_library;

namespace {

namespace fs = std::filesystem;

// More pictures than this, in bytes, stand beside the page and not in it.
constexpr std::size_t kMostInPage = 64'000'000;
constexpr const char* kPictureFolder = "pictures";

// JSON inside a script element: without '<' no text in it can end the element, or begin a comment in which it does
// not end.
std::string script_safe(const std::string& json) {
  std::string safe;
  safe.reserve(json.size());
  for (const char c : json) {
    if (c == '<')
      safe += "\\u003c";
    else
      safe += c;
  }
  return safe;
}

// Modules that lie beside a page opened from a file are refused by browsers; those at data addresses are not.
Json import_map() {
  const std::array<std::pair<const char*, std::string_view>, 9> modules{{{"charts", page_charts},
                                                                         {"data", page_data},
                                                                         {"elements", page_elements},
                                                                         {"losses", page_losses},
                                                                         {"main", page_main},
                                                                         {"parts", page_parts},
                                                                         {"state", page_state},
                                                                         {"tables", page_tables},
                                                                         {"viewer", page_viewer}}};
  Json imports = Json::object();
  for (const auto& [name, text] : modules)
    imports[fmt::format("mnemon/{}", name)] = "data:text/javascript;base64," + base64(text);
  return {{"imports", imports}};
}

std::string safe_text(const Json& json) { return script_safe(json_text(json)); }

// The members of an object, without its braces.
std::string members(const Json& object) {
  const std::string text = safe_text(object);
  return text.substr(1, text.size() - 2);
}

// Writes the page's data; rows of tables, sequences and runs one after the other: together they take much memory.
void write_data(const Json& shown, const Results& results, const PlacePicture& place, std::ostream& out) {
  out << '{' << members(shown) << ",\"protocols\":[";
  char before = ' ';
  visit_protocol_data(results, [&](const Json& protocol, const VisitRowData& rows) {
    out << std::exchange(before, ',') << '{' << members(protocol) << ",\"runs\":{\"rows\":[";
    char before_row = ' ';
    Json rest = rows([&](const Json& row) { out << std::exchange(before_row, ',') << safe_text(row); });
    rest.erase("rows");
    out << "]," << members(rest) << "}}";
  });
  out << "],\"sequences\":{";
  before = ' ';
  visit_sequence_data(results, place, [&](int sequence, const Json& data) {
    out << std::exchange(before, ',') << '"' << sequence << "\":" << safe_text(data);
  });
  out << "},\"runs\":[";
  before = ' ';
  visit_run_data(results, place,
                 [&](const Json& data) { out << std::exchange(before, ',') << safe_text(data); });
  out << "]}";
}

void write_page(const Json& shown, const Results& results, const PlacePicture& place, std::ostream& out) {
  constexpr std::string_view kData = "{{{data}}}";
  const std::size_t at = page_template.find(kData);
  kainjow::mustache::data values;
  values.set("title", results.study().title);
  values.set("style", std::string(page_style));
  values.set("chart_library", std::string(chart_library));
  values.set("imports", script_safe(json_text(import_map())));
  const auto rendered = [&values](std::string_view part) {
    return plain_text(kainjow::mustache::mustache{std::string(part)}.render(values));
  };
  out << rendered(page_template.substr(0, at));
  write_data(shown, results, place, out);
  out << rendered(page_template.substr(at + kData.size()));
}

void write_page_file(const Json& shown, const Results& results, const PlacePicture& place,
                     const fs::path& file) {
  NewFile made(file);
  std::ofstream out(made.path(), std::ios::binary);
  write_page(shown, results, place, out);
  out.close();
  if (!out) throw DataError({file}, "cannot be written; is the disk full?");
  made.finish();
}

// A file's name as part of an address: what `file_name_of` leaves in a name are percent signs alone.
std::string address_of(const std::string& name) {
  std::string address;
  for (const char c : name) address += c == '%' ? "%25" : std::string(1, c);
  return address;
}

std::string embedded(const std::string&, const std::string& jpeg) {
  return "data:image/jpeg;base64," + base64(jpeg);
}

}  // namespace

std::string page_html(const Study& study) {
  const Results results(study);
  std::ostringstream page;
  write_page(report_data(results, answered_questions(results)), results, embedded, page);
  return std::move(page).str();
}

fs::path write_report(const Study& study, const fs::path& study_folder) {
  const fs::path folder = study_folder / "report";
  const fs::path page = folder / "index.html";
  const fs::path figures = folder / "figures";
  const Results results(study);
  const std::vector<Answered> answers = answered_questions(results);
  if (study.picture_bytes() <= kMostInPage) {
    fs::remove_all(folder / kPictureFolder);
    write_page_file(report_data(results, answers), results, embedded, page);
  } else {
    const auto beside = [&](const std::string& name, const std::string& jpeg) {
      write_file(folder / kPictureFolder / name, jpeg);
      return fmt::format("{}/{}", kPictureFolder, address_of(name));
    };
    Json shown = report_data(results, answers);
    shown["pictures_beside"] = true;
    write_page_file(shown, results, beside, page);
  }
  if (!results.protocols().empty())
    for (const int sequence : results.sequences()) {
      const auto pictures = film_strip(results, results.protocols().front(), sequence);
      const std::string name = "strip-" + file_name_of(study.sequences[sequence].name) + ".png";
      if (!pictures.empty()) write_png(figures / name, contact_sheet(pictures).view());
    }
  draw_figures(
      [&](const auto& use) {
        std::ranges::for_each(figures_of(answers), use);
        visit_overlap_figures(results, use);
      },
      figures);
  return page;
}

}  // namespace mnemon
