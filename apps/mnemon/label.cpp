// SPDX-License-Identifier: MIT
#include <algorithm>
#include <filesystem>
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/run/label.hpp>
#include <mnemon/sequence/import.hpp>
#include <mnemon/sequence/sequence.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"
#include "tracker_choice.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

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

Truth truth_of(const std::vector<Label>& labels) {
  Truth truth;
  for (const Label& label : labels)
    truth.rows.push_back({label.mark.frame, label.mark.box, label.mark.present});
  return truth;
}

std::string review_text(const std::vector<Label>& labels) {
  std::string text = "frame,sure,why\n";
  for (const Label& label : labels)
    if (!label.why.empty())
      text += fmt::format("{},{},{}\n", label.mark.frame, number_text(label.sure), label.why);
  return text;
}

// \returns  How many were written.
int write_masks(const std::vector<Label>& labels, const fs::path& folder) {
  int count = 0;
  for (const Label& label : labels) {
    if (label.mask.lengths.empty()) continue;
    Image<Byte> mask(label.mask.rows, label.mask.cols);
    draw_into(label.mask, mask.view());
    for (Byte& pixel : mask.elements()) pixel = pixel != 0 ? 255 : 0;
    write_png(folder / numbered_name("%06d.png", label.mark.frame), mask.view());
    ++count;
  }
  return count;
}

void run(const Options& options) {
  const Catalogue catalogue = Catalogue::standard();
  const TrackerSettings settings = chosen_tracker(options.tracker, options.settings, options.set, catalogue);
  const std::vector<Mark> marks = read_marks(options.marks);
  const Sequence source = read_sequence(options.sequence);
  const int count = count_frames(source);
  NewFolder made(options.to, options.overwrite ? Replace::if_only_of({"marks.csv", "masks", "review.csv",
                                                                      "sequence.toml", "truth.csv"})
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
  auto [sequence, frames] = describe_frames(options.sequence, truth_of(labels), made.path());
  sequence.title = source.title;
  sequence.rate_hz = source.rate_hz;
  sequence.tags = source.tags;
  const int masks = write_masks(labels, made.path() / "masks");
  if (masks > 0) sequence.masks = "masks/%06d.png";
  write_sequence(sequence, made.path());
  std::vector<Mark> all;
  for (const Label& label : labels) all.push_back(label.mark);
  write_file(made.path() / "marks.csv", marks_text(all));
  write_file(made.path() / "review.csv", review_text(labels));
  made.finish();
  const auto review = std::ranges::count_if(labels, [](const Label& label) { return !label.why.empty(); });
  if (options.json)
    print_json({{"folder", options.to},
                {"frames", frames},
                {"marks", marks.size()},
                {"masks", masks},
                {"to_review", review}});
  else
    print("{}: {} frames labelled from {} marks by {}{}; {} to look at, in review.csv\n", options.to, frames,
          marks.size(), settings.tracker, masks > 0 ? fmt::format(", {} with masks", masks) : "", review);
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
