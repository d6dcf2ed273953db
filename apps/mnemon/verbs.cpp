// SPDX-License-Identifier: MIT
#include "verbs.hpp"

#include <limits>
#include <string>

namespace mnemon::app {

CLI::App* add_verb(CLI::App& program, const char* name, const char* purpose, const char* example) {
  CLI::App* verb = program.add_subcommand(name, purpose);
  verb->footer(std::string("Example: ") + example +
               "\nExit status: 0 done, 1 the work failed, 2 the call was wrong.\n");
  return verb;
}

CLI::Validator at_least(int low) {
  return CLI::Range(low, std::numeric_limits<int>::max(), "whole number from " + std::to_string(low))
      .description("");
}

}  // namespace mnemon::app
