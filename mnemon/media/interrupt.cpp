// SPDX-License-Identifier: MIT
#include <mnemon/media/interrupt.hpp>

#include <cerrno>
#include <cstdint>
#include <cstring>

#include <fmt/format.h>
#include <poll.h>
#include <sys/eventfd.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>

namespace mnemon {

Interrupt::Interrupt() : descriptor_(::eventfd(0, EFD_NONBLOCK | EFD_CLOEXEC)) {
  if (descriptor_ < 0) throw Error(fmt::format("no event can be waited for: {}", std::strerror(errno)));
}

Interrupt::~Interrupt() { ::close(descriptor_); }

void Interrupt::raise() const noexcept {
  const int before = errno;
  const std::uint64_t one = 1;
  // Where it fails it has been raised very often already.
  [[maybe_unused]] const ssize_t written = ::write(descriptor_, &one, sizeof one);
  errno = before;
}

bool Interrupt::is_raised() const noexcept {
  pollfd waiting{descriptor_, POLLIN, 0};
  return ::poll(&waiting, 1, 0) > 0;
}

}  // namespace mnemon
