// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <memory>
#include <optional>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/media/read_ahead.hpp>
#include <mnemon/run/follow_tally.hpp>
#include <mnemon/run/following.hpp>
#include <mnemon/run/process/process_detector.hpp>
#include <mnemon/sequence/input.hpp>
#include <mnemon/sequence/position.hpp>
#include <mnemon/study/follow_json.hpp>
#include <mnemon/study/settings.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "command_words.hpp"
#include "follow_files.hpp"
#include "interruption.hpp"
#include "output.hpp"
#include "plugins.hpp"
#include "progress.hpp"
#include "regions.hpp"
#include "tracker_choice.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string sequence;
  MarkTexts marks;
  std::vector<std::string> set;
  std::string command;
  std::vector<std::string> plugins;
  std::string detector;
  double detect_from = 0.5;
  std::string settings;
  std::string save_settings;
  FollowFiles files;
  int from = -1;
  int to = -1;
  int step = 1;
  int width = 0;
  std::vector<std::string> keep_out;
  double smooth_s = 0;
  bool wait = false;
  bool json = false;
};

FollowOptions options_of(const Options& options, const Marks& marks, bool watches) {
  FollowOptions follow;
  const std::optional<NamedMark> named = marks.named_first();
  if (named && options.from >= 0)
    throw CallError(
        fmt::format("{} names its frame, and so does --from {}; leave one out", named->text, options.from));
  // A tracker that watches is shown what comes before the target is marked.
  follow.first = named && !watches ? named->frame : std::max(0, options.from);
  if (options.to >= 0) follow.last = options.to;
  follow.step = options.step;
  follow.smooth_s = options.smooth_s;
  follow.check();
  marks.check_after(follow.first);
  return follow;
}

// Which columns a trace needs beyond the usual ones: what the tracker measures, and what that makes known.
TraceColumns columns_of(const Sequence& sequence, bool measures) {
  return {measures, measures && position_of(sequence, {}, 1).has_value()};
}

std::string number(const Figure& figure, int decimals) {
  return figure ? fmt::format("{:.{}f}", *figure, decimals) : "-";
}

// What is said of what following came to.
std::string summary_text(const FollowSummary& summary, const std::string& tracker,
                         const std::string& sequence, const std::vector<SeedChoice>& choices) {
  std::string text =
      fmt::format("{} on {}: frames {} to {}, lost on {}{}\n", tracker, sequence, summary.first_frame,
                  summary.last_frame, summary.lost_frames,
                  summary.skipped_frames > 0 ? fmt::format(", {} not taken", summary.skipped_frames) : "");
  if (!choices.empty()) {
    text += "by the seed: ";
    for (const SeedChoice& choice : choices)
      text += fmt::format("{}{} {}{}{}", &choice == choices.data() ? "" : ", ", choice.name,
                          to_text(choice.value), choice.unit.empty() ? "" : " ", choice.unit);
    text += "\n";
  }
  text += fmt::format("step {} ms ({}), {} frames/s\n",
                      number(summary.rows_kept ? summary.step_ms_p50 : summary.step_ms_mean, 3),
                      summary.rows_kept ? "median" : "mean", number(summary.frames_per_s, 0));
  if (const std::optional<RunScore>& score = summary.score) {
    text += fmt::format("success area {} over {} present frames; absence told on {} of {} absent frames\n",
                        number(score->success_area, 3), score->present_frames,
                        score->absence_rate ? std::lround(*score->absence_rate * score->absent_frames) : 0,
                        score->absent_frames);
    if (score->position_frames > 0)
      text += fmt::format("position off by {} of the range (median) over {} frames\n",
                          number(score->position_error_median, 4), score->position_frames);
  }
  if (summary.mask_overlap)
    text += fmt::format("mask overlap {:.3f} (mean) over {} frames with a true mask\n", *summary.mask_overlap,
                        summary.masks_compared);
  return text;
}

