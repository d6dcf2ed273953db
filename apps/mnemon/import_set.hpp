// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <string>
#include <vector>

#include <mnemon/sequence/import_set.hpp>

namespace mnemon::app {

/// Which folders are to become sequences, and how.
struct SetImport {
  std::string pattern;
  std::string to;
  SetLayout layout;
  TagMap tag_map;
  std::map<std::string, std::string> tag_table;  ///< Words by the sequence's name.
  std::vector<std::string> tags;                 ///< Of every sequence.
  bool overwrite = false;
  bool json = false;
};

/// Imports each folder, goes on where one cannot be read, and says which. Writes the sequences, a plan over them and a sheet with
/// three frames of each.
/// \throws CallError  where no folder is like the pattern; Error  where some could not be imported: the others were.
void import_set(const SetImport& import);

}  // namespace mnemon::app
