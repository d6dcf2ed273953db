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
};

/// The facts of this build on this machine.
[[nodiscard]] BuildFacts build_facts();

}  // namespace mnemon
