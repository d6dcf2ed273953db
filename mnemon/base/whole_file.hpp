// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>
/// \file
/// Files and folders that are there whole or not at all: they are made under a passing name beside the final
/// one and take it when they are done.
namespace mnemon {

/// The contents of a file.
/// \throws DataError  where it is missing, a folder, or cannot be read.
[[nodiscard]] std::string read_file(const std::filesystem::path& file);

/// Writes a file, replacing what was there; makes the folders above it.
/// \throws DataError  where that fails; what was there before is then still there.
void write_file(const std::filesystem::path& file, std::string_view contents);

/// Makes the folder and those above it.
/// \throws DataError  where that fails.
void make_folder(const std::filesystem::path& folder);

/// A file in the making: write to `path()`, then call `finish`, which replaces what was there. Without that it is
/// removed again.
class NewFile {
 public:
  /// Makes the folders above it.
  /// \throws DataError  where that fails.
  explicit NewFile(std::filesystem::path target);
  NewFile(const NewFile&) = delete;
  NewFile& operator=(const NewFile&) = delete;
  ~NewFile();

  [[nodiscard]] const std::filesystem::path& path() const noexcept { return passing_; }

  /// Gives the file its name.
  /// \throws DataError  where that fails.
  void finish();

 private:
  std::filesystem::path target_;
  std::filesystem::path passing_;
  bool finished_ = false;
};

/// A folder in the making: fill `path()`, then call `finish`. Without that it is removed again.
class NewFolder {
 public:
  /// \throws CallError  if `target` is a file or a folder with anything in it.
  explicit NewFolder(std::filesystem::path target);
  NewFolder(const NewFolder&) = delete;
  NewFolder& operator=(const NewFolder&) = delete;
  ~NewFolder();

  [[nodiscard]] const std::filesystem::path& path() const noexcept { return passing_; }

  /// Gives the folder its name.
  /// \throws DataError  where that fails.
  void finish();

 private:
  std::filesystem::path target_;
  std::filesystem::path passing_;
  bool finished_ = false;
};

}  // namespace mnemon
