// SPDX-License-Identifier: MIT
#include "interruption.hpp"

#include <array>
#include <atomic>
#include <csignal>
#include <cstdlib>

#include <signal.h>

namespace mnemon::app {
namespace {

constexpr std::array kSignals{SIGINT, SIGTERM, SIGHUP};

volatile std::sig_atomic_t came = 0;
std::atomic<const Interrupt*> raised{nullptr};
static_assert(std::atomic<const Interrupt*>::is_always_lock_free);

extern "C" void take_signal(int signal) {
  came = signal;
  if (const Interrupt* const interrupt = raised.load()) interrupt->raise();
  for (const int one : kSignals) std::signal(one, SIG_DFL);
}

}  // namespace

Interruption::Interruption() {
  raised = &interrupt_;
  struct sigaction action {};
  action.sa_handler = take_signal;
  action.sa_flags = SA_RESTART;  // what is read or written goes on; who waits uses `poll`, which does not
  for (const int one : kSignals) {
    struct sigaction before {};
    ::sigaction(one, nullptr, &before);
    // What whoever started the program wants to have ignored stays so, as `nohup` asks for.
    if (before.sa_handler != SIG_IGN) ::sigaction(one, &action, nullptr);
  }
}

Interruption::~Interruption() {
  for (const int one : kSignals) {
    struct sigaction now {};
    ::sigaction(one, nullptr, &now);
    if (now.sa_handler == take_signal) std::signal(one, SIG_DFL);
  }
  raised = nullptr;
}

void Interruption::check() const {
  if (came != 0) throw Interrupted();
}

int signal_that_came() noexcept { return came; }

void end_by(int signal) noexcept {
  std::signal(signal, SIG_DFL);
  std::raise(signal);
  std::_Exit(128 + signal);  // where the signal is blocked
}

}  // namespace mnemon::app
