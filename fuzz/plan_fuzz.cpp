// SPDX-License-Identifier: MIT
#include <mnemon/study/plan.hpp>

#include "target.hpp"

// A plan that can be read names trackers that can be made, or folders of traces.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  static const fuzz::Desk desk;
  static const Catalogue catalogue = Catalogue::standard();
  // A glob would go looking through the machine.
  if (fuzz::text_of(data, size).find_first_of("*?") != std::string_view::npos) return 0;
  try {
    const Plan plan = read_plan(desk.put("plan.toml", data, size), catalogue);
    for (const PlannedTracker& tracker : plan.trackers)
      fuzz::require(!tracker.traces.empty() || tracker.process ||
                    catalogue.make(tracker.name, tracker.set) != nullptr);
  } catch (const Error&) {
  }
  return 0;
}
