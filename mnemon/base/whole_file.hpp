// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>
/// \file
/// Files and folders that are there whole or not at all: they are made under a passing name beside the final
/// one and take it when they are done. Links are followed: what they point to is replaced, they themselves stay. A
/// device, a pipe or a socket is never replaced, but written into.
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

/// Gives a file another name, in place of what has that name.
/// \throws DataError  where that fails; `from` is then still there.
void move_file(const std::filesystem::path& from, const std::filesystem::path& to);

/// Where a name leads in the end: links are followed, also where the last of them points to nothing yet.
/// \throws DataError  where links go in a circle.
[[nodiscard]] std::filesystem::path end_of_links(std::filesystem::path name);

/// Whether there is a device, a pipe or a socket of that name: something to be written into, not replaced.
[[nodiscard]] bool is_device_or_pipe(const std::filesystem::path& name);

/// Something that is made under a passing name and takes its own when it is done.
class InTheMaking {
 public:
  InTheMaking(const InTheMaking&) = delete;
  InTheMaking& operator=(const InTheMaking&) = delete;

  /// Where to write.
  [[nodiscard]] const std::filesystem::path& path() const noexcept { return passing_; }

  /// Gives it its name.
  /// \throws DataError  where that fails.
  void finish();

 protected:
  /// What is to be at `target` in the end.
  explicit InTheMaking(std::filesystem::path target);
  ~InTheMaking();

  /// What is to be there in the end.
  [[nodiscard]] const std::filesystem::path& target() const noexcept { return target_; }

 private:
  std::filesystem::path target_;
  std::filesystem::path passing_;
  bool finished_ = false;  ///< Or there is nothing to finish: what is written into needs no other name.
};

/// A file in the making: write to `path()`, then call `finish`, which replaces what was there. Without that it is
/// removed again.
class NewFile : public InTheMaking {
 public:
  /// Makes the folders above it.
  /// \throws DataError  where that fails.
  explicit NewFile(std::filesystem::path target);
};

/// What may be in a folder that a new one takes the place of. The names in it are checked, so that a wrong call does
/// not remove what somebody else has put there.
class Replace {
 public:
  /// The folder has to be new or empty.
  static Replace nothing() { return {}; }
  /// It may hold files and folders of these names, all else being somebody's.
  static Replace if_only_of(std::vector<std::string> names);
  /// It may hold pictures that are numbered, or folders of such.
  static Replace if_only_numbered_pictures();

  /// Whether such a folder may be replaced.
  [[nodiscard]] bool allows(const std::filesystem::path& folder) const;

 private:
  std::function<bool(const std::filesystem::path& entry)> may_hold_;
};

/// A folder in the making: fill `path()`, then call `finish`. Without that it is removed again, and what was there
/// before stays.
class NewFolder : public InTheMaking {
 public:
  /// \throws CallError  if `target` is a file or a folder that holds anything but what may be replaced.
  explicit NewFolder(std::filesystem::path target, const Replace& replace = Replace::nothing());
};

/// A hidden folder in another one, for what is made on the way; it goes away with its object.
class ScratchFolder {
 public:
  /// \throws DataError  where it cannot be made.
  explicit ScratchFolder(const std::filesystem::path& in);
  ScratchFolder(const ScratchFolder&) = delete;
  ScratchFolder& operator=(const ScratchFolder&) = delete;
  ~ScratchFolder();

  /// Where to write, until it is finished.
  [[nodiscard]] const std::filesystem::path& path() const noexcept { return path_; }

 private:
  std::filesystem::path path_;
};

}  // namespace mnemon
