// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <memory>

#include <fmt/format.h>

#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/frame_source.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/overlay.hpp>
#include <mnemon/score/run_score.hpp>
#include <mnemon/study/follow.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/track/catalogue.hpp>

#include "progress.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string sequence;
  std::string tracker;
  std::string box;
  std::vector<std::string> set;
  std::string trace;
  std::string overlay;
  std::string stages;
  int from = -1;
  int to = -1;
  bool json = false;
};

Box parse_box(const std::string& text) {
  std::vector<double> numbers;
  for (std::size_t begin = 0; begin <= text.size();) {
    const std::size_t end = std::min(text.find(',', begin), text.size());
    const auto number = parse_real(std::string_view(text).substr(begin, end - begin));
    if (!number) break;
    numbers.push_back(*number);
    begin = end + 1;
  }
  if (numbers.size() != 4 || std::count(text.begin(), text.end(), ',') != 3)
    throw CallError(
        fmt::format("--box {} is not a box: write x,y,w,h in pixels, such as 101.5,80,40,36", text));
  return {numbers[0], numbers[1], numbers[2], numbers[3]};
}

// A folder named like a video would puzzle whoever looks for the video.
void check_is_folder_name(const std::string& option, const std::filesystem::path& folder) {
  for (const char* ending : {".mp4", ".mkv", ".avi", ".mov", ".webm", ".png", ".jpg", ".jpeg"})
    if (folder.extension() == ending)
      throw CallError(fmt::format("{} {}: only a folder of numbered pictures can be written; name a folder",
                                  option, folder.string()));
}

FollowRange range_of(const Options& options) {
  FollowRange range;
  if (!options.box.empty()) range.box = parse_box(options.box);
  if (options.from >= 0) range.from = options.from;
  if (options.to >= 0) range.to = options.to;
  return range;
}

// Writes the pictures of each frame into folders that appear only when all is done.
class Pictures {
 public:
  explicit Pictures(const Options& options) : tracker_(options.tracker) {
    check_is_folder_name("--overlay", options.overlay);
    check_is_folder_name("--stages", options.stages);
    if (!options.overlay.empty()) overlay_ = std::make_unique<NewFolder>(options.overlay);
    if (!options.stages.empty()) stages_ = std::make_unique<NewFolder>(options.stages);
  }

  void take(const Frame& frame, const TraceRow& row, const TruthRow* truth, Tracker& tracker) const {
    const std::string name = numbered_name("%06d.png", frame.index);
    if (overlay_) write_png(overlay_->path() / name, overlay_picture(frame, tracker_, row, truth).view());
    if (!stages_) return;
    for (const Stage& stage : tracker.stages())
      write_png(stages_->path() / stage.name / name, stage_picture(stage).view());
  }

  void finish() const {
    if (overlay_) overlay_->finish();
    if (stages_) stages_->finish();
  }

 private:
  std::string tracker_;
  std::unique_ptr<NewFolder> overlay_;
  std::unique_ptr<NewFolder> stages_;
};

std::string number(const Figure& figure, int decimals) {
  return figure ? fmt::format("{:.{}f}", *figure, decimals) : "-";
}

Json summary_json(const Trace& trace, const Speed& speed) {
  int lost = 0;
  for (const TraceRow& row : trace.rows) lost += row.present ? 0 : 1;
  return {{"first_frame", trace.rows.front().frame},
          {"last_frame", trace.rows.back().frame},
          {"frames", trace.rows.size()},
          {"lost_frames", lost},
          {"step_ms_p50", figure_json(speed.step_ms_p50)},
          {"frames_per_s", figure_json(speed.frames_per_s)}};
}

void print_summary(const Options& options, const Trace& trace, const Sequence& sequence) {
  const int seed_frame = trace.rows.front().frame;
  const Speed speed = summarise_speed(step_times(trace, seed_frame), trace.rows.front().step_ms);
  Json json = summary_json(trace, speed);
  if (!options.json)
    fmt::print("{} on {}: frames {} to {}, lost on {}\nstep {} ms (median), {} frames/s\n", options.tracker,
               sequence.name, seed_frame, trace.rows.back().frame, json["lost_frames"].get<int>(),
               number(speed.step_ms_p50, 3), number(speed.frames_per_s, 0));
  if (sequence.has_truth()) {
    const RunScore score = score_run(sequence.truth, trace, {{}, trace.rows.back().frame});
    json["success_area"] = figure_json(score.success_area);
    json["absence_rate"] = figure_json(score.absence_rate);
    if (!options.json)
      fmt::print("success area {} over {} present frames; absence told on {} of {} absent frames\n",
                 number(score.success_area, 3), score.present_frames,
                 score.absence_rate ? std::lround(*score.absence_rate * score.absent_frames) : 0,
                 score.absent_frames);
  }
  if (options.json) fmt::print("{}\n", json.dump(2));
}

void run(const Options& options) {
  const Catalogue catalogue = Catalogue::standard();
  ParamSet set;
  for (const std::string& text : options.set)
    set_from_text(set, catalogue.entry(options.tracker).schema, options.tracker, text);
  const auto tracker = catalogue.make(options.tracker, set);
  const Sequence sequence = read_sequence(options.sequence);
  const FollowRange range = range_of(options);
  const Pictures pictures(options);
  ProgressLine line("following " + sequence.name);
  const int total = static_cast<int>(frame_files(sequence).size());
  const Trace trace = follow_sequence(*tracker, sequence, range,
                                      [&](const Frame& frame, const TraceRow& row, Tracker& at_work) {
                                        pictures.take(frame, row, sequence.truth.find(frame.index), at_work);
                                        line.show(frame.index + 1, total);
                                      });
  pictures.finish();
  if (options.trace == "-") {
    fmt::print("{}", trace_text(trace));
    return;
  }
  if (!options.trace.empty()) write_file(options.trace, trace_text(trace));
  print_summary(options, trace, sequence);
}

}  // namespace

void add_follow(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add(
      "follow", "Follow one target through a sequence.",
      "mnemon follow demo/kites/steady --tracker corr-plain --set padding=2.5 --trace steady.csv");
  verb.text("SEQUENCE", "", options->sequence, "a folder with a sequence.toml, or a folder of pictures",
            Need::required);
  verb.text("--tracker", "NAME", options->tracker, "which tracker; 'mnemon trackers' lists them",
            Need::required);
  verb.text("--box", "X,Y,W,H", options->box,
            "where the target is on the first frame, px (default: the first truth box)");
  verb.texts("--set", "KEY=VAL", options->set,
             "a parameter (repeatable); 'mnemon trackers NAME' lists them with ranges");
  verb.text("--trace", "FILE", options->trace, "write the estimates, a row a frame; - for standard output");
  verb.text("--overlay", "DIR", options->overlay, "write the frames with the box drawn, into a new folder");
  verb.text("--stages", "DIR", options->stages, "write the tracker's inner pictures, into a new folder");
  verb.whole("--from", 0, options->from, "the first frame (default: 0)");
  verb.whole("--to", 0, options->to, "the last frame (default: the sequence's)");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
