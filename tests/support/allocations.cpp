// SPDX-License-Identifier: MIT
#include "support/allocations.hpp"

#include <atomic>
#include <cstddef>

// The C library's allocator is reached by operator new too, so counting here sees both. These names are how
// glibc lets a program put its own functions in front.
#ifndef __SANITIZE_ADDRESS__
extern "C" {
void* __libc_malloc(std::size_t size);
void* __libc_calloc(std::size_t count, std::size_t size);
void* __libc_realloc(void* memory, std::size_t size);
void* __libc_memalign(std::size_t alignment, std::size_t size);
}

namespace {

std::atomic<long> count{0};

}  // namespace

extern "C" {
void* malloc(std::size_t size) {
  ++count;
  return __libc_malloc(size);
}
void* calloc(std::size_t number, std::size_t size) {
  ++count;
  return __libc_calloc(number, size);
}
void* realloc(void* memory, std::size_t size) {
  ++count;
  return __libc_realloc(memory, size);
}
void* memalign(std::size_t alignment, std::size_t size) {
  ++count;
  return __libc_memalign(alignment, size);
}
void* aligned_alloc(std::size_t alignment, std::size_t size) {
  ++count;
  return __libc_memalign(alignment, size);
}
int posix_memalign(void** memory, std::size_t alignment, std::size_t size) {
  ++count;
  *memory = __libc_memalign(alignment, size);
  return *memory == nullptr ? 12 : 0;
}
}

namespace mnemon::test {

long allocation_count() { return count; }

}  // namespace mnemon::test
#else
namespace mnemon::test {

long allocation_count() { return 0; }

}  // namespace mnemon::test
#endif
