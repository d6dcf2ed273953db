// SPDX-License-Identifier: MIT
#include "verbs.hpp"

namespace mnemon::app {

CLI::App* add_verb(CLI::App& program, const char* name, const char* purpose, const char* example) {
  CLI::App* verb = program.add_subcommand(name, purpose);
  verb->footer(std::string("Example: ") + example +
               "\nExit status: 0 done, 1 the work failed, 2 the call was wrong.\n");
  return verb;
}

}  // namespace mnemon::app
