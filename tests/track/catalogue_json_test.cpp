// SPDX-License-Identifier: MIT
#include <mnemon/track/catalogue_json.hpp>

#include <set>
#include <sstream>
#include <string>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/track/catalogue.hpp>

namespace mnemon {

TEST(EntryJson, SaysOfEveryTrackerWhatItIsAndTakes) {
  const Catalogue catalogue = Catalogue::standard();
  for (const TrackerEntry& entry : catalogue.entries()) {
    const Json json = entry_json(entry);
    EXPECT_EQ(json["name"], entry.name);
    EXPECT_EQ(json["takes_shape"], entry.abilities.takes_shape) << entry.name;
    EXPECT_EQ(json["paper"].is_null(), entry.paper.empty()) << entry.name;
    ASSERT_EQ(json["parameters"].size(), entry.schema.fields.size()) << entry.name;
    for (const Json& one : json["parameters"]) {
      EXPECT_FALSE(one["help"].get<std::string>().empty()) << entry.name << ' ' << one["name"];
      if (one.contains("low")) {
        EXPECT_LE(one["low"], one["default"]) << entry.name << ' ' << one["name"];
        EXPECT_GE(one["high"], one["default"]) << entry.name << ' ' << one["name"];
      }
      if (one.contains("choices")) {
        const auto choices = one["choices"].get<std::set<std::string>>();
        std::istringstream words(
            one["default"].get<std::string>());  // several where a chain is built of them
        for (std::string word; words >> word;)
          EXPECT_TRUE(choices.contains(word)) << entry.name << ' ' << one["name"] << ' ' << word;
      }
    }
  }
}

TEST(EntryJson, SaysWhenAChangeActs) {
  const Catalogue catalogue = Catalogue::standard();
  std::set<std::string> told;
  for (const TrackerEntry& entry : catalogue.entries()) {
    const Json json = entry_json(entry);
    for (const Json& one : json["parameters"]) told.insert(one["acts_at"].get<std::string>());
  }
  EXPECT_EQ(told, (std::set<std::string>{"seed", "step"}));
}

}  // namespace mnemon
