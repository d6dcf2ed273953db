// SPDX-License-Identifier: MIT
#include <mnemon/base/fingerprint.hpp>

#include <fmt/format.h>
#include <xxhash.h>

namespace mnemon {

void Fingerprint::add(std::string_view bytes) noexcept {
  state_ = XXH3_64bits_withSeed(bytes.data(), bytes.size(), state_);
}

std::string Fingerprint::text() const { return fmt::format("{:016x}", state_); }

std::string fingerprint(std::string_view bytes) {
  Fingerprint whole;
  whole.add(bytes);
  return whole.text();
}

}  // namespace mnemon
