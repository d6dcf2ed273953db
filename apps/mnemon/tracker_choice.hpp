// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/study/settings.hpp>
#include <mnemon/track/catalogue.hpp>

namespace mnemon::app {

/// The tracker to take where none is named.
inline constexpr const char* kUsualTracker = "fusion";

/// The tracker that is called for, by name or by its settings, and what it is set to.
/// \param name      Empty where none is named.
/// \param settings  A settings file; empty for none.
/// \param set       `KEY=VAL`, which go before the settings.
/// \throws CallError  where name and settings are of two trackers, or a parameter is not allowed; DataError  as read_settings does.
[[nodiscard]] TrackerSettings chosen_tracker(const std::string& name, const std::string& settings,
                                             const std::vector<std::string>& set, const Catalogue& catalogue);

}  // namespace mnemon::app
