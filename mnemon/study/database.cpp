// SPDX-License-Identifier: MIT
#include <mnemon/study/database.hpp>

#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>
#include <sqlite3.h>

#include <mnemon/base/error.hpp>

namespace mnemon {

namespace {

const char* disk_hint(int code) {
  return code == SQLITE_FULL || code == SQLITE_IOERR ? "; the disk is full or failing. What is in the file "
                                                       "is intact: make room and run the same again"
                                                     : "";
}

}  // namespace

Statement::Statement(sqlite3* database, std::string_view sql, const std::filesystem::path& file)
    : database_(database), file_(&file) {
  sqlite3_stmt* raw = nullptr;
  const int code = sqlite3_prepare_v2(database, sql.data(), static_cast<int>(sql.size()), &raw, nullptr);
  statement_.reset(raw);
  check(code);
}

void Statement::check(int code) const {
  if (code == SQLITE_OK || code == SQLITE_ROW || code == SQLITE_DONE) return;
  const char* hint = code == SQLITE_BUSY ? "; another program is writing to it" : disk_hint(code);
  throw DataError({*file_},
                  fmt::format("the study file cannot be used: {}{}", sqlite3_errmsg(database_), hint));
}

Statement& Statement::bind(std::int64_t value) {
  check(sqlite3_bind_int64(statement_.get(), ++bound_, value));
  return *this;
}

Statement& Statement::bind(double value) {
  ++bound_;
  check(std::isfinite(value) ? sqlite3_bind_double(statement_.get(), bound_, value)
                             : sqlite3_bind_null(statement_.get(), bound_));
  return *this;
}

Statement& Statement::bind(std::optional<double> value) {
  return bind(value.value_or(std::numeric_limits<double>::quiet_NaN()));
}

Statement& Statement::bind(const std::string& value) {
  check(sqlite3_bind_text(statement_.get(), ++bound_, value.data(), static_cast<int>(value.size()),
                          SQLITE_TRANSIENT));
  return *this;
}

Statement& Statement::bind_lasting(std::string_view value) {
  check(sqlite3_bind_text(statement_.get(), ++bound_, value.data(), static_cast<int>(value.size()),
                          SQLITE_STATIC));
  return *this;
}

Statement& Statement::bind_bytes(std::string_view value) {
  check(sqlite3_bind_blob(statement_.get(), ++bound_, value.data(), static_cast<int>(value.size()),
                          SQLITE_TRANSIENT));
  return *this;
}

bool Statement::next() {
  const int code = sqlite3_step(statement_.get());
  check(code);
  return code == SQLITE_ROW;
}

void Statement::run() {
  while (next()) continue;
  check(sqlite3_reset(statement_.get()));
  bound_ = 0;
}

void Statement::restart() noexcept {
  sqlite3_reset(statement_.get());  // what it says is the error of the run before
  bound_ = 0;
}

std::int64_t Statement::whole(int column) const { return sqlite3_column_int64(statement_.get(), column); }

double Statement::real(int column) const {
  return maybe_real(column).value_or(std::numeric_limits<double>::quiet_NaN());
}

std::optional<double> Statement::maybe_real(int column) const {
  if (sqlite3_column_type(statement_.get(), column) == SQLITE_NULL) return std::nullopt;
  return sqlite3_column_double(statement_.get(), column);
}

std::string Statement::text(int column) const {
  const void* bytes = sqlite3_column_blob(statement_.get(), column);
  const int size = sqlite3_column_bytes(statement_.get(), column);
  return bytes == nullptr ? std::string() : std::string(static_cast<const char*>(bytes), size);
}

void Statement::Finalizer::operator()(sqlite3_stmt* statement) const noexcept { sqlite3_finalize(statement); }

Database::Database(std::filesystem::path file, Mode mode) : file_(std::move(file)) {
  if (mode == Mode::read && !std::filesystem::exists(file_))
    throw DataError({file_}, "there is no such study; make one with 'mnemon bench'");
  // One thread at a time uses it, so that it need not lock.
  const int flags = SQLITE_OPEN_NOMUTEX | (mode == Mode::create ? SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE
                                                                : SQLITE_OPEN_READONLY);
  sqlite3* raw = nullptr;
  const int code = sqlite3_open_v2(file_.c_str(), &raw, flags, nullptr);
  database_.reset(raw);
  if (code != SQLITE_OK)
    throw DataError({file_}, fmt::format("the study file cannot be opened: {}", sqlite3_errmsg(raw)));
  sqlite3_busy_timeout(raw, 2000);
  run("PRAGMA foreign_keys = ON");
}

void Database::run(std::string_view sql) {
  char* message = nullptr;
  const int code = sqlite3_exec(database_.get(), std::string(sql).c_str(), nullptr, nullptr, &message);
  const std::unique_ptr<char, decltype(&sqlite3_free)> guard(message, &sqlite3_free);
  if (code != SQLITE_OK)
    throw DataError({file_}, fmt::format("the study file cannot be used: {}{}",
                                         message ? message : "unknown reason", disk_hint(code)));
}

Statement Database::prepare(std::string_view sql) { return {database_.get(), sql, file_}; }

Statement& Database::prepare_once(std::string_view sql) {
  auto kept = kept_.find(sql);
  if (kept == kept_.end()) kept = kept_.emplace(sql, prepare(sql)).first;
  kept->second.restart();
  return kept->second;
}

std::int64_t Database::last_id() const { return sqlite3_last_insert_rowid(database_.get()); }

void Database::Closer::operator()(sqlite3* database) const noexcept { sqlite3_close(database); }

Transaction::~Transaction() {
  if (!open_) return;
  try {
    database_.run("ROLLBACK");
  } catch (const Error&) {
    // SQLite has undone it already, as it does where the disk is full.
  }
}

void Transaction::commit() {
  database_.run("COMMIT");
  open_ = false;
}

}  // namespace mnemon
