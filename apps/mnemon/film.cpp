// SPDX-License-Identifier: MIT
#include <filesystem>
#include <memory>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/report/film.hpp>
#include <mnemon/report/selection.hpp>
#include <mnemon/track/catalogue.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string folder;
  std::string sequence;
  std::string out;
  std::string only;
  std::vector<std::string> rename;
  std::vector<std::string> inks;
  FilmForm form;
  bool overwrite = false;
};

void run(const Options& options) {
  FilmForm form = options.form;
  for (const std::string& ink : options.inks) form.inks.push_back(parse_ink(ink));
  form.check();
  if (form.stage_over && form.stage.empty())
    throw CallError("--stage-over lays a stage over the frame; name it with --stage");
  Selection selection;
  if (!options.only.empty()) selection.only = parse_labels(options.only);
  for (const std::string& renaming : options.rename) selection.rename.push_back(parse_renaming(renaming));
  const std::filesystem::path out =
      options.out.empty() ? file_name_of(options.sequence) + ".mp4" : options.out;
  if (!is_video_sink_name(out))
    throw CallError(fmt::format("--out {}: a film ends in {}", out.string(), video_sink_endings()));
  if (!options.overwrite && std::filesystem::exists(out))
    throw CallError(fmt::format("{}: is there already; name another file, or add --overwrite", out.string()));
  const Study study = selected(read_study(options.folder), selection);
  ProgressLine line("drawing " + options.sequence);
  const Interruption interruption;
  const Catalogue catalogue = Catalogue::standard();
  const auto make = [&](const StudyTracker& tracker) {
    if (tracker.is_process())
      throw CallError(
          fmt::format("'{}' ran in another process: its stages are not shown here", tracker.label));
    return catalogue.make(tracker.name, params_from_json(tracker.params));
  };
  write_film(Results(study), options.sequence, form, out, make, [&](int done, int total) {
    line.show(done, total);
    interruption.check();
  });
  print("Film: {}\n", out.string());
}

}  // namespace

void add_film(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("film", "Make a film of a study's trackers on one of its sequences.",
                          "mnemon film demo/study crossing --only fusion,corr-kernel --out crossing.mp4");
  verb.text("DIR", "", options->folder, "the study's folder", Need::required);
  verb.text("SEQUENCE", "", options->sequence, "one of its sequences, by name", Need::required);
  verb.text("--out", "NAME.mp4", options->out, "the film's file (default: SEQUENCE.mp4)");
  verb.text("--only", "A,B,C", options->only, "only these trackers, by their labels");
  verb.texts("--rename", "LABEL=SHOWN", options->rename, "show a tracker under another label (repeatable)");
  verb.texts("--ink", "LABEL=#rrggbb", options->inks, "draw a tracker in another colour (repeatable)");
  verb.text("--stage", "NAME", options->form.stage,
            "run the one tracker of --only again and put one of its inner pictures beside the frame");
  verb.flag("--stage-over", options->form.stage_over, "lay it translucent over the frame instead");
  verb.flag("--beside", options->form.is_beside, "a picture a tracker, side by side, instead of all on one");
  verb.flag("--swap", options->form.is_swapped, "swap left and right of the frames");
  verb.real("--line-px", options->form.line_px, "how thick boxes are drawn, 0.5 to 20 px (default: 2)");
  verb.whole("--width", 0, options->form.width,
             "of each picture, 64 to 4096 px (default: that of the frames, side by side half of it)");
  verb.flag("--overwrite", options->overwrite, "replace a file that is there");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
