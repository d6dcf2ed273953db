// SPDX-License-Identifier: MIT
#include <mnemon/study/folder_lock.hpp>

#include <array>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <string>

#include <fcntl.h>
#include <fmt/chrono.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>

namespace mnemon {
namespace {

std::string who_this_is() {
  std::array<char, 256> host{};
  ::gethostname(host.data(), host.size() - 1);
  return fmt::format("process {} on {}, since {:%Y-%m-%d %H:%M:%S} UTC\n", ::getpid(), host.data(),
                     fmt::gmtime(std::chrono::system_clock::now()));
}

std::string who_holds(int descriptor) {
  std::array<char, 512> text{};
  const ssize_t size = ::pread(descriptor, text.data(), text.size(), 0);
  return size > 0 ? std::string(trimmed(std::string_view(text.data(), static_cast<std::size_t>(size))))
                  : "who did not say";
}

// The holder before removes the file: what was opened may be gone by the time it is locked.
bool is_still_there(int descriptor, const std::filesystem::path& file) {
  struct stat opened {};
  struct stat named {};
  return ::fstat(descriptor, &opened) == 0 && ::stat(file.c_str(), &named) == 0 &&
         opened.st_ino == named.st_ino && opened.st_dev == named.st_dev;
}

}  // namespace

FolderLock::FolderLock(const std::filesystem::path& folder) : file_(folder / "study.lock") {
  make_folder(folder);
  do {
    if (descriptor_ >= 0) ::close(descriptor_);
    descriptor_ = ::open(file_.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0666);
    if (descriptor_ < 0) throw DataError({file_}, fmt::format("cannot be made: {}", std::strerror(errno)));
    is_held_ = ::flock(descriptor_, LOCK_EX | LOCK_NB) == 0;
    if (!is_held_ && errno == EWOULDBLOCK) {
      const std::string who = who_holds(descriptor_);
      ::close(descriptor_);
      throw Error(fmt::format(
          "{}: another program is running a plan into this study ({}); wait for it, or name another folder",
          folder.string(), who));
    }
  } while (is_held_ && !is_still_there(descriptor_, file_));
  const std::string who = who_this_is();
  // It is only told to others: on a full disk they learn less.
  if (is_held_ && (::ftruncate(descriptor_, 0) != 0 || ::pwrite(descriptor_, who.data(), who.size(), 0) < 0))
    return;
}

FolderLock::~FolderLock() {
  if (is_held_) ::unlink(file_.c_str());
  ::close(descriptor_);
}

}  // namespace mnemon
