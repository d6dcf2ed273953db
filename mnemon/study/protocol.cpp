// SPDX-License-Identifier: MIT
#include <mnemon/study/protocol.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include <mnemon/base/nearest_name.hpp>

namespace mnemon {
namespace {

std::vector<Start> spread_starts(const StartsParams& params, const Truth& truth) {
  std::vector<const TruthRow*> good;
  for (const TruthRow& row : truth.rows)
    if (row.present && reaches(row.visible, params.min_visible)) good.push_back(&row);
  std::vector<Start> starts;
  for (std::size_t i = 0; !good.empty() && i < static_cast<std::size_t>(params.count); ++i) {
    const TruthRow& row = *good[i * good.size() / static_cast<std::size_t>(params.count)];
    starts.push_back({row.frame, upright_around(row.box)});
  }
  return starts;
}

// Moved along the box's own axes.
OrientedBox moved(const OrientedBox& box, double along, double aside) {
  const double turn = is_turned(box) ? box.angle_deg * std::numbers::pi / 180 : 0;
  OrientedBox nudged = box;
  nudged.box.x += along * box.box.w * std::cos(turn) - aside * box.box.h * std::sin(turn);
  nudged.box.y += along * box.box.w * std::sin(turn) + aside * box.box.h * std::cos(turn);
  return nudged;
}

std::vector<Start> nudged_starts(const NudgesParams& params, const TruthRow& row) {
  std::vector<Start> starts;
  constexpr std::array<std::array<int, 2>, 8> kDirections{
      {{1, 0}, {1, 1}, {0, 1}, {-1, 1}, {-1, 0}, {-1, -1}, {0, -1}, {1, -1}}};
  for (const auto& [x, y] : kDirections)
    starts.push_back({row.frame, upright_around(moved(row.box, x * params.shift, y * params.shift))});
  for (const int steps : {-2, -1, 1, 2})
    starts.push_back(
        {row.frame, upright_around({scaled(row.box.box, 1 + steps * params.scale_step), row.box.angle_deg})});
  return starts;
}

}  // namespace

const std::vector<ProtocolEntry>& protocol_entries() {
  static const std::vector<ProtocolEntry> entries{
      {"single", "Once, from the first truth box to the end.", schema_of<SingleParams>()},
      {"starts", "From several frames on, each time to the end.", schema_of<StartsParams>()},
      {"nudges", "From twelve first boxes that are a little off.", schema_of<NudgesParams>()},
      {"restart", "Started afresh from truth after each loss.", schema_of<RestartParams>()},
      {"live", "On the frames that a camera would have delivered by the time the tracker is free.",
       schema_of<LiveParams>()},
  };
  return entries;
}

std::vector<std::string> protocol_names() {
  std::vector<std::string> names;
  for (const ProtocolEntry& entry : protocol_entries()) names.push_back(entry.name);
  return names;
}

bool has_several_starts(std::string_view protocol) { return protocol == "starts" || protocol == "nudges"; }

bool Protocol::is_timed() const {
  return name == "live" || (name == "single" && bound_params<SingleParams>(params, name).timed);
}

ScoreOptions Protocol::score_options() const {
  ScoreOptions options;
  options.help = Help::unaided;
  if (name != "restart") return options;
  const auto rules = bound_params<RestartParams>(params, name);
  options.help = Help::restart;
  options.rule = {rules.loss_overlap, rules.loss_patience, rules.restart_settle};
  return options;
}

Protocol make_protocol(std::string_view name, const ParamSet& set) {
  const auto& entries = protocol_entries();
  const auto at = std::ranges::find(entries, name, &ProtocolEntry::name);
  if (at == entries.end())
    throw CallError(
        fmt::format("'{}' is not a protocol{}", name, name_hint(std::string(name), protocol_names())));
  for (const auto& [key, value] : set)
    if (const std::string problem = problem_with(at->schema, name, key, value); !problem.empty())
      throw CallError(problem);
  return {at->name, completed(set, at->schema)};
}

std::vector<Start> starts_of(const Protocol& protocol, const Truth& truth) {
  const TruthRow* first = truth.first_present();
  if (first == nullptr) return {};
  if (protocol.name == "starts")
    return spread_starts(bound_params<StartsParams>(protocol.params, protocol.name), truth);
  if (protocol.name == "nudges")
    return nudged_starts(bound_params<NudgesParams>(protocol.params, protocol.name), *first);
  return {{first->frame, upright_around(first->box)}};
}

}  // namespace mnemon
