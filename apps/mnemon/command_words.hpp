// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/base/params.hpp>

namespace mnemon::app {

/// The words of a command that was written in one text, with blanks between them; what stands between quotes of one kind
/// is one word, or part of one. Nothing else has a meaning: no shell sees it.
/// \throws CallError  where it has no words, or quotes do not end.
[[nodiscard]] std::vector<std::string> words_of_command(const std::string& text);

/// Settings `KEY=VAL` that nothing describes: numbers, true or false, else words.
/// \throws CallError  where one is not of that form.
[[nodiscard]] ParamSet free_settings(const std::vector<std::string>& texts);

}  // namespace mnemon::app
