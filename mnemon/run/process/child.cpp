// SPDX-License-Identifier: MIT
#include <mnemon/run/process/child.hpp>

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <fstream>

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/plain_text.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr std::size_t kMostLine = std::size_t{64} << 20;
constexpr std::size_t kMostLog = 2000;  // bytes kept of the log's end
constexpr int kNoProgram = 127;         // exit status of a child that could not be started

// All that the child's side needs, made before it exists: between fork and exec nothing may be allocated.
struct Launch {
  const char* program;
  char* const* arguments;
  const char* folder;
  rlim_t memory;
  int input, output, log;
};

// What is called from here on is safe to call between fork and exec.

void keep_only(int a, int b) noexcept {
  const unsigned low = static_cast<unsigned>(std::min(a, b));
  const unsigned high = static_cast<unsigned>(std::max(a, b));
  if (low > 0) ::close_range(0, low - 1, 0);
  if (high > low + 1) ::close_range(low + 1, high - 1, 0);
  ::close_range(high + 1, ~0U, 0);
}

[[noreturn]] void become(const Launch& launch) noexcept {
  ::setpgid(0, 0);
  // They may lie among the first three themselves.
  const int input = ::fcntl(launch.input, F_DUPFD, 3);
  const int output = ::fcntl(launch.output, F_DUPFD, 3);
  const int log = ::fcntl(launch.log, F_DUPFD, 3);
  ::dup2(input, STDIN_FILENO);
  ::dup2(output, STDOUT_FILENO);
  ::dup2(log, STDERR_FILENO);
  ::close_range(3, ~0U, 0);
  sigset_t none;
  ::sigemptyset(&none);
  ::sigprocmask(SIG_SETMASK, &none, nullptr);
  for (const int signal : {SIGPIPE, SIGINT, SIGTERM, SIGHUP}) std::signal(signal, SIG_DFL);
  const rlimit no_core{0, 0};
  ::setrlimit(RLIMIT_CORE, &no_core);
  if (launch.memory != RLIM_INFINITY) {
    const rlimit memory{launch.memory, launch.memory};
    ::setrlimit(RLIMIT_AS, &memory);
  }
  if (::chdir(launch.folder) == 0) ::execv(launch.program, launch.arguments);
  constexpr std::string_view kFailed = "the program cannot be run here\n";
  static_cast<void>(!::write(STDERR_FILENO, kFailed.data(), kFailed.size()));
  ::_exit(kNoProgram);
}

// The parent of a process, as /proc has it; 0 where there is no such process.
pid_t parent_of(const char* number) noexcept {
  std::array<char, 64> path{};
  char* at = path.data();
  for (const char* part : {"/proc/", number, "/stat"})
    while (*part != '\0' && at + 1 < path.data() + path.size()) *at++ = *part++;
  const int file = ::open(path.data(), O_RDONLY | O_CLOEXEC);
  if (file < 0) return 0;
  std::array<char, 512> text{};
  const ssize_t count = ::read(file, text.data(), text.size() - 1);
  ::close(file);
  // The name, which may hold anything, stands between brackets; then come the state and the parent.
  const char* from = count > 0 ? std::strrchr(text.data(), ')') : nullptr;
  if (from == nullptr || from + 4 >= text.data() + count) return 0;
  pid_t parent = 0;
  for (from += 4; *from >= '0' && *from <= '9'; ++from) parent = 10 * parent + (*from - '0');
  return parent;
}

struct DirectoryEntry {
  std::uint64_t inode;
  std::int64_t offset;
  unsigned short length;
  unsigned char type;
  char name[1];
};

