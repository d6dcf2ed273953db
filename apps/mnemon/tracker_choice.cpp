// SPDX-License-Identifier: MIT
#include "tracker_choice.hpp"

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon::app {

TrackerSettings chosen_tracker(const std::string& name, const std::string& settings,
                               const std::vector<std::string>& set, const Catalogue& catalogue) {
  TrackerSettings chosen;
  if (!settings.empty()) chosen = read_settings(settings, catalogue);
  if (!name.empty() && !chosen.tracker.empty() && name != chosen.tracker)
    throw CallError(
        fmt::format("the settings in {} are those of '{}', not of '{}'", settings, chosen.tracker, name));
  if (chosen.tracker.empty()) chosen.tracker = name.empty() ? kUsualTracker : name;
  for (const std::string& text : set)
    set_from_text(chosen.set, catalogue.entry(chosen.tracker).schema, chosen.tracker, text);
  return chosen;
}

}  // namespace mnemon::app
