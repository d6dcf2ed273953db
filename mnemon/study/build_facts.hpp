// SPDX-License-Identifier: MIT
#pragma once
#include <string>

namespace mnemon {

/// What a run's figures depend on besides tracker and sequence.
struct BuildFacts {
  std::string version;    ///< Of the library.
  std::string code;       ///< Changes with any source file of the rooms that a run goes through.
  std::string compiler;   ///< Name, version and kind of build.
  std::string processor;  ///< As the system names it.
  int cores = 0;          ///< That this process may use.
  /// What the last bits depend on besides the code. Runs without times are the same on processors that have it in
  /// common; of a program's own code it is not known, so that it names the processor.
  std::string arithmetic;
  bool operator==(const BuildFacts&) const = default;
};

/// The facts of this build on this machine, for trackers of the library.
[[nodiscard]] BuildFacts build_facts();

/// The same for trackers that a program brings itself: `code` also changes with the program's file and with the
/// libraries that it loads from outside the system's folders.
/// \throws DataError  where one of these files cannot be read.
[[nodiscard]] BuildFacts build_facts_of_own();

}  // namespace mnemon
