// SPDX-License-Identifier: MIT
#include <algorithm>
#include <filesystem>
#include <memory>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/canvas.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/strip.hpp>
#include <mnemon/sequence/box_list.hpp>
#include <mnemon/sequence/import.hpp>
#include <mnemon/study/score_record.hpp>

#include "import_set.hpp"
#include "interruption.hpp"
#include "output.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

constexpr const char* kGlance = "glance.png";
constexpr int kGlanceWidth = 420;

struct Options {
  std::string frames;
  std::string boxes;
  std::string to;
  std::string columns;
  std::string delimiter = "auto";
  std::string absent;
  std::string frames_inside;
  std::string masks;
  std::string visible;
  std::string away;
  std::string tag_words;
  std::string tag_map;
  std::vector<std::string> tags;
  std::string title;
  double rate_hz = 0;
  bool one_based = false;
  bool overwrite = false;
  bool json = false;
};

AbsentMarks absent_marks_of(const std::string& text) {
  if (text.empty() || text == "none") return {};
  std::vector<std::string> words;
  for (const std::string_view word : parts_of(text, ',')) words.emplace_back(word);
  try {
    return absent_marks(words);
  } catch (const CallError& error) {
    throw CallError(fmt::format("--absent {}: {}", text, error.what()));
  }
}

BoxListForm form_of(const Options& options) {
  BoxListForm form;
  if (!options.columns.empty())
    for (const std::string_view name : parts_of(options.columns, ',')) form.columns.emplace_back(name);
  if (options.delimiter == "comma" || options.delimiter == ",") form.delimiter = ',';
  if (options.delimiter == "semicolon" || options.delimiter == ";") form.delimiter = ';';
  if (options.delimiter == "tab") form.delimiter = '\t';
  if (options.delimiter == "blank") form.delimiter = ' ';
  form.one_based = options.one_based;
  form.absent = absent_marks_of(options.absent);
  return form;
}

StripPicture glance_at(const Frame& frame, const TruthRow& row) {
  Canvas canvas(frame.rgb);
  if (row.present) canvas.outline(row.box, kEstimateInk, Stroke::solid, 3);
  const Image<Byte> drawn = canvas.picture();
  return {frame.index, resized_to_width(drawn.view(), std::min(kGlanceWidth, drawn.cols())),
          fmt::format("frame {}{}", frame.index, row.present ? "" : ", absent")};
}

// The first, the middle and the last row on their frames, to see at once whether the numbers were read as they were
// meant. Writes the picture. \returns  The frames' size.
FrameSize write_glance(const Sequence& sequence, const fs::path& file) {
  const std::vector<TruthRow>& rows = sequence.truth.rows;
  const std::set<int> shown{rows.front().frame, rows[rows.size() / 2].frame, rows.back().frame};
  std::vector<StripPicture> pictures;
  FrameSize size;
  visit_frames(*open_frames(sequence), std::vector<int>(shown.begin(), shown.end()), [&](const Frame& frame) {
    pictures.push_back(glance_at(frame, *sequence.truth.find(frame.index)));
    size = frame.size();
  });
  write_png(file, contact_sheet(pictures).view());
  return size;
}

int boxes_outside(const Truth& truth, FrameSize size) {
  const Box picture{0, 0, static_cast<double>(size.width), static_cast<double>(size.height)};
  return static_cast<int>(std::ranges::count_if(truth.rows, [&](const TruthRow& row) {
    return row.present && overlap(OrientedBox{picture, 0}, row.box) <= 0;
  }));
}

void print_result(const Options& options, const Truth& truth, int frames, int outside) {
  const auto absent = std::ranges::count(truth.rows, false, &TruthRow::present);
  const auto boxes = static_cast<long>(truth.rows.size()) - absent;
  if (options.json) {
    const Json json = {{"folder", options.to},     {"frames", frames},
                       {"boxes", boxes},           {"absent_frames", absent},
                       {"boxes_outside", outside}, {"glance", (fs::path(options.to) / kGlance).string()}};
    print_json(json);
    return;
  }
  print("{}: {} frames, {} with a box, {} with the target absent, {} without truth\n", options.to, frames,
        boxes, absent, frames - boxes - absent);
  if (outside > 0)
    note("warning: {} boxes lie wholly outside the picture; are the columns what they should be?\n", outside);
  print("Look at {} to see whether the boxes fit\n", (fs::path(options.to) / kGlance).string());
}

// Where the frames are a pattern of folders, everything else is looked for inside each of them.
void run_set(const Options& options) {
  if (!options.title.empty())
    throw CallError("--title is for one sequence; many are called as their folders");
  SetImport import{options.frames, options.to, {}, {}, {}, options.tags, options.overwrite, options.json};
  import.layout = {options.frames_inside, options.boxes,     options.masks,    options.visible,
                   options.away,          options.tag_words, form_of(options), options.rate_hz};
  for (const std::string& tag : import.tags) check_tag(tag);
  if (!options.tag_map.empty()) import.tag_map = read_tag_map(options.tag_map);
  // A file that is there as it is named is a table for all; otherwise there is one in each folder.
  std::error_code code;
  if (!options.tag_words.empty() && fs::is_regular_file(options.tag_words, code)) {
    import.tag_table = read_tag_table(options.tag_words);
    import.layout.tags.clear();
  }
  import_set(import);
}

