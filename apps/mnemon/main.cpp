// SPDX-License-Identifier: MIT
#include <csignal>
#include <exception>
#include <new>

#include <mnemon/base/error.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "verbs.hpp"

namespace {

namespace app = mnemon::app;

constexpr int kFailed = 1;
constexpr int kWrongCall = 2;

int say(int status, const char* message) {
  app::note("mnemon: {}\n", message);
  return status;
}

int run(int argc, char** argv) {
  app::CommandLine program("mnemon",
                           "Follow one target through a sequence of frames, and say how well it was held.",
                           MNEMON_VERSION);
  for (const auto add :
       {app::add_demo, app::add_scene, app::add_import, app::add_check, app::add_trackers, app::add_process,
        app::add_follow, app::add_desk, app::add_label, app::add_score, app::add_bench, app::add_merge,
        app::add_report, app::add_film, app::add_compare, app::add_export})
    add(program);
  const int status = program.run(argc, argv);
  app::flush_output();
  return status;
}

}  // namespace

int main(int argc, char** argv) {
  // A reader that has gone is an error, after which there is something to clean up.
  std::signal(SIGPIPE, SIG_IGN);
  try {
    return run(argc, argv);
  } catch (const app::ReaderGone&) {
    app::end_by(SIGPIPE);
  } catch (const mnemon::CallError& error) {
    return say(kWrongCall, error.what());
  } catch (const std::bad_alloc&) {
    return say(kFailed, "there is not enough memory for this");
  } catch (const std::exception& error) {
    if (app::signal_that_came() != 0) app::end_by(app::signal_that_came());
    return say(kFailed, error.what());
  }
}