void print_now(const std::string& text) {
  print_text(text);
  flush_output();
}

// What a call of the verb is at: where rows go.
class Follower {
 public:
  Follower(const Options& options, const Interruption& interruption, Input input, const FollowOptions& follow)
      : options_(options),
        interruption_(interruption),
        input_(std::move(input)),
        follow_(follow),
        prints_rows_(input_.is_stream || options.files.trace == "-"),
        pictures_(options.files, input_.sequence, input_.sequence.rate_hz / follow.step),
        line_("following " + input_.sequence.name),
        // A stream may go on for days: of it only what is printed is kept.
        tally_(input_.sequence, !input_.is_stream || input_.sequence.has_truth()) {
    if (!options.files.review.empty()) review_.emplace(options.files.review, options.files.review_below);
  }

  void follow(Tracker& tracker, const MarkOnFrame& marks) {
    Following following(tracker, *input_.frames, follow_, marks);
    while (const auto step = following.step()) {
      take(step->row, step->frame, tracker);
      // An interrupted stream ends; what has been followed of it is written.
      if (!input_.is_stream) interruption_.check();
      if (interruption_.interrupt().is_raised()) break;
    }
    if (tally_.frames() == 0) interruption_.check();
    if (tally_.frames() == 0)
      throw CallError(fmt::format("'{}' ended before there was a region", input_.sequence.name));
    pictures_.finish();
    if (file_) file_->finish();
    if (review_) review_->finish();
  }

  [[nodiscard]] const std::vector<SeedChoice>& choices() const noexcept { return choices_; }

  // For streams, whose rows are on standard output, the summary goes to standard error.
  void print_summary() {
    const FollowSummary summary = tally_.summary();
    if (options_.json) {
      Json json = follow_json(summary, choices_);
      if (review_) json["review_frames"] = review_->frames();
      if (input_.is_stream)
        print_now(json_text(json) + "\n");
      else
        print_json(json);
      return;
    }
    std::string text = summary_text(summary, options_.files.tracker, input_.sequence.name, choices_);
    if (review_)
      text += fmt::format("{} frames to look at in {}\n", review_->frames(), options_.files.review);
    if (prints_rows_)
      note_text(text);
    else
      print_text(text);
  }

 private:
  void take(TraceRow row, const Frame* frame, Tracker& tracker) {
    add_position(input_.sequence, row);
    if (tally_.frames() == 0) {
      choices_ = tracker.choices();
      begin(row);
    }
    tally_.take(row);
    if (review_) review_->put(row);
    if (frame != nullptr && row.event == Event::none) {
      const ImageView<const Byte> mask = tracker.mask();
      if (mask.rows == frame->rgb.rows && mask.cols == frame->rgb.cols) tally_.compare(row, mask);
    }
    if (frame != nullptr) pictures_.take(*frame, row, tracker);
    if (file_) file_->put(row);
    if (prints_rows_)
      print_now(options_.json ? json_text(row_json(row)) + "\n" : trace_row_text(row, columns_));
    else
      line_.show(row.frame + 1, input_.frames->total().value_or(0));
  }

  void begin(const TraceRow& row) {
    columns_ = columns_of(input_.sequence, row.minor_px.has_value());
    const std::string& trace = options_.files.trace;
    const std::string remark = input_.frames->remark();
    if (!remark.empty()) note("{}: {}\n", input_.sequence.name, remark);
    if (!trace.empty() && trace != "-")
      file_ = std::make_unique<TraceFile>(trace, input_.is_stream, columns_, remark);
    if (prints_rows_ && !options_.json) print_now(trace_header(columns_));
    const Box& box = row.box.box;
    if (input_.is_stream || options_.wait)
      note("started on frame {} from {:.6g},{:.6g},{:.6g},{:.6g}\n", row.frame, box.x, box.y, box.w, box.h);
  }