void check_is_for_set(const Options& options) {
  for (const auto& [name, value] : {std::pair("--frames", &options.frames_inside),
                                    {"--masks", &options.masks},
                                    {"--visible", &options.visible},
                                    {"--away", &options.away},
                                    {"--tags", &options.tag_words},
                                    {"--tag-map", &options.tag_map}})
    if (!value->empty())
      throw CallError(fmt::format(
          "{} is for many sequences at once: give a pattern of their folders, such as 'data/*'", name));
}

void run(const Options& options) {
  if (options.frames.find_first_of("*?[") != std::string::npos && !fs::exists(options.frames)) {
    run_set(options);
    return;
  }
  check_is_for_set(options);
  const Truth truth = parse_box_list(read_file(options.boxes), options.boxes, form_of(options));
  const Interruption interruption;
  NewFolder made(options.to, options.overwrite ? Replace::if_only_of({"others.csv", "sequence.toml",
                                                                      "times.csv", "truth.csv", kGlance})
                                               : Replace::nothing());
  auto [sequence, frames] = describe_frames(options.frames, truth, made.path());
  const fs::path to = fs::path(options.to) / "";
  sequence.title = options.title.empty() ? to.parent_path().filename().string() : options.title;
  if (options.rate_hz > 0) sequence.rate_hz = options.rate_hz;
  sequence.tags = options.tags;
  for (const std::string& tag : sequence.tags) check_tag(tag);
  write_sequence(sequence, made.path());
  const FrameSize size = write_glance(read_sequence(made.path()), made.path() / kGlance);
  interruption.check();
  made.finish();
  print_result(options, truth, frames, boxes_outside(truth, size));
}

}  // namespace

void add_import(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add(
      "import", "Describe frames and a plain-text list of boxes as a sequence. Nothing is copied.",
      "mnemon import demo/kites/steady/frames --boxes boxes.txt --columns x,y,w,h --to mine/steady");
  verb.text(
      "FRAMES", "", options->frames,
      "a folder of pictures, or a video file; or a pattern of folders such as 'data/*', each a sequence",
      Need::required);
  verb.text("--boxes", "FILE", options->boxes,
            "the boxes, a row a frame; of many sequences, the file in each folder", Need::required);
  verb.text("--to", "DIR", options->to,
            "the new folder for sequence.toml and truth.csv, or for all sequences", Need::required);
  verb.text("--frames", "NAME", options->frames_inside,
            "of many: the frames in each folder, a folder of pictures, a pattern or a video (default: the "
            "pictures in it)");
  verb.text("--masks", "PATTERN", options->masks,
            "of many: the masks in each folder, such as masks/%06d.png");
  verb.text("--visible", "FILE", options->visible,
            "of many: a file in each folder with a number a frame, 0 where the target is away, 1 where all "
            "is seen");
  verb.text("--away", "FILE", options->away,
            "of many: a file in each folder with a number a frame, not 0 where the target is away");
  verb.text("--tags", "FILE", options->tag_words,
            "of many: words for difficulties, a file in each folder or one table with columns name and tags");
  verb.text("--tag-map", "FILE", options->tag_map, "of many: TOML that says which tag each word stands for");
  verb.text(
      "--columns", "NAMES", options->columns,
      "what the columns hold: x,y,w,h (top-left corner), cx,cy,w,h (centre), x1,y1,x2,y2 (two corners) or "
      "x1,y1,x2,y2,x3,y3,x4,y4 (a polygon); also frame, present, visible and angle, and - for a column to "
      "leave out (default: as the header row says, or x,y,w,h)");
  verb.word("--delimiter", {"auto", "comma", "semicolon", "tab", "blank", ",", ";"}, options->delimiter,
            "what parts the columns: auto, comma, semicolon, tab or blank (default: auto)");
  verb.flag("--one-based", options->one_based,
            "pixels count from 1, and so do frames where they have a column");
  verb.text(
      "--absent", "WAYS", options->absent,
      "how a row says that the target is absent: nan (numbers missing or not finite), zero (a size of 0) or "
      "negative (a "
      "size below 0, or all numbers), several with commas between them; without it such a row is an error");
  verb.real("--rate", options->rate_hz, "frames a second (default: what the video says, or 30)");
  verb.text("--title", "TEXT", options->title, "what reports call the sequence (default: the folder's name)");
  verb.texts("--tag", "TAG", options->tags, "a difficulty that the sequence shows (repeatable)");
  verb.flag("--overwrite", options->overwrite, "replace what an earlier import left in DIR");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
