// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include <mnemon/sequence/box_list.hpp>
#include <mnemon/sequence/import.hpp>
/// \file
/// Importing many sequences that are laid out alike, each in a folder of its own.
namespace mnemon {

/// What lies where in each folder.
struct SetLayout {
  std::string
      frames;  ///< A folder of pictures, a pattern, or a video; empty: the pictures in the folder itself.
  std::string boxes;  ///< The list of boxes.
  std::string masks;  ///< A pattern such as `masks/%06d.png`; empty for none.
  std::string
      visible;  ///< A number a frame: 0 where the target is away, up to 1 where all of it is seen; empty for none.
  std::string away;  ///< A number a frame: not 0 where the target is away; empty for none.
  std::string
      tags;  ///< Words for difficulties, parted by blanks, commas, semicolons or ends of lines; empty for none.
  BoxListForm form;    ///< Of the boxes. Its delimiter is found for each file anew where it is 0.
  double rate_hz = 0;  ///< 0: what a video says, or 30.
};

/// Words for difficulties, and which tags they stand for; an empty tag stands for none.
using TagMap = std::map<std::string, std::string>;

/// Reads a TOML file of `word = "tag"`, or `word = ""` for a word that is no tag.
/// \throws DataError  naming file, line and column, where a tag is not known.
[[nodiscard]] TagMap read_tag_map(const std::filesystem::path& file);

/// Tags that words stand for: by the map, or where the word, in small letters and with dashes for blanks and underscores, is a tag itself.
struct WordTags {
  std::vector<std::string> tags;     ///< In the order in which they are known, each once.
  std::vector<std::string> unknown;  ///< Words that stand for none.
};
/// Reads the words of a text that the map knows.
[[nodiscard]] WordTags tags_of_words(std::string_view text, const TagMap& map);

/// Reads a table of tags: CSV with columns `name` and `tags`, whose words are parted as above.
/// \throws DataError  naming file, line and column.
[[nodiscard]] std::map<std::string, std::string> read_tag_table(const std::filesystem::path& file);

/// One folder as a sequence.
struct ImportedSequence {
  DescribedFrames described;               ///< What the files say.
  std::vector<std::string> unknown_words;  ///< That the map does not know, each once.
};

/// Describes what lies in `source` as a sequence in `folder`, which is there already; copies nothing and decodes no frame.
/// \param source      The folder with frames and boxes.
/// \param layout      What lies where in it.
/// \param map         Which tags words stand for.
/// \param more_words  Words for its tags besides those that lie in the folder.
/// \param folder      Where its description and truth are to be written.
/// \throws DataError, CallError  where something is not there or cannot be read.
[[nodiscard]] ImportedSequence import_from(const std::filesystem::path& source, const SetLayout& layout,
                                           const TagMap& map, const std::string& more_words,
                                           const std::filesystem::path& folder);

/// The folders like a pattern, in natural order; a name without wildcards stands for itself.
[[nodiscard]] std::vector<std::filesystem::path> folders_like(const std::filesystem::path& pattern);

/// Names for folders, each another one: a folder's own, and where two are alike those of the folders that they lie in before it, with a dash.
[[nodiscard]] std::vector<std::string> names_of_folders(const std::vector<std::filesystem::path>& folders);

}  // namespace mnemon
