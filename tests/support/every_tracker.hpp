// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/catalogue.hpp>

namespace mnemon::test {

/// The names of all trackers, for tests that run for each.
inline std::vector<std::string> all_trackers() {
  std::vector<std::string> names;
  const Catalogue catalogue = Catalogue::standard();
  for (const TrackerEntry& entry : catalogue.entries()) names.push_back(entry.name);
  return names;
}

/// A tracker's name as part of a test's.
inline std::string name_of_tracker(const ::testing::TestParamInfo<std::string>& info) {
  std::string name = info.param;
  std::erase(name, '-');
  return name;
}

}  // namespace mnemon::test