  const Options& options_;
  const Interruption& interruption_;
  Input input_;
  FollowOptions follow_;
  bool prints_rows_;
  FollowPictures pictures_;
  std::unique_ptr<TraceFile> file_;
  ProgressLine line_;
  TraceColumns columns_;
  std::optional<ReviewFile> review_;
  std::vector<SeedChoice> choices_;
  FollowTally tally_;
};

// Where the target is, as lines on standard input say. Those of a stream may correct it later on; of frames that wait for
// nobody it would be chance which one a later line meets.
MarkOnFrame told_place(RegionLines& lines, const Interruption& interruption, bool is_stream) {
  return [&lines, &interruption, is_stream](const Frame& frame, bool has_target) -> std::optional<Region> {
    if (has_target && !is_stream) return std::nullopt;
    interruption.check();
    const auto marked = lines.for_frame(frame.index, !is_stream);
    if (marked) return marked->box;
    if (!has_target && lines.has_ended())
      throw CallError("standard input ended before a region came; write x,y,w,h and end the line");
    return std::nullopt;
  };
}

// Where marks of the call have the target, or, where there are none, the sequence's truth has it first.
MarkOnFrame known_place(Marks& marks, const Truth& truth) {
  if (marks.empty()) return marked_by_truth(truth);
  return [&marks](const Frame& frame, bool) { return marks.for_frame(frame.index); };
}

// Before anything is opened.
void check_wait(const Options& options, const Marks& marks) {
  if (!options.wait || !marks.empty()) return;
  if (options.sequence == "-")
    throw CallError(
        "--wait reads the region from standard input, but the frames come there; "
        "say where the target will be with --box FRAME:X,Y,W,H");
}

void check_place(const Options& options, const Input& input, const Marks& marks) {
  if (options.wait && marks.empty())
    note("waiting for a region: write x,y,w,h or FRAME:x,y,w,h, and end the line\n");
  else if (input.is_stream && marks.empty() && !input.sequence.has_truth())
    throw CallError(
        fmt::format("{} brings no truth to start from; give --box, or --wait to say later where the "
                    "target is",
                    options.sequence));
}

// What is set, and where that left something to the seed, what that chose.
ParamSet with_choices(const TrackerSettings& settings, const std::vector<SeedChoice>& choices,
                      const Catalogue& catalogue) {
  const Schema& schema = catalogue.entry(settings.tracker).schema;
  ParamSet set = settings.set;
  for (const SeedChoice& choice : choices)
    if (problem_with(schema, settings.tracker, choice.name, choice.value).empty())
      set[choice.name] = choice.value;
  return set;
}

// What a tracker in another process is called in summaries: the last word that names a file, or else the program.
std::string label_of_command(const Options& options) {
  if (!options.files.tracker.empty() || !options.settings.empty() || !options.save_settings.empty())
    throw CallError("--command brings its own tracker: it goes with neither --tracker nor settings");
  const std::vector<std::string> words = words_of_command(options.command);
  const auto file = std::find_if(words.rbegin(), words.rend(), [](const std::string& word) {
    std::error_code code;
    return std::filesystem::is_regular_file(word, code);
  });
  return std::filesystem::path(file == words.rend() ? words.front() : *file).filename().string();
}

ProcessSpec spec_of(const std::string& command, const ParamSet& set, double rate_hz) {
  ProcessSpec spec;
  spec.command = words_of_command(command);
  spec.set = set;
  spec.rate_hz = rate_hz;
  return spec;
}

std::unique_ptr<Tracker> process_of(const Options& options, double rate_hz) {
  ParamSet set = free_settings(options.set);
  if (options.width > 0) set["width"] = options.width;
  const int width = take_width(set, options.command);
  return shown(std::make_unique<ProcessTracker>(spec_of(options.command, set, rate_hz)), {.width = width});
}

