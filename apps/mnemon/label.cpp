// SPDX-License-Identifier: MIT
#include <filesystem>
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/run/label_folder.hpp>
#include <mnemon/sequence/sequence.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"
#include "tracker_choice.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string sequence;
  std::string marks;
  std::string to;
  std::string tracker;
  std::string settings;
  std::vector<std::string> set;
  bool overwrite = false;
  bool json = false;
};

void run(const Options& options) {
  const Catalogue catalogue = Catalogue::standard();
  const TrackerSettings settings = chosen_tracker(options.tracker, options.settings, options.set, catalogue);
  const std::vector<Mark> marks = read_marks(options.marks);
  const Sequence source = read_sequence(options.sequence);
  const int count = count_frames(source);
  NewFolder made(options.to, options.overwrite ? Replace::if_only_of(label_file_names())
                                               : Replace::nothing());
  ProgressLine line("labelling");
  const Interruption interruption;
  const std::vector<Label> labels = label_frames(
      marks, count, [&] { return catalogue.make(settings.tracker, settings.set); },
      visits_of([&] { return open_frames(source); }),
      [&](int done, int total) {
        line.show(done, total);
        interruption.check();
      });
  const LabelCounts counts = write_labels(labels, options.sequence, source, made.path());
  made.finish();
  if (options.json)
    print_json({{"folder", options.to},
                {"frames", counts.frames},
                {"marks", marks.size()},
                {"masks", counts.masks},
                {"to_review", counts.to_review}});
  else
    print("{}: {} frames labelled from {} marks by {}{}; {} to look at, in review.csv\n", options.to,
          counts.frames, marks.size(), settings.tracker,
          counts.masks > 0 ? fmt::format(", {} with masks", counts.masks) : "", counts.to_review);
}

}  // namespace

void add_label(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb =
      program.add("label",
                  "Label the frames between those that a person marked, with a tracker that goes forwards "
                  "from each mark and backwards from the next.",
                  "mnemon label demo/kites/crossing --marks marks.csv --to labelled");
  verb.text("SEQUENCE", "", options->sequence, "a sequence, a folder of pictures, or a video",
            Need::required);
  verb.text("--marks", "FILE", options->marks,
            "the marks: frame,x,y,w,h and optionally angle, region, present, by", Need::required);
  verb.text("--to", "DIR", options->to, "the new folder for truth, masks, marks and review.csv",
            Need::required);
  verb.text("--tracker", "NAME", options->tracker,
            fmt::format("one that 'mnemon trackers' lists (default: {})", kUsualTracker));
  verb.text("--settings", "FILE", options->settings, "tracker and parameters from a settings file");
  verb.texts("--set", "KEY=VAL", options->set, "a parameter (repeatable)");
  verb.flag("--overwrite", options->overwrite, "replace what an earlier call left in DIR");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
