// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <set>
#include <string>

#include <stdlib.h>

namespace mnemon::test {

/// A new folder that goes away with its object.
class TempFolder {
 public:
  TempFolder() {
    std::string name = (std::filesystem::temp_directory_path() / "mnemon-test-XXXXXX").string();
    path_ = ::mkdtemp(name.data());
  }
  TempFolder(const TempFolder&) = delete;
  TempFolder& operator=(const TempFolder&) = delete;
  ~TempFolder() {
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
  }

  [[nodiscard]] const std::filesystem::path& path() const { return path_; }
  [[nodiscard]] std::filesystem::path operator/(const std::string& name) const { return path_ / name; }

 private:
  std::filesystem::path path_;
};

/// The names in a folder, hidden ones included; none where it is not there.
inline std::set<std::string> names_in(const std::filesystem::path& folder) {
  std::set<std::string> names;
  if (!std::filesystem::exists(folder)) return names;
  for (const auto& entry : std::filesystem::directory_iterator(folder))
    names.insert(entry.path().filename().string());
  return names;
}

}  // namespace mnemon::test
