// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>

namespace mnemon {

/// Keeps a folder for one writer at a time, among programs and within one. The system lets go of it when the holder
/// ends, however it ends.
class FolderLock {
 public:
  /// Makes the folder where it is not there.
  /// \throws Error  where somebody else holds it, and who that is; DataError  where the folder cannot be written to.
  explicit FolderLock(const std::filesystem::path& folder);
  FolderLock(const FolderLock&) = delete;
  FolderLock& operator=(const FolderLock&) = delete;
  ~FolderLock();

  /// False where the folder's file system knows no locks.
  [[nodiscard]] bool is_held() const noexcept { return is_held_; }

 private:
  std::filesystem::path file_;
  int descriptor_ = -1;
  bool is_held_ = false;
};

}  // namespace mnemon
