// SPDX-License-Identifier: MIT
#include <mnemon/base/whole_file.hpp>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <sstream>
#include <system_error>

#include <fmt/format.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

fs::path passing_name(fs::path path) {
  if (!path.has_filename()) path = path.parent_path();  // "folder/" names the folder
  return path.parent_path() / fmt::format(".{}.{}.part", path.filename().string(), ::getpid());
}

void move_into_place(const fs::path& from, const fs::path& to) {
  std::error_code code;
  fs::rename(from, to, code);
  if (!code) return;
  std::error_code ignored;
  fs::remove_all(from, ignored);
  throw DataError({to}, "cannot be put in place: " + code.message());
}

}  // namespace

std::string read_file(const fs::path& file) {
  std::error_code code;
  if (!fs::exists(file, code)) throw DataError({file}, "there is no such file");
  if (fs::is_directory(file, code)) throw DataError({file}, "is a folder, not a file");
  std::ifstream in(file, std::ios::binary);
  std::ostringstream contents;
  if (in.peek() != std::ifstream::traits_type::eof()) contents << in.rdbuf();
  if (in.bad() || !in.is_open() || contents.fail())
    throw DataError({file}, fmt::format("cannot be read: {}", std::strerror(errno)));
  return std::move(contents).str();
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

NewFile::NewFile(fs::path target) : target_(std::move(target)), passing_(passing_name(target_)) {
  if (target_.has_parent_path()) make_folder(target_.parent_path());
}

NewFile::~NewFile() {
  std::error_code ignored;
  if (!finished_) fs::remove(passing_, ignored);
}

void NewFile::finish() {
  move_into_place(passing_, target_);
  finished_ = true;
}

void make_folder(const fs::path& folder) {
  std::error_code code;
  fs::create_directories(folder, code);
  if (code) throw DataError({folder}, "the folder cannot be made: " + code.message());
}

NewFolder::NewFolder(fs::path target) : target_(std::move(target)), passing_(passing_name(target_)) {
  std::error_code code;
  if (fs::exists(target_, code) && !(fs::is_directory(target_, code) && fs::is_empty(target_, code)))
    throw CallError(fmt::format("{}: is already there and not empty; name a new folder", target_.string()));
  make_folder(passing_);
}

NewFolder::~NewFolder() {
  std::error_code ignored;
  if (!finished_) fs::remove_all(passing_, ignored);
}

void NewFolder::finish() {
  std::error_code ignored;
  fs::remove(target_, ignored);  // only an empty folder can be there
  move_into_place(passing_, target_);
  finished_ = true;
}

}  // namespace mnemon
