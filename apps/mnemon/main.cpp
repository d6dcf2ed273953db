// SPDX-License-Identifier: MIT
#include <fmt/format.h>

#include <cstdio>
#include <exception>

#include <mnemon/base/error.hpp>

#include "verbs.hpp"

namespace {

constexpr int kFailed = 1;
constexpr int kWrongCall = 2;

int say(int status, const char* message) {
  fmt::print(stderr, "mnemon: {}\n", message);
  return status;
}

}  // namespace

int main(int argc, char** argv) {
  namespace app = mnemon::app;
  try {
    app::CommandLine program("mnemon",
                             "Follow one target through a sequence of frames, and say how well it was held.",
                             MNEMON_VERSION);
    for (const auto add :
         {app::add_demo, app::add_scene, app::add_import, app::add_trackers, app::add_follow, app::add_score,
          app::add_bench, app::add_report, app::add_compare, app::add_export})
      add(program);
    return program.run(argc, argv);
  } catch (const mnemon::CallError& error) {
    return say(kWrongCall, error.what());
  } catch (const std::exception& error) {
    return say(kFailed, error.what());
  }
}
