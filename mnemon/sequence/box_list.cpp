// SPDX-License-Identifier: MIT
#include <mnemon/sequence/box_list.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <span>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/number_text.hpp>

namespace mnemon {
namespace {

const std::vector<std::string> kNames{"frame", "x",     "y",       "w",       "h",  "cx", "cy",
                                      "x1",    "y1",    "x2",      "y2",      "x3", "y3", "x4",
                                      "y4",    "angle", "present", "visible", "-"};
constexpr const char* kForms =
    "x,y,w,h or cx,cy,w,h or x1,y1,x2,y2 or x1,y1,x2,y2,x3,y3,x4,y4, with frame, present, visible and angle "
    "where "
    "they are there";

struct ListField {
  std::string_view text;
  int column = 0;  // from 1, for messages
};

struct Line {
  std::vector<ListField> fields;
  int number = 0;  // from 1
};

bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\r'; }

std::vector<ListField> fields_between_blanks(std::string_view line) {
  std::vector<ListField> fields;
  for (std::size_t i = 0; i < line.size();) {
    while (i < line.size() && is_blank(line[i])) ++i;
    const std::size_t begin = i;
    while (i < line.size() && !is_blank(line[i])) ++i;
    if (i > begin) fields.push_back({line.substr(begin, i - begin), static_cast<int>(begin) + 1});
  }
  return fields;
}

std::vector<ListField> fields_of(std::string_view line, char delimiter) {
  if (delimiter == ' ') return fields_between_blanks(line);
  std::vector<ListField> fields;
  for (const std::string_view part : parts_of(line, delimiter))
    fields.push_back({trimmed(part), static_cast<int>(part.data() - line.data()) + 1});
  return fields;
}

// A delimiter of 0 is told by the first row: the comma before the semicolon before the tab.
std::vector<Line> lines_of(std::string_view text, char delimiter) {
  if (text.starts_with("\xef\xbb\xbf")) text.remove_prefix(3);
  std::vector<Line> lines;
  int number = 0;
  for (std::size_t begin = 0; begin < text.size();) {
    const std::size_t end = std::min(text.find('\n', begin), text.size());
    const std::string_view line = trimmed(text.substr(begin, end - begin));
    begin = end + 1;
    ++number;
    if (line.empty() || line.front() == '#') continue;
    if (delimiter == 0) {
      delimiter = ' ';
      for (const char c : {'\t', ';', ','})
        if (line.find(c) != std::string_view::npos) delimiter = c;
    }
    lines.push_back({fields_of(line, delimiter), number});
  }
  return lines;
}

bool is_header(const Line& line) {
  return std::ranges::none_of(line.fields,
                              [](const ListField& field) { return parse_real(field.text).has_value(); });
}

// The place of each named column, and which form of box they make.
class Columns {
 public:
  explicit Columns(const std::vector<std::string>& names) : names_(names) {
    for (const std::string& name : names) {
      if (std::ranges::find(kNames, name) == kNames.end())
        throw CallError(
            fmt::format("'{}' is no column of boxes{}; write {}", name, name_hint(name, kNames), kForms));
      if (name != "-" && std::ranges::count(names, name) > 1)
        throw CallError(fmt::format("column '{}' is there twice", name));
    }
    const auto has_all = [&](std::initializer_list<const char*> wanted) {
      return std::ranges::all_of(wanted, [&](const char* name) { return find(name).has_value(); });
    };
    has_corner_ = has_all({"x", "y", "w", "h"});
    has_centre_ = has_all({"cx", "cy", "w", "h"});
    has_corners_ = has_all({"x1", "y1", "x2", "y2"});
    has_polygon_ = has_all({"x1", "y1", "x2", "y2", "x3", "y3", "x4", "y4"});
    if (static_cast<int>(has_corner_) + static_cast<int>(has_centre_) + static_cast<int>(has_corners_) != 1)
      throw CallError(fmt::format("the columns {} make no box; write {}", fmt::join(names, ","), kForms));
  }

