// SPDX-License-Identifier: MIT
#include "output.hpp"

#include <cerrno>
#include <cstdio>
#include <cstring>

#include <mnemon/base/plain_text.hpp>

namespace mnemon::app {
namespace {

void check(bool is_written) {
  if (is_written) return;
  if (errno == EPIPE) throw ReaderGone();
  throw Error(fmt::format("standard output cannot be written: {}",
                          errno != 0 ? std::strerror(errno) : "unknown reason"));
}

}  // namespace

void print_text(const std::string& text) {
  const std::string plain = plain_text(text);
  errno = 0;
  check(std::fwrite(plain.data(), 1, plain.size(), stdout) == plain.size());
}

void print_json(const Json& json) { print_text(json_text(json, 2) + "\n"); }

void flush_output() {
  errno = 0;
  check(std::fflush(stdout) == 0 && std::ferror(stdout) == 0);
}

void note_text(const std::string& text) noexcept {
  try {
    const std::string plain = plain_text(text);
    std::fwrite(plain.data(), 1, plain.size(), stderr);
    std::fflush(stderr);
  } catch (...) {  // no memory: a message less
  }
}

}  // namespace mnemon::app
