// SPDX-License-Identifier: MIT
#include <mnemon/sequence/sequence.hpp>

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_source.hpp>
#include <mnemon/sequence/frame_files.hpp>
#include <mnemon/sequence/times.hpp>
#include <mnemon/sequence/toml_file.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr std::string_view kFormat = "mnemon-sequence/1";
constexpr std::string_view kFileName = "sequence.toml";

constexpr const char* kSequenceForms = "a folder with a sequence.toml, a folder of pictures, or a video file";

constexpr std::array<std::string_view, 14> kTags{
    "occlusion", "out-of-view", "scale",     "rotation", "aspect", "deformation",   "blur",
    "fast",      "light",       "lookalike", "clutter",  "small",  "camera-motion", "noise"};

// Nothing where it is a tag, or else what is wrong.
std::optional<std::string> tag_mistake(const std::string& tag) {
  if (std::ranges::find(kTags, tag) != kTags.end()) return std::nullopt;
  const std::vector<std::string> known(kTags.begin(), kTags.end());
  return fmt::format("'{}' is not a tag{}", tag, name_hint(tag, known));
}

void check_tag(const std::string& tag, const Place& place) {
  if (const auto mistake = tag_mistake(tag)) throw DataError(place, *mistake);
}

TagSpan parse_span(const TomlTable& table) {
  table.allow_only({"tag", "from", "to"});
  TagSpan span{table.text("tag"), table.whole("from"), table.whole("to")};
  check_tag(span.tag, table.place("tag"));
  if (span.to < span.from)
    throw DataError(table.place("to"),
                    fmt::format("the span ends at {} before it begins at {}", span.to, span.from));
  return span;
}

Polygon parse_area(const TomlTable& table) {
  table.allow_only({"polygon"});
  Polygon area = table.points("polygon");
  const Box box = bounds(area);
  if (area.size() < 3 || !(box.w > 0 && box.h > 0))
    throw DataError(table.place("polygon"),
                    "an area to keep out has at least three corners, not all on a line");
  return area;
}

CameraFacts parse_camera(const TomlTable& table) {
  table.allow_only({"focal_px", "centre_px"});
  const auto centre = table.numbers("centre_px", 2);
  return {table.positive("focal_px"), {centre[0], centre[1]}};
}

TargetFacts parse_target(const TomlTable& table) {
  table.allow_only({"label", "diameter_mm"});
  TargetFacts target;
  if (table.has("label")) target.label = table.text("label");
  if (table.has("diameter_mm")) target.diameter_mm = table.positive("diameter_mm");
  return target;
}

Sequence parse_description(const fs::path& file) {
  const TomlFile toml(file);
  const TomlTable root = toml.root();
  root.check_format(kFormat);
  root.allow_only({"format", "title", "frames", "rate_hz", "truth", "masks", "others", "times", "tags",
                   "span", "keep_out", "camera", "target"});
  Sequence sequence;
  sequence.folder = file.has_parent_path() ? file.parent_path() : ".";
  sequence.frames = root.text("frames");
  if (root.has("title")) sequence.title = root.text("title");
  if (root.has("rate_hz")) sequence.rate_hz = root.positive("rate_hz");
  if (root.has("truth")) sequence.truth_file = root.text("truth");
  if (root.has("masks")) sequence.masks = root.text("masks");
  if (root.has("others")) sequence.others_file = root.text("others");
  if (root.has("times")) {
    sequence.times_file = root.text("times");
    sequence.times_s = read_times(sequence.folder / sequence.times_file);
    if (!root.has("rate_hz") && sequence.times_s.size() > 1)
      sequence.rate_hz = static_cast<double>(sequence.times_s.size() - 1) / sequence.times_s.back();
  }
  if (root.has("tags")) sequence.tags = root.texts("tags");
  for (const std::string& tag : sequence.tags) check_tag(tag, root.place("tags"));
  for (const TomlTable& span : root.tables("span")) sequence.spans.push_back(parse_span(span));
  for (const TomlTable& area : root.tables("keep_out")) sequence.keep_out.push_back(parse_area(area));
  if (root.has("camera")) sequence.camera = parse_camera(root.table("camera"));
  if (root.has("target")) sequence.target = parse_target(root.table("target"));
  return sequence;
}

