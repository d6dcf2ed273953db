// SPDX-License-Identifier: MIT
#pragma once
#include <span>

#include <mnemon/base/json.hpp>
#include <mnemon/run/follow_tally.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// A row of a trace, as `follow --json` prints it.
[[nodiscard]] Json row_json(const TraceRow& row);

/// What following came to, with what the seed chose.
[[nodiscard]] Json follow_json(const FollowSummary& summary, std::span<const SeedChoice> choices);

}  // namespace mnemon
