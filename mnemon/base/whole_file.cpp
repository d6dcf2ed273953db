// SPDX-License-Identifier: MIT
#include <mnemon/base/whole_file.hpp>

#include <algorithm>
#include <cerrno>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <system_error>

#include <fcntl.h>
#include <fmt/format.h>
#include <stdio.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr std::size_t kFirstRead = 65536;

fs::path passing_name(fs::path path) {
  if (!path.has_filename()) path = path.parent_path();  // "folder/" names the folder
  return path.parent_path() / fmt::format(".{}.{}.part", path.filename().string(), ::getpid());
}

constexpr int kMostLinks = 40;  // as many as the system follows

}  // namespace

std::string read_file(const fs::path& file) {
  std::error_code code;
  if (!fs::exists(file, code)) throw DataError({file}, "there is no such file");
  if (fs::is_directory(file, code)) throw DataError({file}, "is a folder, not a file");
  errno = 0;
  std::ifstream in(file, std::ios::binary);
  // At one go where its size is told; a pipe tells none.
  const std::uintmax_t told = fs::file_size(file, code);
  std::string contents(code ? 0 : static_cast<std::size_t>(told), '\0');
  std::size_t size = 0;
  while (in) {
    if (size == contents.size() && in.peek() != std::ifstream::traits_type::eof())
      contents.resize(std::max(2 * size, kFirstRead));
    in.read(contents.data() + size, static_cast<std::streamsize>(contents.size() - size));
    size += static_cast<std::size_t>(in.gcount());
  }
  if (in.bad() || !in.is_open())
    throw DataError({file},
                    fmt::format("cannot be read: {}", errno != 0 ? std::strerror(errno) : "unknown reason"));
  contents.resize(size);
  return contents;
}

void write_file(const fs::path& file, std::string_view contents) {
  NewFile made(file);
  errno = 0;
  std::ofstream out(made.path(), std::ios::binary | std::ios::trunc);
  out.write(contents.data(), static_cast<std::streamsize>(contents.size()));
  out.close();
  if (!out)
    throw DataError(
        {file}, fmt::format("cannot be written: {}", errno != 0 ? std::strerror(errno) : "unknown reason"));
  made.finish();
}

void make_folder(const fs::path& folder) {
  std::error_code code;
  fs::create_directories(folder, code);
  if (code) throw DataError({folder}, "the folder cannot be made: " + code.message());
}

void move_file(const fs::path& from, const fs::path& to) {
  std::error_code code;
  fs::rename(from, to, code);
  if (code) throw DataError({to}, "cannot be put in place: " + code.message());
}

fs::path end_of_links(fs::path name) {
  std::error_code code;
  for (int links = 0; fs::is_symlink(name.has_filename() ? name : name.parent_path(), code); ++links) {
    if (links == kMostLinks) throw DataError({name}, "cannot be written: its links go in a circle");
    if (!name.has_filename()) name = name.parent_path();
    name = name.parent_path() / fs::read_symlink(name, code);  // an absolute one takes the place of all
  }
  return name;
}

bool is_device_or_pipe(const fs::path& name) {
  std::error_code code;
  const fs::file_status status = fs::status(name, code);
  return fs::exists(status) && !fs::is_regular_file(status) && !fs::is_directory(status);
}

// What a link to an open pipe points to (`/dev/fd/63`) has no name of its own, so that is not looked for.
InTheMaking::InTheMaking(fs::path target)
    : target_(is_device_or_pipe(target) ? std::move(target) : end_of_links(std::move(target))),
      passing_(is_device_or_pipe(target_) ? target_ : passing_name(target_)),
      finished_(passing_ == target_) {}

InTheMaking::~InTheMaking() {
  std::error_code ignored;
  if (!finished_) fs::remove_all(passing_, ignored);
}

void InTheMaking::finish() {
  if (finished_) return;
  std::error_code code;
  // A folder that is to be replaced and the new one change names at once; then the old one goes.
  if (fs::is_directory(passing_, code) && fs::is_directory(target_, code) && !fs::is_empty(target_, code)) {
    if (::renameat2(AT_FDCWD, passing_.c_str(), AT_FDCWD, target_.c_str(), RENAME_EXCHANGE) != 0)
      throw DataError({target_}, fmt::format("cannot be replaced: {}", std::strerror(errno)));
    fs::remove_all(passing_, code);
  } else {
    move_file(passing_, target_);  // over a file, or over an empty folder
  }
  finished_ = true;
}

NewFile::NewFile(fs::path target) : InTheMaking(std::move(target)) {
  if (path().has_parent_path()) make_folder(path().parent_path());
}

Replace Replace::if_only_of(std::vector<std::string> names) {
  Replace replace;
  replace.may_hold_ = [known = std::move(names)](const fs::path& entry) {
    return std::ranges::find(known, entry.filename().string()) != known.end();
  };
  return replace;
}

Replace Replace::if_only_numbered_pictures() {
  const auto is_numbered = [](const fs::path& entry) {
    const std::string stem = entry.stem().string();
    return entry.extension() == ".png" && !stem.empty() &&
           std::ranges::all_of(stem, [](char c) { return c >= '0' && c <= '9'; });
  };
  Replace replace;
  replace.may_hold_ = [is_numbered](const fs::path& entry) {
    if (!fs::is_directory(entry)) return is_numbered(entry);
    return std::ranges::all_of(fs::directory_iterator(entry),
                               [&](const auto& inner) { return is_numbered(inner.path()); });
  };
  return replace;
}

bool Replace::allows(const fs::path& folder) const {
  std::error_code code;
  if (!fs::is_directory(folder, code)) return false;
  return std::ranges::all_of(fs::directory_iterator(folder),
                             [this](const auto& entry) { return may_hold_ && may_hold_(entry.path()); });
}

NewFolder::NewFolder(fs::path target, const Replace& replace) : InTheMaking(std::move(target)) {
  const fs::path& wanted = this->target();
  std::error_code code;
  if (fs::exists(wanted, code) && !replace.allows(wanted))
    throw CallError(fmt::format(
        "{}: is already there and not empty; name a new folder, or say --overwrite where the same was "
        "written before",
        wanted.string()));
  make_folder(path());
}

ScratchFolder::ScratchFolder(const fs::path& in) {
  std::string name = (in / ".mnemon-XXXXXX").string();
  make_folder(in);
  if (::mkdtemp(name.data()) == nullptr)
    throw DataError({in}, fmt::format("no folder can be made in it: {}", std::strerror(errno)));
  path_ = name;
}

ScratchFolder::~ScratchFolder() {
  std::error_code ignored;
  fs::remove_all(path_, ignored);
}

}  // namespace mnemon
