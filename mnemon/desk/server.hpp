// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <string>

#include <mnemon/desk/desk.hpp>
#include <mnemon/media/interrupt.hpp>

namespace mnemon {

/// Serves a desk to a browser on this machine, and to no one else: it listens on 127.0.0.1 alone, every call needs the token of the
/// address that `address` gives, and calls under another name of the host or from another page are refused. One tab at a time has the
/// desk.
class DeskServer {
 public:
  /// \param desk  Must outlive it.
  /// \param port  0 for any that is free.
  /// \throws Error  where the port is taken.
  DeskServer(Desk& desk, int port);
  DeskServer(const DeskServer&) = delete;
  DeskServer& operator=(const DeskServer&) = delete;
  ~DeskServer();

  /// What to open in a browser, with the token.
  [[nodiscard]] std::string address() const;

  /// Answers calls until the interrupt is raised.
  void serve(const Interrupt& interrupt);

 private:
  struct Parts;
  std::unique_ptr<Parts> parts_;
};

}  // namespace mnemon
