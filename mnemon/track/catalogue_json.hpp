// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/base/json.hpp>
#include <mnemon/track/catalogue.hpp>

namespace mnemon {

/// All that can be known of a kind of tracker, with its parameters, as JSON.
[[nodiscard]] Json entry_json(const TrackerEntry& entry);

}  // namespace mnemon
