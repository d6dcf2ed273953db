// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/track/plugin.hpp>

namespace mnemon::app {

/// The library's trackers and those of plug-ins.
/// \throws CallError, Error  as load_plugin.
[[nodiscard]] inline Catalogue catalogue_with(const std::vector<std::string>& plugins) {
  Catalogue catalogue = Catalogue::standard();
  for (const std::string& file : plugins) load_plugin(file, catalogue);
  return catalogue;
}

}  // namespace mnemon::app
