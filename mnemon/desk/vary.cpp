// SPDX-License-Identifier: MIT
#include <mnemon/desk/vary.hpp>

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>
#include <vector>

#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/desk/lane.hpp>
#include <mnemon/score/frame_score.hpp>

namespace mnemon {
namespace {

// What a field may be instead.
std::vector<ParamValue> others_of(const Field& field, const ParamValue& value) {
  std::vector<ParamValue> others;
  if (const bool* flag = std::get_if<bool>(&value)) return {!*flag};
  if (std::holds_alternative<std::string>(value)) {
    if (!field.is_list)
      for (const std::string& word : field.choices) others.emplace_back(word);
  } else {
    const double number = std::holds_alternative<int>(value) ? std::get<int>(value) : std::get<double>(value);
    for (const double factor : {0.5, 2.0}) {
      const double changed = std::clamp(number * factor, field.range.low, field.range.high);
      if (std::holds_alternative<int>(value))
        others.emplace_back(static_cast<int>(std::lround(changed)));
      else
        others.emplace_back(changed);
    }
  }
  std::erase(others, value);
  return others;
}

}  // namespace

Json vary_parameters(const Catalogue& catalogue, const TrackerSettings& settings,
                     const std::vector<Polygon>& keep_out, FrameShelf& frames, const SessionMark& mark,
                     int last, const Truth& truth, const std::function<void(int, int)>& progress) {
  const Schema& schema = catalogue.entry(settings.tracker).schema;
  const ParamSet values = completed(settings.set, schema);
  struct Variation {
    std::string name;
    ParamValue value;
  };
  std::vector<Variation> variations;
  for (const Field& field : schema.fields)
    for (ParamValue& other : others_of(field, values.at(field.name)))
      variations.push_back({field.name, std::move(other)});
  const auto is_known = [&truth](int frame) {
    const TruthRow* row = truth.find(frame);
    return row != nullptr && row->present;
  };
  bool has_truth = false;
  for (int i = mark.frame + 1; i <= last; ++i) has_truth = has_truth || is_known(i);
  const int total = static_cast<int>(variations.size()) + 1;
  int done = 0;
  const auto result_of = [&](const ParamSet& set) -> std::optional<double> {
    try {
      Session session(maker_of(catalogue, {settings.tracker, set}, keep_out), frames);
      session.mark(mark);
      double sum = 0;
      int count = 0;
      while (session.step(last)) progress(done, total);
      for (const TraceRow& row : session.log()) {
        if (row.frame == mark.frame || (has_truth && !is_known(row.frame))) continue;
        sum += has_truth ? compare(*truth.find(row.frame), row).overlap : row.confidence;
        ++count;
      }
      return count > 0 ? std::optional(sum / count) : std::nullopt;
    } catch (const CallError&) {
      return std::nullopt;  // rules between parameters
    }
  };
  const std::optional<double> base = result_of(settings.set);
  if (!base)
    throw CallError("go to a frame behind the mark: what parameters do is seen on the frames between");
  std::vector<std::pair<double, Json>> rows;
  for (const Variation& one : variations) {
    ++done;
    ParamSet set = settings.set;
    set[one.name] = one.value;
    const std::optional<double> result = result_of(set);
    if (result)
      rows.emplace_back(std::abs(*result - *base),
                        Json{{"name", one.name}, {"value", param_json(one.value)}, {"result", *result}});
  }
  std::ranges::stable_sort(rows, std::ranges::greater(), &std::pair<double, Json>::first);
  Json json{
      {"measure", has_truth ? "mean overlap" : "mean confidence"}, {"base", *base}, {"rows", Json::array()}};
  for (auto& [size, row] : rows) json["rows"].push_back(std::move(row));
  return json;
}

}  // namespace mnemon
