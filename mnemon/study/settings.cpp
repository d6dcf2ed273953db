// SPDX-License-Identifier: MIT
#include <mnemon/study/settings.hpp>

#include <fmt/format.h>

#include <mnemon/sequence/toml_file.hpp>

namespace mnemon {

TrackerSettings read_settings(const std::filesystem::path& file, const Catalogue& catalogue) {
  const TomlFile toml(file);
  const TomlTable root = toml.root();
  root.check_format("mnemon-settings/1");
  root.allow_only({"format", "tracker", "set"});
  TrackerSettings settings{root.text("tracker"), {}};
  try {
    const TrackerEntry& entry = catalogue.entry(settings.tracker);
    if (root.has("set")) settings.set = root.table("set").params(entry.schema, settings.tracker);
    static_cast<void>(entry.make(settings.set));  // what only a tracker itself can check
  } catch (const CallError& error) {
    throw DataError(root.place("tracker"), error.what());
  }
  return settings;
}

std::string settings_text(const TrackerEntry& entry, const ParamSet& set) {
  std::string text = fmt::format("format  = \"mnemon-settings/1\"\ntracker = \"{}\"\n\n[set]\n", entry.name);
  const ParamSet all = completed(set, entry.schema);
  for (const Field& field : entry.schema.fields) {
    const ParamValue& value = all.at(field.name);
    const bool is_word = std::holds_alternative<std::string>(value);
    std::string given = to_text(value);
    // A real number must not read back as a whole one.
    if (std::holds_alternative<double>(value) && given.find_first_of(".e") == std::string::npos)
      given += ".0";
    text += fmt::format("# {} ({})\n{} = {}{}{}\n", field.help, allowed_text(field), field.name,
                        is_word ? "\"" : "", given, is_word ? "\"" : "");
  }
  return text;
}

}  // namespace mnemon
