// SPDX-License-Identifier: MIT
#include <mnemon/track/catalogue.hpp>

#include <algorithm>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>
#include <mnemon/track/shown_tracker.hpp>

namespace mnemon {

void Catalogue::add(TrackerEntry entry) {
  if (std::ranges::find(entries_, entry.name, &TrackerEntry::name) != entries_.end())
    throw CallError(fmt::format("there is a tracker '{}' already", entry.name));
  if (entry.schema.find(width_field().name) != nullptr)
    throw CallError(
        fmt::format("the tracker '{}' has a parameter '{}', which is every tracker's: give it another name",
                    entry.name, width_field().name));
  entry.schema.fields.push_back(width_field());
  entry.make = [own = std::move(entry.make)](const ParamSet& params) {
    ParamSet of_its_own = params;
    const int width = take_width(of_its_own);
    return shown(own(of_its_own), {.width = width});
  };
  entries_.push_back(std::move(entry));
}

const TrackerEntry& Catalogue::entry(std::string_view name) const {
  const auto at = std::ranges::find(entries_, name, &TrackerEntry::name);
  if (at != entries_.end()) return *at;
  std::vector<std::string> names;
  for (const TrackerEntry& entry : entries_) names.push_back(entry.name);
  throw CallError(fmt::format("there is no tracker '{}'{}", name, name_hint(name, names)));
}

std::unique_ptr<Tracker> Catalogue::make(std::string_view name, const ParamSet& params) const {
  return entry(name).make(params);
}

}  // namespace mnemon
