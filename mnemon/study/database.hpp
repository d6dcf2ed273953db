// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

struct sqlite3;
struct sqlite3_stmt;

namespace mnemon {

/// A prepared SQL statement: bind values, then walk over its rows.
class Statement {
 public:
  /// The file is for messages.
  Statement(sqlite3* database, std::string_view sql, const std::filesystem::path& file);

  /// Binds the next parameter; nothing and numbers that are not finite become NULL.
  Statement& bind(std::int64_t value);
  /// Binds the next place of the statement.
  Statement& bind(int value) { return bind(std::int64_t{value}); }
  /// Likewise; NaN is no number, and null.
  Statement& bind(double value);
  /// Likewise; nothing is null.
  Statement& bind(std::optional<double> value);
  /// Likewise, as text.
  Statement& bind(const std::string& value);
  /// The text must stay as it is until the statement has run.
  Statement& bind_lasting(std::string_view value);
  /// Likewise, as bytes.
  Statement& bind_bytes(std::string_view value);

  /// Goes to the next row; false after the last.
  /// \throws DataError  where the database says so.
  bool next();
  /// Runs a statement without rows, and makes it ready to be bound and run again.
  void run();
  /// Makes it ready to be bound and run, whatever came of it before.
  void restart() noexcept;

  /// A column of the row at hand.
  [[nodiscard]] std::int64_t whole(int column) const;
  [[nodiscard]] double real(int column) const;  ///< NaN for NULL.
  /// Likewise; nothing where it is null.
  [[nodiscard]] std::optional<double> maybe_real(int column) const;
  /// Likewise.
  [[nodiscard]] std::string text(int column) const;

 private:
  void check(int code) const;

  struct Finalizer {
    void operator()(sqlite3_stmt* statement) const noexcept;
  };
  std::unique_ptr<sqlite3_stmt, Finalizer> statement_;
  sqlite3* database_;
  const std::filesystem::path* file_;
  int bound_ = 0;
};

/// An SQLite file, used by one thread at a time. Its errors are thrown as DataError with the file's name.
class Database {
 public:
  enum class Mode { read, create };  ///< Whether the file has to be there, or is made.

  /// \throws DataError  where it is missing (to read), or no database.
  Database(std::filesystem::path file, Mode mode);

  /// The file, for messages.
  [[nodiscard]] const std::filesystem::path& file() const noexcept { return file_; }

  /// Runs statements that give no rows.
  void run(std::string_view sql);
  /// Makes a statement ready to be bound and stepped.
  [[nodiscard]] Statement prepare(std::string_view sql);
  /// The same, prepared once and kept for the next call with this text: for statements without rows.
  [[nodiscard]] Statement& prepare_once(std::string_view sql);
  /// Of the row that was added last.
  [[nodiscard]] std::int64_t last_id() const;

 private:
  struct Closer {
    void operator()(sqlite3* database) const noexcept;
  };
  std::filesystem::path file_;
  std::unique_ptr<sqlite3, Closer> database_;
  std::map<std::string, Statement, std::less<>> kept_;  // goes before what it belongs to
};

/// All or nothing: what is not committed when it ends is undone.
class Transaction {
 public:
  /// What is done from now on is undone, unless it is committed.
  explicit Transaction(Database& database) : database_(database) { database_.run("BEGIN IMMEDIATE"); }
  Transaction(const Transaction&) = delete;
  Transaction& operator=(const Transaction&) = delete;
  ~Transaction();
  /// Makes it all last.
  void commit();

 private:
  Database& database_;
  bool open_ = true;
};

}  // namespace mnemon
