// SPDX-License-Identifier: MIT
#pragma once
namespace mnemon {

/// Tells whoever waits for frames from outside that none are wanted any more. Once raised it stays so.
class Interrupt {
 public:
  /// \throws Error  where the system has no descriptor left.
  Interrupt();
  Interrupt(const Interrupt&) = delete;
  Interrupt& operator=(const Interrupt&) = delete;
  ~Interrupt();

  /// May be called from any thread, and from a signal's handler.
  void raise() const noexcept;
  /// Whether the program was asked to end.
  [[nodiscard]] bool is_raised() const noexcept;
  /// Of a file that can be read from once it is raised, for `poll`.
  [[nodiscard]] int descriptor() const noexcept { return descriptor_; }

 private:
  int descriptor_;
};

}  // namespace mnemon
