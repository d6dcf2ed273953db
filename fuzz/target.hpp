// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <string>
#include <string_view>

#include <unistd.h>

#include <mnemon/base/error.hpp>

/// What each target defines: reads `data` and ends the program where an invariant is broken. Errors of Mnemon's own
/// family are what broken data should bring; anything else that is thrown ends the program too.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

namespace mnemon::fuzz {

/// Ends the program unless `holds`.
inline void require(bool holds) {
  if (!holds) std::abort();
}

inline std::string_view text_of(const std::uint8_t* data, std::size_t size) {
  return {reinterpret_cast<const char*>(data), size};
}

/// A folder in memory that holds one file for readers of files; it goes away with the program.
class Desk {
 public:
  Desk() : folder_(std::filesystem::path("/dev/shm") / ("mnemon-fuzz-" + std::to_string(::getpid()))) {
    std::filesystem::create_directories(folder_);
  }
  Desk(const Desk&) = delete;
  Desk& operator=(const Desk&) = delete;
  ~Desk() {
    std::error_code ignored;
    std::filesystem::remove_all(folder_, ignored);
  }

  [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }

  /// Puts the data into a file of that name.
  [[nodiscard]] std::filesystem::path put(const std::string& name, const std::uint8_t* data,
                                          std::size_t size) const {
    std::ofstream out(folder_ / name, std::ios::binary | std::ios::trunc);
    out.write(reinterpret_cast<const char*>(data), static_cast<std::streamsize>(size));
    return folder_ / name;
  }

 private:
  std::filesystem::path folder_;
};

}  // namespace mnemon::fuzz