// Where a detector is surest of the target, once it is sure enough.
MarkOnFrame found_place(ProcessDetector& detector, const Showing& showing, double from,
                        const Interruption& interruption) {
  return [&detector, seen = std::make_shared<ShownFrames>(showing), from, &interruption](
             const Frame& frame, bool has_target) -> std::optional<Region> {
    if (has_target) return std::nullopt;
    interruption.check();
    const std::vector<FoundPlace> places = detector.find(seen->shown(frame));
    if (places.empty() || places.front().score < from) return std::nullopt;
    if (is_turned(places.front().box)) return places.front().box;
    return places.front().box.box;
  };
}

void run(Options& options) {
  const Catalogue catalogue = catalogue_with(options.plugins);
  TrackerSettings settings;
  if (options.command.empty())
    settings = chosen_tracker(options.files.tracker, options.settings, options.set, catalogue);
  if (options.command.empty() && options.width > 0) settings.set["width"] = options.width;
  options.files.tracker = options.command.empty() ? settings.tracker : label_of_command(options);
  Marks marks(options.marks);
  // One in a process never watches.
  auto tracker = options.command.empty() ? catalogue.make(settings.tracker, settings.set) : nullptr;
  Showing showing{.keep_out = parse_areas(options.keep_out, "--keep-out")};
  const bool watches = tracker != nullptr && tracker->watches();
  FollowOptions follow = options_of(options, marks, watches);
  check_wait(options, marks);
  const bool detects = !options.detector.empty();
  if (detects && (options.wait || !marks.empty()))
    throw CallError("--detector finds the target: leave out --wait and regions");
  const Interruption interruption;
  Input input = open_input(options.sequence, interruption.interrupt());
  if (!detects) check_place(options, input, marks);
  const bool reads_lines = options.wait && marks.empty();
  if (!input.is_stream) {
    if (marks.empty() && !reads_lines && !detects) {
      const int first = first_true_frame(input.sequence, follow.first, follow.last);
      if (!watches) follow.first = first;
    }
    skip_to(*input.frames, follow.first, input.sequence.name);
    input.frames =
        read_ahead(std::move(input.frames), {.step = reads_lines || detects || watches ? 1 : follow.step});
  }
  const bool is_stream = input.is_stream;
  const Sequence sequence = input.sequence;
  RegionLines lines;
  if (!tracker) tracker = process_of(options, sequence.rate_hz / follow.step);
  showing.keep_out.insert(showing.keep_out.end(), sequence.keep_out.begin(), sequence.keep_out.end());
  tracker = shown(std::move(tracker), showing);
  Follower follower(options, interruption, std::move(input), follow);
  std::optional<ProcessDetector> detector;
  if (detects) detector.emplace(spec_of(options.detector, {}, sequence.rate_hz));
  follower.follow(*tracker, detects       ? found_place(*detector, showing, options.detect_from, interruption)
                            : reads_lines ? told_place(lines, interruption, is_stream)
                                          : known_place(marks, sequence.truth));
  for (const int frame : marks.left_over())
    note("the mark of frame {} was not used: following ended before\n", frame);
  if (reads_lines)
    for (const std::string& line : lines.left_over())
      note("the region {} came after the first and was not used\n", line);
  follower.print_summary();
  if (!options.save_settings.empty())
    write_file(options.save_settings, settings_text(catalogue.entry(settings.tracker),
                                                    with_choices(settings, follower.choices(), catalogue)));
}

}  // namespace

