// SPDX-License-Identifier: MIT
#include <mnemon/run/process/frame_slots.hpp>

#include <atomic>
#include <cerrno>
#include <cstring>

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

// Not even another program that made memory of this name before is joined: it is made anew, or not at all.
int make_memory(std::string& name) {
  static std::atomic<unsigned> made{0};
  for (int tries = 0; tries < 1000; ++tries) {
    name = fmt::format("/mnemon-{}-{}", ::getpid(), made++);
    const int descriptor = ::shm_open(name.c_str(), O_CREAT | O_EXCL | O_RDWR | O_CLOEXEC, 0600);
    if (descriptor >= 0 || errno != EEXIST) return descriptor;
  }
  return -1;
}

}  // namespace

FrameSlots::FrameSlots(FrameSize size)
    : size_(size), slot_bytes_(static_cast<std::size_t>(3) * size.width * size.height) {
  const int descriptor = make_memory(name_);
  if (descriptor < 0)
    throw Error(fmt::format("memory to share frames in cannot be made: {}", std::strerror(errno)));
  owns_name_ = true;
  const int full = ::posix_fallocate(descriptor, 0, static_cast<off_t>(kSlots * slot_bytes_));
  if (full != 0) {
    ::close(descriptor);
    forget_name();
    throw Error(fmt::format("there is no memory left to share frames of {} x {} in: {}", size.width,
                            size.height, std::strerror(full)));
  }
  map(descriptor);
}

FrameSlots::FrameSlots(const std::string& name, FrameSize size, std::size_t slot_bytes, int slots)
    : name_(name), size_(size), slot_bytes_(slot_bytes), slots_(slots) {
  if (slots < 1 || slots > 64 || slot_bytes < static_cast<std::size_t>(3) * size.width * size.height)
    throw Error(fmt::format("{} slots of {} bytes hold no frames of {} x {}", slots, slot_bytes, size.width,
                            size.height));
  const int descriptor = ::shm_open(name.c_str(), O_RDWR | O_CLOEXEC, 0);
  if (descriptor < 0)
    throw Error(fmt::format("the shared memory {} cannot be joined: {}", name, std::strerror(errno)));
  struct stat facts {};
  if (::fstat(descriptor, &facts) != 0 ||
      static_cast<std::size_t>(facts.st_size) < static_cast<std::size_t>(slots) * slot_bytes) {
    ::close(descriptor);
    throw Error(fmt::format("the shared memory {} is smaller than its slots", name));
  }
  map(descriptor);
}

FrameSlots::~FrameSlots() {
  if (memory_ != nullptr) ::munmap(memory_, static_cast<std::size_t>(slots_) * slot_bytes_);
  forget_name();
}

void FrameSlots::map(int descriptor) {
  void* const memory = ::mmap(nullptr, static_cast<std::size_t>(slots_) * slot_bytes_, PROT_READ | PROT_WRITE,
                              MAP_SHARED, descriptor, 0);
  const int why = errno;
  ::close(descriptor);
  if (memory == MAP_FAILED) {
    forget_name();
    throw Error(fmt::format("the shared memory {} cannot be seen: {}", name_, std::strerror(why)));
  }
  memory_ = static_cast<Byte*>(memory);
}

void FrameSlots::forget_name() noexcept {
  if (owns_name_) ::shm_unlink(name_.c_str());
  owns_name_ = false;
}

int FrameSlots::put(ImageView<const Byte> rgb) noexcept {
  const int slot = next_;
  next_ = (next_ + 1) % kMaskSlot;
  Byte* const at = memory_ + static_cast<std::size_t>(slot) * slot_bytes_;
  if (rgb.is_contiguous()) {
    std::memcpy(at, rgb.data, rgb.size());
  } else {
    for (int r = 0; r < rgb.rows; ++r)
      std::memcpy(at + static_cast<std::size_t>(r) * rgb.row_length(), rgb.row(r), rgb.row_length());
  }
  return slot;
}

ImageView<Byte> FrameSlots::picture(int slot) const noexcept {
  return {memory_ + static_cast<std::size_t>(slot) * slot_bytes_, size_.height, size_.width, 3,
          std::ptrdiff_t{3} * size_.width};
}

ImageView<Byte> FrameSlots::mask() const noexcept {
  return {memory_ + static_cast<std::size_t>(slots_ - 1) * slot_bytes_, size_.height, size_.width, 1,
          size_.width};
}

}  // namespace mnemon
