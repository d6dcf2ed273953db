// SPDX-License-Identifier: MIT
#include <algorithm>
#include <memory>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/run/label_folder.hpp>
#include <mnemon/run/pairs.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"
#include "tracker_choice.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::vector<std::string> sequences;
  std::string marks;
  std::string to;
  std::string tracker;
  std::string settings;
  std::vector<std::string> set;
  bool cut = false;
  bool pairs = false;
  PairOptions pair;
  bool overwrite = false;
  bool json = false;
};

void check(const Options& options) {
  const int ways = (options.marks.empty() ? 0 : 1) + (options.cut ? 1 : 0) + (options.pairs ? 1 : 0);
  if (ways != 1)
    throw CallError(
        "say what to label from: --marks FILE, --cut for boxes that every frame brings, or --pairs");
  if (options.sequences.empty()) throw CallError("name a sequence, a folder of pictures, or a video");
  if (options.sequences.size() > 1 && !options.pairs)
    throw CallError("one sequence is labelled at a time; --pairs takes several that are");
}

// Pictures with boxes and masks, from sequences that have them.
void run_pairs(const Options& options) {
  std::vector<Sequence> sequences;
  for (const std::string& name : options.sequences) sequences.push_back(read_sequence(name));
  NewFolder made(options.to, options.overwrite ? Replace::if_only_of({"masks", "pairs.json", "pictures"})
                                               : Replace::nothing());
  PairCounts counts;
  {
    ProgressLine line("writing pairs");
    const Interruption interruption;
    counts = write_pairs(sequences, made.path(), options.pair, [&](int done, int total) {
      line.show(done, total);
      interruption.check();
    });
  }
  made.finish();
  if (options.json)
    print_json({{"folder", options.to},
                {"pictures", counts.pictures},
                {"masks", counts.masks},
                {"training", counts.training},
                {"checking", counts.checking}});
  else
    print("{}: {} pictures, {} with masks; {} sequences to learn from, {} to check by\n", options.to,
          counts.pictures, counts.masks, counts.training.size(), counts.checking.size());
}

std::vector<Label> labels_of(const Options& options, const Sequence& source, const MakeTracker& make,
                             const std::function<void(int, int)>& progress) {
  const VisitFrames visit = visits_of([&] { return open_frames(source); });
  if (options.cut) return cut_masks(source.truth, make, visit, progress);
  return label_frames(read_marks(options.marks), count_frames(source), make, visit, progress);
}

void run(const Options& options) {
  check(options);
  if (options.pairs) {
    run_pairs(options);
    return;
  }
  const std::string& name = options.sequences.front();
  const Catalogue catalogue = Catalogue::standard();
  const TrackerSettings settings = chosen_tracker(options.tracker, options.settings, options.set, catalogue);
  const Sequence source = read_sequence(name);
  NewFolder made(options.to,
                 options.overwrite ? Replace::if_only_of(label_file_names()) : Replace::nothing());
  std::vector<Label> labels;
  {
    ProgressLine line("labelling");
    const Interruption interruption;
    labels = labels_of(
        options, source,
        [&] { return shown(catalogue.make(settings.tracker, settings.set), {.keep_out = source.keep_out}); },
        [&](int done, int total) {
          line.show(done, total);
          interruption.check();
        });
  }
  const auto marks = std::ranges::count(labels, "person", [](const Label& label) { return label.mark.by; });
  const LabelCounts counts = write_labels(labels, name, source, made.path());
  made.finish();
  if (options.json)
    print_json({{"folder", options.to},
                {"frames", counts.frames},
                {"marks", marks},
                {"masks", counts.masks},
                {"to_review", counts.to_review}});
  else
    print("{}: {} frames labelled from {} marks by {}{}; {} to look at, in review.csv\n", options.to,
          counts.frames, marks, settings.tracker,
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
  verb.texts("SEQUENCE", "", options->sequences,
             "a sequence, a folder of pictures, or a video; several for --pairs");
  verb.text("--marks", "FILE", options->marks,
            "the marks: frame,x,y,w,h and optionally angle, region, present, by");
  verb.flag("--cut", options->cut,
            "every frame of the sequence brings its box: cut the target out of each, with a tracker that "
            "answers masks");
  verb.flag("--pairs", options->pairs,
            "write pictures, boxes and masks of sequences that have them, to learn from; whole sequences are "
            "set aside to check by");
  verb.whole("--step", 1, options->pair.step, "with --pairs: of every so many frames the first (default: 1)");
  verb.real("--check-share", options->pair.check_share,
            "with --pairs: the share of sequences to check by (default: 0.2)");
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
