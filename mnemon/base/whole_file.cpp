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

void make_folder(const fs::path& folder) {
  std::error_code code;
  fs::create_directories(folder, code);
  if (code) throw DataError({folder}, "the folder cannot be made: " + code.message());
}

InTheMaking::InTheMaking(fs::path target) : target_(std::move(target)), passing_(passing_name(target_)) {}

InTheMaking::~InTheMaking() {
  std::error_code ignored;
  if (!finished_) fs::remove_all(passing_, ignored);
}

void InTheMaking::finish() {
  move_into_place(passing_, target_);  // over a file, or over an empty folder
  finished_ = true;
}

NewFile::NewFile(fs::path target) : InTheMaking(std::move(target)) {
  if (path().has_parent_path()) make_folder(path().parent_path());
}

NewFolder::NewFolder(fs::path target) : InTheMaking(std::move(target)) {
  const fs::path& wanted = this->target();
  std::error_code code;
  if (fs::exists(wanted, code) && !(fs::is_directory(wanted, code) && fs::is_empty(wanted, code)))
    throw CallError(fmt::format("{}: is already there and not empty; name a new folder", wanted.string()));
  make_folder(path());
}

}  // namespace mnemon
