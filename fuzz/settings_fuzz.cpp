// SPDX-License-Identifier: MIT
#include <mnemon/study/settings.hpp>

#include "target.hpp"

// Settings that can be read say the same after they are written and read again.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  static const fuzz::Desk desk;
  static const Catalogue catalogue = Catalogue::standard();
  TrackerSettings settings;
  try {
    settings = read_settings(desk.put("settings.toml", data, size), catalogue);
  } catch (const Error&) {
    return 0;
  }
  const TrackerEntry& entry = catalogue.entry(settings.tracker);
  const std::string text = settings_text(entry, settings.set);
  const auto file = desk.put("again.toml", reinterpret_cast<const std::uint8_t*>(text.data()), text.size());
  fuzz::require(read_settings(file, catalogue).set == completed(settings.set, entry.schema));
  return 0;
}
