// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cstdio>
#include <exception>
#include <string>
#include <vector>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>

#include "verbs.hpp"

namespace {

constexpr int kFailed = 1;
constexpr int kWrongCall = 2;

int say(int status, const char* message) {
  fmt::print(stderr, "mnemon: {}\n", message);
  return status;
}

void check_verb(const CLI::App& program, const std::string& verb) {
  std::vector<std::string> names;
  for (const CLI::App* known : program.get_subcommands({})) names.push_back(known->get_name());
  if (std::find(names.begin(), names.end(), verb) == names.end())
    throw mnemon::CallError(fmt::format("there is no verb '{}'{}", verb, mnemon::name_hint(verb, names)));
}

int parse_and_run(CLI::App& program, int argc, char** argv) {
  if (argc > 1 && argv[1][0] != '-') check_verb(program, argv[1]);
  try {
    program.parse(argc, argv);
    return 0;
  } catch (const CLI::ParseError& error) {
    if (error.get_exit_code() == 0) return program.exit(error);  // help was asked for
    const auto verbs = program.get_subcommands();
    const std::string verb = verbs.empty() ? "" : " " + verbs.front()->get_name();
    fmt::print(stderr, "mnemon{}: {}\nSee 'mnemon{} --help'.\n", verb, error.what(), verb);
    return kWrongCall;
  }
}

}  // namespace

int main(int argc, char** argv) {
  namespace app = mnemon::app;
  try {
    CLI::App program("Follow one target through a sequence of frames, and say how well it was held.",
                     "mnemon");
    program.require_subcommand(1);
    program.set_version_flag("--version", MNEMON_VERSION);
    program.footer(
        "'mnemon VERB --help' shows a verb's options and an example.\n"
        "Exit status: 0 done, 1 the work failed, 2 the call was wrong.\n");
    for (const auto add : {app::add_demo, app::add_scene, app::add_trackers, app::add_follow, app::add_score,
                           app::add_bench, app::add_report, app::add_export})
      add(program);
    return parse_and_run(program, argc, argv);
  } catch (const mnemon::CallError& error) {
    return say(kWrongCall, error.what());
  } catch (const std::exception& error) {
    return say(kFailed, error.what());
  }
}
