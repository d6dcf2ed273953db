// SPDX-License-Identifier: MIT
#include <mnemon/base/command.hpp>

#include <array>
#include <cerrno>
#include <cstring>
#include <utility>

#include <fcntl.h>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>

extern char** environ;

namespace mnemon {
namespace {

constexpr std::size_t kMostOutput = 1'000'000;

// Both ends of a pipe, closed when they go.
class Pipe {
 public:
  Pipe() {
    if (::pipe2(ends_.data(), O_CLOEXEC) != 0) throw Error(fmt::format("no pipe: {}", std::strerror(errno)));
  }
  Pipe(const Pipe&) = delete;
  Pipe& operator=(const Pipe&) = delete;
  ~Pipe() {
    for (const int end : ends_)
      if (end >= 0) ::close(end);
  }
  [[nodiscard]] int in() const noexcept { return ends_[1]; }
  [[nodiscard]] int out() const noexcept { return ends_[0]; }
  void close_in() noexcept { ::close(std::exchange(ends_[1], -1)); }

 private:
  std::array<int, 2> ends_{-1, -1};
};

// All that comes until nobody writes any more; what is too much is read and dropped.
std::string read_all(int descriptor) {
  std::string text;
  std::array<char, 4096> bytes{};
  for (;;) {
    const ssize_t count = ::read(descriptor, bytes.data(), bytes.size());
    if (count < 0 && errno == EINTR) continue;
    if (count <= 0) return text;
    if (text.size() < kMostOutput) text.append(bytes.data(), static_cast<std::size_t>(count));
  }
}

}  // namespace

CommandResult run_command(const std::vector<std::string>& words, const std::filesystem::path& folder) {
  std::vector<std::string> copies = words;
  std::vector<char*> arguments;
  for (std::string& word : copies) arguments.push_back(word.data());
  arguments.push_back(nullptr);
  Pipe pipe;
  posix_spawn_file_actions_t actions;
  ::posix_spawn_file_actions_init(&actions);
  if (!folder.empty()) ::posix_spawn_file_actions_addchdir_np(&actions, folder.c_str());
  ::posix_spawn_file_actions_addopen(&actions, STDIN_FILENO, "/dev/null", O_RDONLY, 0);
  ::posix_spawn_file_actions_adddup2(&actions, pipe.in(), STDOUT_FILENO);
  ::posix_spawn_file_actions_adddup2(&actions, pipe.in(), STDERR_FILENO);
  pid_t child = 0;
  const int code = ::posix_spawnp(&child, arguments.front(), &actions, nullptr, arguments.data(), environ);
  ::posix_spawn_file_actions_destroy(&actions);
  if (code != 0) throw Error(fmt::format("'{}' cannot be run: {}", words.front(), std::strerror(code)));
  pipe.close_in();
  CommandResult result;
  result.output = read_all(pipe.out());
  int status = 0;
  while (::waitpid(child, &status, 0) < 0 && errno == EINTR) continue;
  result.status = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
  return result;
}

std::string shell_word(std::string_view text) {
  constexpr std::string_view kPlain =
      "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_-+=.,:/%@";
  if (!text.empty() && text.find_first_not_of(kPlain) == std::string_view::npos) return std::string(text);
  std::string word = "'";
  for (const char c : text) word += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return word + "'";
}

}  // namespace mnemon
