// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <stdexcept>
#include <string>
/// \file
/// The one family of exceptions. Expected events (a lost target, the end of a stream) are values instead.
namespace mnemon {

/// What every exception of the library derives from; `what()` is a message that a user can act on.
struct Error : std::runtime_error {
  using std::runtime_error::runtime_error;
};

/// The caller asked for the impossible: the program ends with status 2.
struct CallError : Error {
  using Error::Error;
};

/// Where in a file something was found. Lines and columns count from 1; 0 means "the file as a whole".
struct Place {
  std::filesystem::path file;  ///< Which file it is.
  int line = 0;                ///< Of the file, from 1; 0 where that says nothing.
  int column = 0;              ///< Of the line, from 1; 0 where that says nothing.
};

/// Data from outside is missing or broken: the program ends with status 1.
struct DataError : Error {
  /// The message becomes `file:line:column: what`, without the parts that are 0.
  DataError(const Place& place, const std::string& what);
};

/// The text form of a place, as compilers write it.
[[nodiscard]] std::string to_text(const Place& place);

}  // namespace mnemon