  [[nodiscard]] std::optional<std::size_t> find(std::string_view name) const {
    const auto at = std::ranges::find(names_, name);
    if (at == names_.end()) return std::nullopt;
    return static_cast<std::size_t>(at - names_.begin());
  }

  [[nodiscard]] std::size_t count() const { return names_.size(); }

  // The names of the numbers that make the box.
  [[nodiscard]] std::span<const char* const> numbers() const {
    static constexpr std::array<const char*, 4> kCorner{"x", "y", "w", "h"};
    static constexpr std::array<const char*, 4> kCentre{"cx", "cy", "w", "h"};
    static constexpr std::array<const char*, 8> kPolygon{"x1", "y1", "x2", "y2", "x3", "y3", "x4", "y4"};
    if (has_corner_) return kCorner;
    if (has_centre_) return kCentre;
    return has_polygon_ ? std::span<const char* const>(kPolygon) : std::span(kPolygon).first(4);
  }

  [[nodiscard]] OrientedBox box(std::span<const double> v, double angle_deg) const {
    if (has_corner_) return {{v[0], v[1], v[2], v[3]}, folded_angle_deg(angle_deg)};
    if (has_centre_) return {{v[0] - v[2] / 2, v[1] - v[3] / 2, v[2], v[3]}, folded_angle_deg(angle_deg)};
    if (has_polygon_) {
      const std::array<Point, 4> corners{{{v[0], v[1]}, {v[2], v[3]}, {v[4], v[5]}, {v[6], v[7]}}};
      return tightest_box(corners);
    }
    return {{v[0], v[1], v[2] - v[0], v[3] - v[1]}, 0};
  }

 private:
  std::vector<std::string> names_;
  bool has_corner_ = false;
  bool has_centre_ = false;
  bool has_corners_ = false;
  bool has_polygon_ = false;
};

class ListReader {
 public:
  ListReader(const std::filesystem::path& file, const BoxListForm& form, Columns columns)
      : file_(file), form_(form), columns_(std::move(columns)) {}

  [[nodiscard]] TruthRow read(const Line& line, int nth) const {
    if (line.fields.size() < columns_.count())
      throw DataError({file_, line.number}, fmt::format("has {} columns, not {}; name them with --columns",
                                                        line.fields.size(), columns_.count()));
    TruthRow row;
    row.frame = columns_.find("frame") ? frame(line) : nth;
    row.present = !columns_.find("present") || flag(line, "present");
    if (columns_.find("visible")) row.visible = number(line, "visible");
    std::vector<double> numbers;
    for (const char* name : columns_.numbers()) numbers.push_back(number(line, name));
    const double angle = columns_.find("angle") ? number(line, "angle") : 0;
    if (!row.present || says_absent(numbers)) return {row.frame, {}, false, row.visible};
    const std::size_t places = columns_.numbers().size() == 4 && columns_.find("w") ? 2 : numbers.size();
    if (form_.one_based)
      for (std::size_t i = 0; i < places; ++i) numbers[i] -= 1;
    row.box = columns_.box(numbers, angle);
    if (!is_proper(row.box.box) || !std::isfinite(angle))
      throw DataError(
          {file_, line.number},
          "holds no box: its numbers must be finite, its width and height above 0; where such a row "
          "means that the target is absent, say so with --absent nan, zero or negative");
    return row;
  }

 private:
  [[nodiscard]] const ListField& field(const Line& line, const char* name) const {
    return line.fields[*columns_.find(name)];
  }

  [[nodiscard]] double number(const Line& line, const char* name) const {
    const ListField& found = field(line, name);
    if (found.text.empty()) return std::nan("");
    if (const auto value = parse_real(found.text)) return *value;
    throw DataError({file_, line.number, found.column},
                    fmt::format("'{}' is no number for '{}'", found.text, name));
  }