std::string description_text(const Sequence& sequence) {
  std::string text = fmt::format("format  = \"{}\"\ntitle   = {}\nframes  = {}\nrate_hz = {}\n", kFormat,
                                 toml_string(sequence.title), toml_string(sequence.frames), sequence.rate_hz);
  if (!sequence.truth_file.empty()) text += fmt::format("truth   = {}\n", toml_string(sequence.truth_file));
  if (!sequence.masks.empty()) text += fmt::format("masks   = {}\n", toml_string(sequence.masks));
  if (!sequence.others_file.empty()) text += fmt::format("others  = {}\n", toml_string(sequence.others_file));
  if (!sequence.times_file.empty()) text += fmt::format("times   = {}\n", toml_string(sequence.times_file));
  text += "tags    = [";
  for (const std::string& tag : sequence.tags)
    text += (tag == sequence.tags.front() ? "" : ", ") + toml_string(tag);
  text += "]\n";
  for (const TagSpan& span : sequence.spans)
    text += fmt::format("\n[[span]]\ntag  = {}\nfrom = {}\nto   = {}\n", toml_string(span.tag), span.from,
                        span.to);
  for (const Polygon& area : sequence.keep_out) {
    text += "\n[[keep_out]]\npolygon = [";
    for (const Point& corner : area)
      text += fmt::format("{}[{}, {}]", &corner == area.data() ? "" : ", ", corner.x, corner.y);
    text += "]\n";
  }
  if (sequence.camera)
    text += fmt::format("\n[camera]\nfocal_px  = {}\ncentre_px = [{}, {}]\n", sequence.camera->focal_px,
                        sequence.camera->centre_px.x, sequence.camera->centre_px.y);
  if (sequence.target) {
    text += fmt::format("\n[target]\nlabel = {}\n", toml_string(sequence.target->label));
    if (sequence.target->diameter_mm)
      text += fmt::format("diameter_mm = {}\n", *sequence.target->diameter_mm);
  }
  return text;
}

// A file that is neither a description nor named like a video may still be one: its contents tell.
Sequence video_sequence(const fs::path& file) {
  Sequence sequence;
  try {
    sequence.rate_hz = open_video(file)->rate_hz().value_or(sequence.rate_hz);
  } catch (const DataError& error) {
    if (is_video_name(file)) throw;
    throw CallError(fmt::format("{}: is no sequence; give {}", file.string(), kSequenceForms));
  }
  sequence.folder = file.has_parent_path() ? file.parent_path() : ".";
  sequence.frames = file.filename().string();
  sequence.name = file.stem().string();
  sequence.title = sequence.name;
  return sequence;
}

// The file with the mask of a frame with the target present; empty where there is none.
fs::path mask_file(const Sequence& sequence, const TruthRow& row) {
  if (sequence.masks.empty() || !row.present) return {};
  fs::path file = sequence.folder / numbered_name(sequence.masks, row.frame);
  return fs::exists(file) ? file : fs::path();
}

}  // namespace

std::span<const std::string_view> known_tags() noexcept { return kTags; }

void check_tag(const std::string& tag) {
  if (const auto mistake = tag_mistake(tag)) throw CallError(*mistake);
}

Sequence read_sequence(const fs::path& path) {
  std::error_code code;
  if (!fs::exists(path, code))
    throw CallError(fmt::format("{}: there is no such sequence; give {}", path.string(), kSequenceForms));
  const bool is_folder = fs::is_directory(path, code);
  const fs::path description = is_folder ? path / kFileName : path;
  Sequence sequence;
  if (description.filename() == kFileName && fs::exists(description, code)) {
    sequence = parse_description(description);
  } else if (is_folder) {
    sequence.folder = path;
  } else {
    return video_sequence(path);
  }
  sequence.name = fs::weakly_canonical(sequence.folder).filename().string();
  if (sequence.title.empty()) sequence.title = sequence.name;
  if (!sequence.truth_file.empty()) sequence.truth = read_truth(sequence.folder / sequence.truth_file);
  if (!sequence.others_file.empty())
    sequence.truth.others = read_others(sequence.folder / sequence.others_file);
  return sequence;
}

void write_sequence(const Sequence& sequence, const fs::path& folder) {
  if (!sequence.truth_file.empty()) write_file(folder / sequence.truth_file, truth_text(sequence.truth));
  if (!sequence.others_file.empty())
    write_file(folder / sequence.others_file, others_text(sequence.truth.others));
  if (!sequence.times_file.empty()) write_file(folder / sequence.times_file, times_text(sequence.times_s));
  write_file(folder / kFileName, description_text(sequence));
}

std::vector<FrameRuns> read_true_masks(const Sequence& sequence) {
  std::vector<FrameRuns> masks;
  for (const TruthRow& row : sequence.truth.rows) {
    const fs::path file = mask_file(sequence, row);
    if (!file.empty()) masks.push_back({row.frame, runs_of(read_mask(file).view())});
  }
  return masks;
}

std::string fingerprint(const Sequence& sequence, const FrameFiles& files) {
  Fingerprint whole;
  whole.add(description_text(sequence));
  whole.add(truth_text(sequence.truth));
  if (!sequence.others_file.empty()) whole.add(others_text(sequence.truth.others));
  if (!sequence.times_file.empty()) whole.add(times_text(sequence.times_s));
  for (const fs::path& file : files.paths()) whole.add(read_file(file));
  for (const TruthRow& row : sequence.truth.rows) {
    const fs::path file = mask_file(sequence, row);
    if (!file.empty()) whole.add(read_file(file));
  }
  return whole.text();
}

}  // namespace mnemon