void add_follow(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add(
      "follow", "Follow one target through a sequence.",
      "mnemon follow demo/kites/steady --tracker corr-plain --set padding=2.5 --trace steady.csv");
  verb.text(
      "SEQUENCE", "", options->sequence,
      "a folder with a sequence.toml, a folder of pictures, a video file, - for YUV4MPEG2 on standard input, "
      "camera:DEVICE such as camera:/dev/video0 or camera:webcam, or camera:sim:SEQUENCE to play a sequence "
      "as a camera would",
      Need::required);
  verb.text("--tracker", "NAME", options->files.tracker,
            "which tracker; 'mnemon trackers' lists them (default: that of --settings, or fusion)");
  verb.texts("--box", "[FRAME:]X,Y,W,H", options->marks.box,
             "where the target is on the first frame, or on frame FRAME, px (default: the first truth box); "
             "given again for a later frame it corrects the tracker there, as do the next five");
  verb.texts("--oriented", "[FRAME:]X,Y,W,H,ANGLE", options->marks.oriented,
             "the same as a box turned clockwise about its middle, degrees");
  verb.texts("--polygon", "[FRAME:]X,Y,X,Y,...", options->marks.polygon, "the same as an outline");
  verb.texts("--mask", "[FRAME:]FILE", options->marks.mask,
             "the same as a picture of the frame's size that is not black where the target is");
  verb.texts("--include", "[FRAME:]X,Y", options->marks.include,
             "a place on the target, px (repeatable); what hangs together with it is cut out");
  verb.texts("--exclude", "[FRAME:]X,Y", options->marks.exclude,
             "a place that is not the target, px (repeatable)");
  verb.text("--detector", "\"PROGRAM ARG...\"", options->detector,
            "start where a detector in another process first finds the target (docs/process.md)");
  verb.real("--detect-from", options->detect_from, "the score that it has to be found with (default: 0.5)");
  verb.flag(
      "--wait", options->wait,
      "start once a line on standard input says where the target is, as --box does; frames until then are "
      "passed over; on a stream later lines correct the tracker");
  verb.texts("--plugin", "FILE", options->plugins, "a shared library with further trackers (repeatable)");
  verb.text("--command", "\"PROGRAM ARG...\"", options->command,
            "a tracker in another process instead (docs/process.md); --set is handed over to it");
  verb.texts("--set", "KEY=VAL", options->set,
             "a parameter (repeatable); 'mnemon trackers NAME' lists them with ranges");
  verb.text("--settings", "FILE", options->settings,
            "take tracker and parameters from a file that --save-settings wrote; --set changes single ones");
  verb.text("--save-settings", "FILE", options->save_settings,
            "write the tracker with all its parameters, once the frames have been followed");
  verb.text("--trace", "FILE", options->files.trace,
            "write the estimates, a row a frame; - for standard output, where those of a stream go anyway");
  verb.text("--overlay", "NAME", options->files.overlay,
            std::string("write the frames with the box drawn, into a new folder of pictures or a video (") +
                video_sink_endings() + ")");
  verb.text("--review", "FILE", options->files.review,
            "list the frames for a person to look at: where the tracker was unsure, lost the target or found "
            "it again");
  verb.real("--review-below", options->files.review_below,
            "confidence below which it was unsure (default: 0.7)");
  verb.texts("--beside", "FILE", options->files.beside,
             "a trace to draw on the overlay beside the tracker's (repeatable)");
  verb.text("--stages", "DIR", options->files.stages,
            "write the tracker's inner pictures, into a new folder");
  verb.text("--masks", "DIR", options->files.masks,
            "write the tracker's masks, or its boxes where it has none, into a new folder");
  verb.whole("--from", 0, options->from, "the first frame (default: 0)");
  verb.whole("--to", 0, options->to, "the last frame (default: the sequence's)");
  verb.whole("--step", 1, options->step, "of every so many frames follow the first (default: 1)");
  verb.real("--smooth", options->smooth_s,
            "smooth the answers over this time, s; steady motion lags by it (default: not at all)");
  verb.texts("--keep-out", "X,Y,X,Y,...", options->keep_out,
             "an area that is never the target, by its corners; may be given again");
  verb.whole("--width", 8, options->width,
             "show the tracker frames scaled to this width, px; boxes stay those of the original");
  verb.flag("--overwrite", options->files.overwrite, "replace folders of pictures that an earlier call left");
  verb.flag("--json", options->json, "print JSON; of a stream, a line a frame and one for the summary");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
