// SPDX-License-Identifier: MIT
#include "support/program.hpp"

#include <fstream>
#include <sstream>

#include <fcntl.h>
#include <sys/wait.h>
#include <unistd.h>

#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

std::string contents(const std::filesystem::path& file) {
  std::ostringstream text;
  text << std::ifstream(file, std::ios::binary).rdbuf();
  return text.str();
}

[[noreturn]] void become(const std::vector<std::string>& call, const std::filesystem::path& folder,
                         const std::filesystem::path& out, const std::filesystem::path& err) {
  std::vector<char*> arguments;
  for (const std::string& one : call) arguments.push_back(const_cast<char*>(one.c_str()));
  arguments.push_back(nullptr);
  const int flags = O_WRONLY | O_CREAT | O_TRUNC;
  ::dup2(::open(out.c_str(), flags, 0600), STDOUT_FILENO);
  ::dup2(::open(err.c_str(), flags, 0600), STDERR_FILENO);
  if (!folder.empty() && ::chdir(folder.c_str()) != 0) ::_exit(126);
  ::execvp(arguments[0], arguments.data());
  ::_exit(127);
}

}  // namespace

Outcome run_program(const std::vector<std::string>& call, const std::filesystem::path& folder) {
  const TempFolder streams;
  const std::filesystem::path out = streams / "out";
  const std::filesystem::path err = streams / "err";
  const pid_t child = ::fork();
  if (child == 0) become(call, folder, out, err);
  int status = 0;
  ::waitpid(child, &status, 0);
  const int code = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
  return {code, contents(out), contents(err)};
}

Outcome mnemon(const std::vector<std::string>& arguments, const std::filesystem::path& folder) {
  std::vector<std::string> call{MNEMON_PROGRAM};
  call.insert(call.end(), arguments.begin(), arguments.end());
  return run_program(call, folder);
}

}  // namespace mnemon::test
