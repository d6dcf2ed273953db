// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/track/catalogue.hpp>

namespace mnemon {

/// A tracker of a plan.
struct PlannedTracker {
  std::string name;
  std::string label;  ///< How reports name it; the name where none is given.
  ParamSet set;       ///< Parameters that differ from the defaults.
};

/// What to run.
struct Plan {
  std::string title;
  std::vector<std::filesystem::path> sequences;  ///< Folders.
  std::vector<std::string> protocols;
  std::vector<PlannedTracker> trackers;
};

/// The protocols that a plan may ask for.
[[nodiscard]] const std::vector<std::string>& known_protocols();

/// Reads a plan; the folders it names are found from its file, `*` and `?` standing for any text and letter.
/// \throws DataError  naming file, line and column: what is not known, out of range, or not there.
[[nodiscard]] Plan read_plan(const std::filesystem::path& file, const Catalogue& catalogue);

}  // namespace mnemon
