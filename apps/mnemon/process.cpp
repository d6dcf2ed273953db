// SPDX-License-Identifier: MIT
#include <memory>
#include <string>
#include <vector>

#include <unistd.h>

#include <mnemon/base/error.hpp>
#include <mnemon/run/process/serve.hpp>
#include <mnemon/track/catalogue.hpp>

#include "plugins.hpp"
#include "verbs.hpp"

namespace mnemon::app {

void add_process(CommandLine& program) {
  const auto name = std::make_shared<std::string>();
  const auto plugins = std::make_shared<std::vector<std::string>>();
  Verb verb =
      program.add("process", "Serve a tracker to another program, by messages on standard input and output.",
                  "mnemon process corr-kernel");
  verb.text("TRACKER", "", *name, "which tracker; its settings come with the first message (docs/process.md)",
            Need::required);
  verb.texts("--plugin", "FILE", *plugins, "a shared library with further trackers (repeatable)");
  verb.on_call([name, plugins] {
    const Catalogue catalogue = catalogue_with(*plugins);
    const TrackerEntry& entry = catalogue.entry(*name);
    if (::isatty(STDIN_FILENO) != 0)
      throw CallError("'mnemon process' is spoken to by another program; see docs/process.md");
    serve_tracker([&entry](const ParamSet& settings) { return entry.make(settings); }, STDIN_FILENO,
                  STDOUT_FILENO);
  });
}

}  // namespace mnemon::app
