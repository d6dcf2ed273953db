// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/report/page.hpp>
#include <mnemon/report/paper.hpp>
#include <mnemon/report/selection.hpp>
#include <mnemon/report/study_json.hpp>
#include <mnemon/report/study_text.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string folder;
  std::string only;
  std::vector<std::string> rename;
  double width_cm = 0;
  bool text = false;
  bool pdf = false;
  bool latex = false;
  bool intervals = false;
  bool pairs = false;
  bool json = false;

  [[nodiscard]] bool is_for_paper() const { return pdf || latex || intervals || width_cm != 0; }
};

Selection selection_of(const Options& options) {
  Selection selection;
  if (!options.only.empty()) selection.only = parse_labels(options.only);
  for (const std::string& renaming : options.rename) selection.rename.push_back(parse_renaming(renaming));
  return selection;
}

PaperForm paper_form(const Options& options) {
  return {options.width_cm, options.pdf, options.latex, options.intervals};
}

void run(const Options& options) {
  const Interruption interruption;
  const StudyParts parts{.runs = options.json ? RunParts::all : RunParts::figures};
  const Study study = selected(read_study(options.folder, parts), selection_of(options));
  const Pairs pairs = options.pairs ? Pairs::listed : Pairs::left_out;
  if (options.text) {
    print("{}\n\n{}", study.title, study_text(Results(study), pairs));
    return;
  }
  if (options.is_for_paper()) {
    const std::filesystem::path paper = write_paper(study, paper_form(options), options.folder);
    interruption.check();
    if (options.json)
      print_json({{"tables", (paper / "tables").string()}, {"figures", (paper / "figures").string()}});
    else
      print("Tables: {}\nFigures: {}\n", (paper / "tables").string(), (paper / "figures").string());
    return;
  }
  const std::filesystem::path page = write_report(study, options.folder);
  interruption.check();
  if (options.json) {
    Json json = study_json(Results(study));
    json["page"] = page.string();
    print_json(json);
    return;
  }
  print("{}\n\n{}Page: {}\nFigures: {}\n", study.title, study_text(Results(study), pairs), page.string(),
        (page.parent_path() / "figures").string());
}

}  // namespace

void add_report(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb =
      program.add("report", "Turn a study into a page, figures and tables.", "mnemon report demo/study");
  verb.text("DIR", "", options->folder, "the study's folder; the page goes into its report/", Need::required);
  verb.flag("--text", options->text, "print what there is to say, in 100 columns, and write nothing");
  verb.text("--only", "A,B,C", options->only, "only these trackers, by their labels");
  verb.texts("--rename", "LABEL=SHOWN", options->rename, "show a tracker under another label (repeatable)");
  verb.real("--width-cm", options->width_cm,
            "for print: figures of that width, 4 to 40 cm, without titles, and tables; into report/paper/");
  verb.flag("--pdf", options->pdf, "for print: figures as PDF beside SVG and PNG");
  verb.flag("--latex", options->latex, "for print: tables as LaTeX beside Markdown and CSV");
  verb.flag("--intervals", options->intervals, "for print: tables with 95 % intervals");
  verb.flag("--pairs", options->pairs, "also say what can be said of every pair of trackers");
  verb.flag("--json", options->json, "print JSON, with every score");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
