// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/nudges.hpp>

#include <array>
#include <cmath>
#include <numbers>

#include <mnemon/run/protocol/unaided.hpp>

namespace mnemon {
namespace {

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
    starts.push_back({row.frame, moved(row.box, x * params.shift, y * params.shift)});
  for (const int steps : {-2, -1, 1, 2})
    starts.push_back({row.frame, {scaled(row.box.box, 1 + steps * params.scale_step), row.box.angle_deg}});
  return starts;
}

}  // namespace

ProtocolEntry nudges_protocol() {
  return of_several_runs("nudges", "From twelve first boxes that are a little off.",
                         schema_of<NudgesParams>(), [](const ParamSet& set, const Truth& truth) {
                           return nudged_starts(bound_params<NudgesParams>(set, "nudges"),
                                                *truth.first_present());
                         });
}

}  // namespace mnemon
