// SPDX-License-Identifier: MIT
#pragma once
#include <chrono>
#include <cstddef>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <sys/types.h>

namespace mnemon {

/// What a child may use.
struct ChildLimits {
  std::optional<double> memory_mb = {};  ///< Of addresses, 2^20 bytes each; left out: as much as there is.
};

/// Another program in a process group of its own, spoken to by lines on its standard input and output. Its standard
/// error is its log. A guard process stands between: when this object goes, or the program that holds it ends in whatever
/// way, the guard kills the child, its group, and whatever it has started. For one thread at a time.
class Child {
 public:
  using Deadline = std::chrono::steady_clock::time_point;  ///< Until when something may take.

  /// Starts a program. Nothing goes through a shell.
  /// \param command  The program, looked for as a shell would, a path being meant from `folder`; then its arguments.
  /// \param folder   Where it runs.
  /// \param limits   What it may use.
  /// \throws CallError  where there is no such program; Error  where the system cannot start one.
  Child(const std::vector<std::string>& command, const std::filesystem::path& folder,
        const ChildLimits& limits);
  Child(const Child&) = delete;
  Child& operator=(const Child&) = delete;
  ~Child();

  /// Writes a line. What the child writes meanwhile is kept.
  /// \throws Error  where the child has ended or takes longer than the deadline to read it.
  void write_line(std::string_view line, Deadline deadline);

  /// The next line that it writes.
  /// \throws Error  where it ends first, is silent until the deadline, or its line is longer than 64 MB.
  [[nodiscard]] std::string read_line(Deadline deadline);

  /// Lets the child end by itself: closes its standard input, and waits; where it does not end in time it is killed.
  void end(std::chrono::milliseconds grace) noexcept;

  /// The last lines of its log, at most 2,000 bytes, as they may be shown; empty where there are none.
  [[nodiscard]] std::string log_tail();

  /// The most memory that it has taken so far, bytes; nothing where the system does not tell.
  [[nodiscard]] std::optional<double> peak_bytes() const;

 private:
  enum class Want { line, room, end };
  void pump(Want want, Deadline deadline);
  [[nodiscard]] bool drain(int& descriptor, std::string& into, std::size_t most);
  [[noreturn]] void throw_ended();
  void read_status(Deadline deadline);
  void close_all() noexcept;

  std::string name_;
  pid_t guard_ = -1;
  pid_t child_ = -1;
  int input_ = -1;   // to the child
  int output_ = -1;  // from it
  int log_fd_ = -1;
  int life_ = -1;    // the guard kills the child when this is closed
  int status_ = -1;  // from the guard: the child's number, then how it ended
  std::string lines_;
  std::size_t searched_ = 0;  // of lines_, where there is no end of line
  std::string log_;
  std::optional<int> ended_;  // as wait tells it
};

}  // namespace mnemon
