// SPDX-License-Identifier: MIT
#include <algorithm>
#include <memory>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <mnemon/track/catalogue_json.hpp>

#include "output.hpp"
#include "plugins.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string name;
  std::vector<std::string> plugins;
  bool json = false;
};

// What a tracker is after; nothing where no paper has it.
std::string source_text(const TrackerEntry& entry) {
  return entry.paper.empty() ? "" : "After " + entry.paper + ".\n";
}

std::string abilities_text(const TrackerAbilities& can) {
  std::string text = can.takes_shape
                         ? "Takes the shape of its seed: a turned box, a polygon, a mask or points."
                         : "Takes the box around its seed, whatever shape that has.";
  text += " Answers a box";
  if (can.answers_turned_box) text += ", turned where asked or seeded so";
  if (can.answers_mask) text += ", a mask, and how broad the target is";
  text += ".\n";
  if (can.tells_rivals) text += "Tells the target from what is like it beside it.\n";
  return text;
}

// What each word of a field sets, such as "quick sets window_cells = 20".
std::string presets_text(const Field& field) {
  std::string text;
  for (const std::string& word : field.choices) {
    const auto sets = field.presets.find(word);
    if (sets == field.presets.end()) continue;
    std::vector<std::string> parts;
    for (const auto& [name, value] : sets->second) parts.push_back(name + " = " + to_text(value));
    text += fmt::format("      {} sets {}\n", word, fmt::join(parts, ", "));
  }
  return text;
}

void print_entry(const TrackerEntry& entry) {
  print(
      "{}: {}\n{}{}\nParameters, for --set and plans. A change acts at the next step; 'from the seed on': "
      "once the target is "
      "marked anew.\n",
      entry.name, entry.summary, source_text(entry), abilities_text(entry.abilities));
  if (entry.schema.fields.empty()) print("  none\n");
  std::size_t name_width = 0;
  std::size_t value_width = 0;
  for (const Field& field : entry.schema.fields) {
    name_width = std::max(name_width, field.name.size());
    value_width = std::max(value_width, to_text(field.standard).size());
  }
  for (const Field& field : entry.schema.fields)
    print("  {:<{}} = {:<{}}  {}{}\n      {}\n{}", field.name, name_width, to_text(field.standard),
          value_width, allowed_text(field), field.acts_at_step ? "" : ", from the seed on", field.help,
          presets_text(field));
}

void run(const Options& options) {
  const Catalogue catalogue = catalogue_with(options.plugins);
  if (!options.name.empty()) {
    const TrackerEntry& entry = catalogue.entry(options.name);
    if (options.json)
      print_json(entry_json(entry));
    else
      print_entry(entry);
    return;
  }
  Json all = Json::array();
  for (const TrackerEntry& entry : catalogue.entries()) {
    all.push_back(entry_json(entry));
    if (!options.json)
      print("{:<14} {}\n{}", entry.name, entry.summary,
            entry.paper.empty() ? "" : fmt::format("{:<14} {}", "", source_text(entry)));
  }
  if (options.json) print_json(all);
}

}  // namespace

void add_trackers(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("trackers", "List the trackers, or one tracker's parameters and its paper.",
                          "mnemon trackers corr-plain");
  verb.text("NAME", "", options->name, "the tracker whose parameters to show (default: list all)");
  verb.texts("--plugin", "FILE", options->plugins, "a shared library with further trackers (repeatable)");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
