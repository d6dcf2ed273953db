// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

namespace mnemon::test {

/// What a program did.
struct Outcome {
  int status = -1;  ///< Its exit status; 128 and more where a signal ended it.
  std::string out;
  std::string err;
};

/// Runs a program to its end, as a shell would. \param folder  Where it starts; empty: here.
Outcome run_program(const std::vector<std::string>& call, const std::filesystem::path& folder = {});

/// Runs the command-line program of this build.
Outcome mnemon(const std::vector<std::string>& arguments, const std::filesystem::path& folder = {});

}  // namespace mnemon::test
