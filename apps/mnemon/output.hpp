// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/study/score_record.hpp>
/// \file
/// What the program says. Control characters and broken UTF-8 in it, as labels and folders' names may hold, never
/// reach a terminal.
namespace mnemon::app {

/// Whoever read standard output has gone, as `head` does when it has seen enough.
struct ReaderGone : Error {
  ReaderGone() : Error("nobody reads standard output any more") {}
};

/// Writes results to standard output.
/// \throws ReaderGone, or Error where it cannot be written.
void print_text(const std::string& text);

template <class... Values>
void print(fmt::format_string<Values...> form, Values&&... values) {
  print_text(fmt::format(form, std::forward<Values>(values)...));
}

/// Prints JSON over several lines.
void print_json(const Json& json);

/// Waits until all that was printed is written. \throws  As print_text.
void flush_output();

/// Writes a message to standard error. Where that cannot be written the message is lost; nothing is thrown.
void note_text(const std::string& text) noexcept;

template <class... Values>
void note(fmt::format_string<Values...> form, Values&&... values) {
  note_text(fmt::format(form, std::forward<Values>(values)...));
}

}  // namespace mnemon::app
