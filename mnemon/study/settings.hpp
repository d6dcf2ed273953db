// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>

#include <mnemon/track/catalogue.hpp>

namespace mnemon {

/// A tracker and the values that somebody has tuned it to.
struct TrackerSettings {
  std::string tracker;  ///< Its name in the catalogue.
  ParamSet set;         ///< What is given; the rest has its defaults.
};

/// Reads a settings file: `format = "mnemon-settings/1"`, `tracker`, and the values under `[set]`.
/// \throws DataError  naming file, line and column, where it is none, or a tracker or parameter is not there or not
///                    allowed.
[[nodiscard]] TrackerSettings read_settings(const std::filesystem::path& file, const Catalogue& catalogue);

/// The text of a settings file with every parameter of the tracker, what it does in a comment above each.
[[nodiscard]] std::string settings_text(const TrackerEntry& entry, const ParamSet& set);

}  // namespace mnemon