void kill_children() noexcept {
  const pid_t self = ::getpid();
  const int folder = ::open("/proc", O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (folder < 0) return;
  alignas(DirectoryEntry) std::array<char, 4096> bytes;
  for (long count = 0; (count = ::syscall(SYS_getdents64, folder, bytes.data(), bytes.size())) > 0;)
    for (long at = 0; at < count;) {
      const auto* entry = reinterpret_cast<const DirectoryEntry*>(bytes.data() + at);
      at += entry->length;
      pid_t number = 0;
      const char* digit = entry->name;
      for (; *digit >= '0' && *digit <= '9'; ++digit) number = 10 * number + (*digit - '0');
      if (*digit == '\0' && number > 0 && parent_of(entry->name) == self) ::kill(number, SIGKILL);
    }
  ::close(folder);
}

// Kills what the child has started, wherever that has moved itself: orphans come to the guard, and with each that goes
// its own children.
void kill_orphans() noexcept {
  do {
    kill_children();
  } while (::waitpid(-1, nullptr, 0) > 0 || errno == EINTR);
}

[[noreturn]] void guard(const Launch& launch, int life, int status) noexcept {
  ::setsid();                     // what is typed at the terminal is not for it
  std::signal(SIGPIPE, SIG_IGN);  // whoever wants to know how it ended may be gone
  ::prctl(PR_SET_CHILD_SUBREAPER, 1);
  const pid_t child = ::_Fork();
  if (child == 0) become(launch);
  if (child > 0) ::setpgid(child, child);
  keep_only(life, status);
  static_cast<void>(!::write(status, &child, sizeof child));
  if (child < 0) ::_exit(1);
  const int ending = static_cast<int>(::syscall(SYS_pidfd_open, child, 0));
  std::array<pollfd, 2> watched{{{life, POLLIN, 0}, {ending, POLLIN, 0}}};
  // Until it is waited for the child's number, which is its group's, is nobody else's.
  siginfo_t ended{};
  while (watched[0].revents == 0 && ::waitid(P_PID, child, &ended, WEXITED | WNOHANG | WNOWAIT) == 0 &&
         ended.si_pid == 0)
    // Without a descriptor for its end the child is looked at a hundred times a second.
    ::poll(watched.data(), ending >= 0 ? 2 : 1, ending >= 0 ? -1 : 10);
  ::kill(-child, SIGKILL);
  int how = 0;
  ::waitpid(child, &how, 0);
  static_cast<void>(!::write(status, &how, sizeof how));
  kill_orphans();
  ::_exit(0);
}

// From here on it is the host's side.

// Where a program is, as a shell would find it.
fs::path found_program(const std::string& name, const fs::path& folder) {
  const auto can_run = [](const fs::path& file) {
    std::error_code code;
    return fs::is_regular_file(file, code) && ::access(file.c_str(), X_OK) == 0;
  };
  if (name.find('/') != std::string::npos) {
    const fs::path file = fs::absolute(folder / name).lexically_normal();
    if (can_run(file)) return file;
  } else if (const char* const path = std::getenv("PATH"); path != nullptr && !name.empty()) {
    for (const std::string_view part : parts_of(path, ':'))
      if (const fs::path file = fs::absolute(fs::path(part) / name); !part.empty() && can_run(file))
        return file;
  }
  throw CallError(fmt::format("there is no program '{}' that can be run", plain_line(name)));
}

// Two ends, closed when other programs are started.
struct Ends {
  int ours = -1;
  int theirs = -1;
};

int milliseconds_until(Child::Deadline deadline) {
  const auto left = std::chrono::ceil<std::chrono::milliseconds>(deadline - std::chrono::steady_clock::now());
  return static_cast<int>(std::clamp<long long>(left.count(), 0, 1'000'000'000));
}

void close_one(int& descriptor) noexcept {
  if (descriptor >= 0) ::close(descriptor);
  descriptor = -1;
}

std::string ending_text(int how) {
  if (WIFSIGNALED(how))
    return fmt::format("was ended by signal {} ({})", WTERMSIG(how), ::strsignal(WTERMSIG(how)));
  if (WEXITSTATUS(how) == kNoProgram) return "could not be run";
  return fmt::format("ended with status {}", WEXITSTATUS(how));
}

}  // namespace

Child::Child(const std::vector<std::string>& command, const fs::path& folder, const ChildLimits& limits) {
  if (command.empty()) throw CallError("a command names no program");
  name_ = plain_line(command.front());
  std::error_code code;
  if (!fs::is_directory(folder, code))
    throw CallError(fmt::format("there is no folder {} to run '{}' in", folder.string(), name_));
  const fs::path program = found_program(command.front(), folder);
  std::vector<std::string> words = command;
  std::vector<char*> arguments;
  for (std::string& word : words) arguments.push_back(word.data());
  arguments.push_back(nullptr);
  std::array<int, 2> pair{};
  Ends input;
  Ends output;
  Ends log;
  Ends life;
  Ends status;
  const auto pipe = [&pair](Ends& ends, bool we_read) {
    if (::pipe2(pair.data(), O_CLOEXEC) != 0) return false;
    ends = we_read ? Ends{pair[0], pair[1]} : Ends{pair[1], pair[0]};
    return true;
  };
  // A socket, as writing to a pipe that nobody reads would end this program.
  bool made = ::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, pair.data()) == 0;
  if (made) input = {pair[0], pair[1]};
  made = made && pipe(output, true) && pipe(log, true) && pipe(life, false) && pipe(status, true);
  if (made) {
    const Launch launch{
        program.c_str(), arguments.data(),
        folder.c_str(),  limits.memory_mb ? static_cast<rlim_t>(*limits.memory_mb * 1048576) : RLIM_INFINITY,
        input.theirs,    output.theirs,
        log.theirs};
    guard_ = ::_Fork();
    if (guard_ == 0) guard(launch, life.theirs, status.theirs);
  }
  const int why = errno;
  for (Ends* ends : {&input, &output, &log, &life, &status}) close_one(ends->theirs);
  input_ = input.ours;
  output_ = output.ours;
  log_fd_ = log.ours;
  life_ = life.ours;
  status_ = status.ours;
  for (const int descriptor : {input_, output_, log_fd_})
    if (descriptor >= 0) ::fcntl(descriptor, F_SETFL, O_NONBLOCK);
  if (!made || guard_ < 0 || ::read(status_, &child_, sizeof child_) != sizeof child_ || child_ < 0) {
    close_all();
    throw Error(fmt::format("'{}' cannot be started: {}", name_, std::strerror(why)));
  }
}

Child::~Child() { close_all(); }

void Child::close_all() noexcept {
  for (int* descriptor : {&input_, &output_, &log_fd_, &life_, &status_}) close_one(*descriptor);
  if (guard_ > 0) ::waitpid(guard_, nullptr, 0);
  guard_ = -1;
}

// Takes what there is to read now. \returns  False at the end.
bool Child::drain(int& descriptor, std::string& into, std::size_t most) {
  std::array<char, 65536> bytes;
  while (true) {
    const ssize_t count = ::read(descriptor, bytes.data(), bytes.size());
    if (count < 0) return errno == EAGAIN || errno == EINTR;
    if (count == 0) {
      close_one(descriptor);
      return false;
    }
    into.append(bytes.data(), static_cast<std::size_t>(count));
    if (into.size() > most) return true;
  }
}

// Reads output and log until there is what is wanted.
void Child::pump(Want want, Deadline deadline) {
  while (true) {
    if (want == Want::line) {
      searched_ = std::min(lines_.find('\n', searched_), lines_.size());
      if (searched_ < lines_.size()) return;
      if (lines_.size() > kMostLine)
        throw Error(fmt::format("'{}' wrote a line of more than {} bytes", name_, kMostLine));
      if (output_ < 0) throw_ended();
    }
    if (want == Want::end && output_ < 0) return;
    std::array<pollfd, 3> watched{
        {{output_, POLLIN, 0}, {log_fd_, POLLIN, 0}, {want == Want::room ? input_ : -1, POLLOUT, 0}}};
    const int ready = ::poll(watched.data(), watched.size(), milliseconds_until(deadline));
    if (ready < 0 && errno != EINTR) throw Error(fmt::format("'{}' cannot be heard", name_));
    if (ready == 0) {
      if (want == Want::end) return;
      throw Error(fmt::format("'{}' {} in time", name_,
                              want == Want::line ? "did not answer" : "did not take what it was asked"));
    }
    if (watched[1].revents != 0) {
      static_cast<void>(drain(log_fd_, log_, 64 * kMostLog));
      if (log_.size() > kMostLog) log_.erase(0, log_.size() - kMostLog);
    }
    // What nobody waits for is kept, but not without an end.
    if (watched[0].revents != 0) static_cast<void>(drain(output_, lines_, kMostLine));
    if (lines_.size() > 2 * kMostLine) throw Error(fmt::format("'{}' writes without being asked", name_));
    if (want == Want::room && watched[2].revents != 0) return;
  }
}

void Child::write_line(std::string_view line, Deadline deadline) {
  std::string text(line);
  text += '\n';
  std::string_view rest = text;
  while (!rest.empty()) {
    const ssize_t count = ::send(input_, rest.data(), rest.size(), MSG_NOSIGNAL);
    if (count >= 0) {
      rest.remove_prefix(static_cast<std::size_t>(count));
    } else if (errno == EAGAIN || errno == EINTR) {
      pump(Want::room, deadline);
    } else {
      pump(Want::end, std::min(deadline, std::chrono::steady_clock::now() + std::chrono::seconds(1)));
      if (lines_.find('\n') == std::string::npos) throw_ended();
      return;  // what it wrote before it ended says more, and is what is read next
    }
  }
}

std::string Child::read_line(Deadline deadline) {
  pump(Want::line, deadline);
  std::string line = lines_.substr(0, searched_);
  lines_.erase(0, searched_ + 1);
  searched_ = 0;
  return line;
}

// How it ended, where it has.
void Child::read_status(Deadline deadline) {
  pollfd told{status_, POLLIN, 0};
  int how = 0;
  if (!ended_ && status_ >= 0 && ::poll(&told, 1, milliseconds_until(deadline)) > 0 &&
      ::read(status_, &how, sizeof how) == sizeof how)
    ended_ = how;
}

void Child::throw_ended() {
  read_status(std::chrono::steady_clock::now() + std::chrono::seconds(1));
  throw Error(fmt::format("'{}' {}", name_,
                          ended_ ? ending_text(*ended_) : std::string("closed its standard output")));
}

void Child::end(std::chrono::milliseconds grace) noexcept {
  try {
    close_one(input_);
    const Deadline deadline = std::chrono::steady_clock::now() + grace;
    pump(Want::end, deadline);
    read_status(deadline);
  } catch (const std::exception&) {
    // It is killed below.
  }
  close_all();
}

std::string Child::log_tail() {
  if (log_fd_ >= 0) static_cast<void>(drain(log_fd_, log_, 64 * kMostLog));
  if (log_.size() > kMostLog) log_.erase(0, log_.size() - kMostLog);
  std::string text = plain_text(log_);
  text.erase(text.find_last_not_of(" \t\r\n") + 1);
  return text;
}

std::optional<double> Child::peak_bytes() const {
  std::ifstream status(fmt::format("/proc/{}/status", child_));
  for (std::string line; std::getline(status, line);) {
    constexpr std::string_view kPeak = "VmHWM:";
    if (!line.starts_with(kPeak)) continue;
    const auto kilobytes =
        parse_real(trimmed(std::string_view(line).substr(kPeak.size(), line.find(" kB") - kPeak.size())));
    return kilobytes ? std::optional(1024 * *kilobytes) : std::nullopt;
  }
  return std::nullopt;
}

}  // namespace mnemon
