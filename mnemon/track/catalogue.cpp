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
  const Field width = width_field();
  const Field* const known = entry.schema.find(width.name);
  if (known != nullptr && known->help != width.help)
    throw CallError(
        fmt::format("the tracker '{}' has a parameter '{}', which is every tracker's: give it another name",
                    entry.name, width.name));
  // An entry that was taken out of a catalogue has it already.
  if (known == nullptr) {
    entry.schema.fields.push_back(width);
    entry.make = [name = entry.name, own = std::move(entry.make)](const ParamSet& params) {
      ParamSet of_its_own = params;
      const int shown_width = take_width(of_its_own, name);
      return shown(own(of_its_own), {.width = shown_width});
    };
    if (entry.retune)
      entry.retune = [name = entry.name, own = std::move(entry.retune)](Tracker& tracker,
                                                                        const ParamSet& params) {
        ParamSet of_its_own = params;
        static_cast<void>(take_width(of_its_own, name));
        own(behind_showing(tracker), of_its_own);
      };
  }
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
