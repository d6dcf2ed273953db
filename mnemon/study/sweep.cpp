// SPDX-License-Identifier: MIT
#include <mnemon/study/sweep.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kMostPoints = 10000;
constexpr int kSweepKey = 0x5eed;  // of the random sample, so that every call draws the same

// One parameter of a sweep: values to take in turn, or a range to draw from.
struct Axis {
  std::string name;
  std::vector<ParamValue> values;
  bool is_range = false;
  bool is_whole = false;
  bool is_log = false;
  double from = 0;
  double to = 0;

  // \param share  In [0, 1].
  [[nodiscard]] ParamValue at(double share) const {
    const double value = is_log ? from * std::pow(to / from, share) : from + share * (to - from);
    if (is_whole) return static_cast<int>(std::lround(value));
    // Four digits are as exact as a sweep needs, and can be read.
    return share == 0 ? from : share == 1 ? to : std::stod(fmt::format("{:.4g}", value));
  }
};

void check_value(const ParamValue& value, const Axis& axis, const TomlTable& table, const Schema& schema,
                 const std::string& owner) {
  const std::string problem = problem_with(schema, owner, axis.name, value);
  if (!problem.empty()) throw DataError(table.place(), problem);
}

Axis range_axis(const std::string& name, const TomlTable& table, const Schema& schema,
                const std::string& owner) {
  table.allow_only({"from", "to", "count", "scale"});
  Axis axis{name, {}, true, false, false, table.number("from"), table.number("to")};
  const Field* field = schema.find(name);
  axis.is_whole = field != nullptr && std::holds_alternative<int>(field->standard);
  const std::string scale = table.has("scale") ? table.text("scale") : "even";
  if (scale != "even" && scale != "log")
    throw DataError(table.place("scale"), fmt::format("'scale' is '{}'; it may be even or log", scale));
  axis.is_log = scale == "log";
  if (!(axis.from < axis.to) || (axis.is_log && !(axis.from > 0)))
    throw DataError(table.place("from"),
                    fmt::format("'from' must be below 'to'{}", axis.is_log ? " and above 0" : ""));
  const int count = table.has("count") ? table.whole("count") : 5;
  if (count < 2 || count > 1000) throw DataError(table.place("count"), "'count' must be from 2 to 1000");
  for (int i = 0; i < count; ++i) {
    axis.values.push_back(axis.at(i / (count - 1.0)));
    check_value(axis.values.back(), axis, table, schema, owner);
  }
  return axis;
}

std::vector<ParamSet> every_combination(const std::vector<Axis>& axes, const TomlTable& table) {
  std::vector<ParamSet> points{{}};
  for (const Axis& axis : axes) {
    if (points.size() * axis.values.size() > kMostPoints)
      throw DataError(table.place(),
                      fmt::format("the sweep has more than {} points; draw some with 'sample'", kMostPoints));
    std::vector<ParamSet> more;
    for (const ParamSet& point : points)
      for (const ParamValue& value : axis.values) {
        more.push_back(point);
        more.back()[axis.name] = value;
      }
    points = std::move(more);
  }
  return points;
}

std::vector<ParamSet> drawn(const std::vector<Axis>& axes, int sample) {
  Random random(kSweepKey);
  std::vector<ParamSet> points(static_cast<std::size_t>(sample));
  for (ParamSet& point : points)
    for (const Axis& axis : axes) {
      const double share = random.uniform();
      const auto place = static_cast<std::size_t>(share * static_cast<double>(axis.values.size()));
      point[axis.name] = axis.is_range ? axis.at(share) : axis.values[place];
    }
  return points;
}

}  // namespace

std::vector<ParamSet> sweep_points(const TomlTable& table, const Schema& schema, const std::string& owner,
                                   std::optional<int> sample) {
  std::vector<Axis> axes;
  for (const std::string& name : table.keys()) {
    Axis axis{name, {}, false, false, false, 0, 0};
    if (table.is_table(name))
      axis = range_axis(name, table.table(name), schema, owner);
    else
      axis.values = table.param_values(name, schema, owner);
    axes.push_back(std::move(axis));
  }
  if (axes.empty()) throw DataError(table.place(), "the sweep varies no parameter");
  std::vector<ParamSet> points;
  for (const ParamSet& point : sample ? drawn(axes, *sample) : every_combination(axes, table))
    if (std::ranges::find(points, point) == points.end()) points.push_back(point);
  return points;
}

std::string point_text(const ParamSet& point) {
  std::string text;
  for (const auto& [name, value] : point)
    text += fmt::format("{}{}={}", text.empty() ? "" : ", ", name, to_text(value));
  return text;
}

}  // namespace mnemon
