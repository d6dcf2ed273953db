// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/base/error.hpp>
#include <mnemon/media/interrupt.hpp>

namespace mnemon::app {

/// Somebody asked the program to end before its work was done.
struct Interrupted : Error {
  Interrupted() : Error("interrupted") {}
};

/// While it lives, the first Ctrl-C (SIGINT), SIGTERM or SIGHUP does not end the program: the work looks, cleans up and
/// ends by itself. The second one ends the program. At most one at a time.
class Interruption {
 public:
  Interruption();
  Interruption(const Interruption&) = delete;
  Interruption& operator=(const Interruption&) = delete;
  ~Interruption();

  /// Raised by the first of these signals.
  [[nodiscard]] const Interrupt& interrupt() const noexcept { return interrupt_; }

  /// \throws Interrupted  once one of these signals has come.
  void check() const;

 private:
  Interrupt interrupt_;
};

/// The signal that came, or 0.
[[nodiscard]] int signal_that_came() noexcept;

/// Ends the program by a signal, as if it had not been caught.
[[noreturn]] void end_by(int signal) noexcept;

}  // namespace mnemon::app