  [[nodiscard]] bool flag(const Line& line, const char* name) const {
    const double value = number(line, name);
    if (value == 0 || value == 1) return value == 1;
    throw DataError({file_, line.number, field(line, name).column},
                    fmt::format("'{}' must be 0 or 1, not '{}'", name, field(line, name).text));
  }

  [[nodiscard]] int frame(const Line& line) const {
    const ListField& found = field(line, "frame");
    const auto value = parse_whole(found.text);
    const int first = form_.one_based ? 1 : 0;
    if (value && *value >= first) return *value - first;
    throw DataError({file_, line.number, found.column},
                    fmt::format("'{}' is no frame; frames count from {}", found.text, first));
  }

  [[nodiscard]] bool says_absent(std::span<const double> v) const {
    const bool has_size = columns_.find("w").has_value();
    const double w = has_size ? v[2] : v[2] - v[0];
    const double h = has_size ? v[3] : v[3] - v[1];
    const bool is_pair = v.size() == 4;
    const AbsentMarks& marks = form_.absent;
    const auto all = [&](auto holds) { return std::ranges::all_of(v, holds); };
    return (marks.nan && !all([](double n) { return std::isfinite(n); })) ||
           (marks.zero && ((is_pair && (w == 0 || h == 0)) || all([](double n) { return n == 0; }))) ||
           (marks.negative && ((is_pair && (w < 0 || h < 0)) || all([](double n) { return n < 0; })));
  }

  const std::filesystem::path& file_;
  const BoxListForm& form_;
  Columns columns_;
};

Columns columns_for(const BoxListForm& form, const Line& first, const std::filesystem::path& file) {
  if (!form.columns.empty()) return Columns(form.columns);
  if (!is_header(first)) return Columns({"x", "y", "w", "h"});
  std::vector<std::string> names;
  for (const ListField& field : first.fields)
    names.emplace_back(std::ranges::find(kNames, field.text) != kNames.end() ? field.text : "-");
  try {
    return Columns(names);
  } catch (const CallError&) {
    throw DataError(
        {file, first.number},
        fmt::format("the header names no columns that make a box; name them with --columns, as {}", kForms));
  }
}

}  // namespace

AbsentMarks absent_marks(std::span<const std::string> words) {
  AbsentMarks marks;
  for (const std::string& word : words) {
    bool* const mark = word == "nan"        ? &marks.nan
                       : word == "zero"     ? &marks.zero
                       : word == "negative" ? &marks.negative
                                            : nullptr;
    if (mark == nullptr)
      throw CallError(fmt::format("'{}' is no way to say that the target is absent{}", word,
                                  name_hint(word, std::vector<std::string>{"nan", "zero", "negative"})));
    *mark = true;
  }
  return marks;
}

void check_columns(const BoxListForm& form) {
  if (!form.columns.empty()) static_cast<void>(Columns(form.columns));
}

Truth parse_box_list(std::string_view text, const std::filesystem::path& file, const BoxListForm& form) {
  const std::vector<Line> lines = lines_of(text, form.delimiter);
  if (lines.empty()) throw DataError({file}, "holds no boxes");
  const ListReader reader(file, form, columns_for(form, lines.front(), file));
  Truth truth;
  for (std::size_t i = is_header(lines.front()) ? 1 : 0; i < lines.size(); ++i) {
    truth.rows.push_back(reader.read(lines[i], static_cast<int>(truth.rows.size())));
    if (truth.rows.size() > 1 && truth.rows.back().frame <= truth.rows[truth.rows.size() - 2].frame)
      throw DataError({file, lines[i].number},
                      fmt::format("frame {} comes after frame {}; frames must rise", truth.rows.back().frame,
                                  truth.rows[truth.rows.size() - 2].frame));
  }
  if (truth.rows.empty()) throw DataError({file}, "holds no boxes");
  return truth;
}

}  // namespace mnemon
