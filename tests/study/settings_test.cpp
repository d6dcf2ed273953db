// SPDX-License-Identifier: MIT
#include <mnemon/study/settings.hpp>

#include <fstream>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/plan.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

const Catalogue& catalogue() {
  static const Catalogue standard = Catalogue::standard();
  return standard;
}

// Every tracker's, as whatever a tracker has must survive the file.
TEST(Settings, ReadBackAsTheyWereWritten) {
  const test::TempFolder folder;
  for (const TrackerEntry& entry : catalogue().entries()) {
    const auto file = folder.path() / (entry.name + ".toml");
    write_file(file, settings_text(entry, {}));
    const TrackerSettings read = read_settings(file, catalogue());
    EXPECT_EQ(read.tracker, entry.name);
    EXPECT_EQ(read.set, completed({}, entry.schema)) << entry.name;
  }
  const TrackerEntry& motion = catalogue().entry("blob-motion");
  const ParamSet tuned{{"chain", std::string("grey difference")}, {"sigmas", 3.25}, {"fill_holes", false}};
  write_file(folder.path() / "tuned.toml", settings_text(motion, tuned));
  EXPECT_EQ(read_settings(folder.path() / "tuned.toml", catalogue()).set, completed(tuned, motion.schema));
}

TEST(Settings, SayWhereTheyAreWrong) {
  const test::TempFolder folder;
  const auto message = [&](const std::string& text) {
    write_file(folder.path() / "s.toml", text);
    return test::message_of<DataError>([&] { (void)read_settings(folder.path() / "s.toml", catalogue()); });
  };
  const std::string head = "format = \"mnemon-settings/1\"\ntracker = \"blob-motion\"\n[set]\n";
  test::expect_parts(message(head + "sigma = 3\n"), {"s.toml:4", "no parameter 'sigma'", "sigmas"});
  test::expect_parts(message(head + "sigmas = 300\n"), {"s.toml:4", "out of range", "0.5 to 20"});
  test::expect_parts(message(head + "chain = \"grey fog\"\n"),
                     {"chain = grey fog", "is not known", "background"});
  test::expect_parts(message(head + "chain = \"blur grey\"\n"), {"'grey' is the first step"});
  test::expect_parts(message("format = \"mnemon-settings/1\"\ntracker = \"blob-notion\"\n"), {"blob-motion"});
}

TEST(Settings, ServeAPlan) {
  const test::TempFolder folder;
  write_file(folder.path() / "tuned.toml",
             settings_text(catalogue().entry("blob-colour"), {{"gate", 2.0}, {"open", 0.25}}));
  const std::string head =
      "format = \"mnemon-plan/1\"\n[[stress]]\nscene = \"steady\"\nknob = \"scale\"\nlevels = [1.0]\n";
  write_file(folder.path() / "plan.toml",
             head + "[[tracker]]\nsettings = \"tuned.toml\"\nset = { open = 0.1 }\n");
  const Plan plan = read_plan(folder.path() / "plan.toml", catalogue());
  ASSERT_EQ(plan.trackers.size(), 1U);
  EXPECT_EQ(plan.trackers[0].name, "blob-colour");
  EXPECT_EQ(plan.trackers[0].set.at("gate"), ParamValue(2.0));
  EXPECT_EQ(plan.trackers[0].set.at("open"), ParamValue(0.1));
  write_file(folder.path() / "plan.toml", head + "[[tracker]]\nname = \"stay\"\nsettings = \"tuned.toml\"\n");
  test::expect_parts(
      test::message_of<DataError>([&] { (void)read_plan(folder.path() / "plan.toml", catalogue()); }),
      {"plan.toml:8", "'blob-colour', not of 'stay'"});
}

}  // namespace
}  // namespace mnemon
