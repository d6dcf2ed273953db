// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace mnemon {

/// What a program said before it ended.
struct CommandResult {
  int status = 0;      ///< Its exit status, or 128 and the signal that ended it.
  std::string output;  ///< What it wrote, on both streams, up to 1 MB of it.
};

/// Runs a program, found by its name as a shell would, and waits for its end. No shell sees the words; its standard input is
/// empty.
/// \param words   The program and its arguments.
/// \param folder  Where it runs; empty: here.
/// \throws Error  where there is no such program, or the system refuses.
[[nodiscard]] CommandResult run_command(const std::vector<std::string>& words,
                                        const std::filesystem::path& folder = {});

/// A text as one word of a shell's line.
[[nodiscard]] std::string shell_word(std::string_view text);

}  // namespace mnemon
