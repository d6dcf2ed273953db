// SPDX-License-Identifier: MIT
#include <mnemon/desk/keep.hpp>

#include <algorithm>
#include <string_view>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/command.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/report/overlay.hpp>
#include <mnemon/sequence/toml_file.hpp>

namespace mnemon {
namespace {

std::string joined(std::initializer_list<double> numbers) {
  std::string text;
  for (const double number : numbers) text += (text.empty() ? "" : ",") + number_text(number);
  return text;
}

std::string joined(const Polygon& corners) {
  std::string text;
  for (const Point corner : corners) text += (text.empty() ? "" : ",") + joined({corner.x, corner.y});
  return text;
}

// The options that mark a region on a frame; `file` is where it is kept, if it is a mask.
struct Options {
  int frame = 0;
  std::string file = {};
  [[nodiscard]] std::string option(const char* name, const std::string& numbers) const {
    return fmt::format(" {} {}:{}", name, frame, numbers);
  }
  std::string operator()(const Box& box) const {
    return option("--box", joined({box.x, box.y, box.w, box.h}));
  }
  std::string operator()(const OrientedBox& turned) const {
    const Box& box = turned.box;
    return option("--oriented", joined({box.x, box.y, box.w, box.h, turned.angle_deg}));
  }
  std::string operator()(const Polygon& polygon) const { return option("--polygon", joined(polygon)); }
  std::string operator()(ImageView<const Byte>) const {
    return " --mask " + shell_word(fmt::format("{}:{}", frame, file));
  }
  std::string operator()(const PointMarks& marks) const {
    std::string text = marks.box ? (*this)(*marks.box) : std::string();
    for (const Point& point : marks.include) text += option("--include", joined({point.x, point.y}));
    for (const Point& point : marks.exclude) text += option("--exclude", joined({point.x, point.y}));
    return text;
  }
};

std::string value_text(const ParamValue& value) {
  const bool is_word = std::holds_alternative<std::string>(value);
  return is_word ? toml_string(std::get<std::string>(value)) : to_text(value);
}

}  // namespace

std::string follow_command(Reel& reel, const DeskTarget& target, const Lane& lane,
                           const std::vector<Polygon>& keep_out, const std::string& trace) {
  const TrackerSettings& settings = lane.settings();
  std::string text =
      fmt::format("mnemon follow {} --tracker {}", shell_word(reel.name()), shell_word(settings.tracker));
  for (const auto& [name, value] : settings.set)
    text += " --set " + shell_word(fmt::format("{}={}", name, to_text(value)));
  for (const PersonMark& mark : target.marks())
    if (mark.present) text += std::visit(Options{mark.frame, mark.file}, mark.mark.region);
  for (const Polygon& area : keep_out) text += " --keep-out " + joined(area);
  const std::optional<int> last = lane.session().last_frame();
  if (!reel.is_live() && last && *last + 1 < reel.count()) text += fmt::format(" --to {}", *last);
  if (!trace.empty()) text += " --trace " + shell_word(trace);
  return text;
}

std::vector<Mark> marks_of(const DeskTarget& target) {
  std::vector<Mark> marks;
  for (const PersonMark& one : target.marks()) {
    const bool is_box = one.region.is_null() || one.region.contains("box") || one.region.contains("oriented");
    marks.push_back({one.frame, one.present ? one.box : OrientedBox{}, is_box ? "" : json_text(one.region),
                     one.present, "person"});
  }
  return marks;
}

std::string plan_text(const DeskTarget& target, const std::vector<std::string>& sequences) {
  std::string text =
      "format    = \"mnemon-plan/1\"\ntitle     = " + toml_string(target.name()) + "\nsequences = [";
  for (const std::string& sequence : sequences)
    text += (text.back() == '[' ? "" : ", ") + toml_string(sequence);
  text += "]\nprotocols = [\"single\"]\n";
  int number = 0;
  for (const TrackerSettings& settings : target.settings()) {
    ++number;
    text += fmt::format("\n[[tracker]]\nname  = {}\nlabel = {}\n", toml_string(settings.tracker),
                        toml_string(fmt::format("{} {}", settings.tracker,
                                                settings.set.empty() ? fmt::format("{}", number)
                                                                     : fmt::format("tuned {}", number))));
    if (settings.set.empty()) continue;
    text += "set   = {";
    for (const auto& [name, value] : settings.set)
      text += fmt::format("{} {} = {}", text.back() == '{' ? "" : ",", name, value_text(value));
    text += " }\n";
  }
  return text;
}

void write_overlay(const std::filesystem::path& file, Reel& reel,
                   const std::vector<std::pair<std::string, Trace>>& traces,
                   const std::function<void(int, int)>& progress) {
  int first = reel.count();
  int last = -1;
  for (const auto& [label, trace] : traces) {
    if (trace.rows.empty()) continue;
    first = std::min(first, trace.rows.front().frame);
    last = std::max(last, trace.rows.back().frame);
  }
  if (last < first) throw CallError("there is nothing to show yet: mark the target and run a tracker first");
  VideoSink sink(file, reel.sequence().rate_hz);
  Overlay overlay;
  for (int i = first; i <= last; ++i) {
    progress(i - first, last - first + 1);
    const KeptFrame frame = reel.frames().at(i);
    std::vector<Drawn> drawn;
    for (const auto& [label, trace] : traces)
      if (const TraceRow* row = trace.find(i)) drawn.push_back({label, *row});
    const Image<Byte> picture = overlay.draw(frame.frame(), drawn, reel.sequence().truth.find(i));
    sink.add(picture.view(), (i - first) / reel.sequence().rate_hz);
  }
  sink.finish();
}

}  // namespace mnemon
