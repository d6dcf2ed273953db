// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/starts.hpp>

#include <mnemon/run/protocol/unaided.hpp>

namespace mnemon {
namespace {

std::vector<Start> spread_starts(const StartsParams& params, const Truth& truth) {
  std::vector<const TruthRow*> good;
  for (const TruthRow& row : truth.rows)
    if (row.present && reaches(row.visible, params.min_visible)) good.push_back(&row);
  std::vector<Start> starts;
  for (std::size_t i = 0; !good.empty() && i < static_cast<std::size_t>(params.count); ++i) {
    const TruthRow& row = *good[i * good.size() / static_cast<std::size_t>(params.count)];
    starts.push_back({row.frame, row.box});
  }
  return starts;
}

}  // namespace

ProtocolEntry starts_protocol() {
  return of_several_runs("starts", "From several frames on, each time to the end.", schema_of<StartsParams>(),
                         [](const ParamSet& set, const Truth& truth) {
                           return spread_starts(bound_params<StartsParams>(set, "starts"), truth);
                         });
}

}  // namespace mnemon
