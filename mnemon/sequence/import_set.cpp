// SPDX-License-Identifier: MIT
#include <mnemon/sequence/import_set.hpp>

#include <algorithm>
#include <cctype>
#include <memory>
#include <set>

#include <fmt/format.h>
#include <glob.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/natural_order.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/sequence/csv.hpp>
#include <mnemon/sequence/toml_file.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr std::string_view kBetweenWords = " \t\r\n,;";

std::vector<std::string> words_of(std::string_view text) {
  std::vector<std::string> words;
  std::size_t at = 0;
  while ((at = text.find_first_not_of(kBetweenWords, at)) != std::string_view::npos) {
    const std::size_t end = std::min(text.find_first_of(kBetweenWords, at), text.size());
    words.emplace_back(text.substr(at, end - at));
    at = end;
  }
  return words;
}

// As tags are written: small letters, with dashes.
std::string like_a_tag(std::string word) {
  for (char& c : word) c = c == '_' ? '-' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return word;
}

bool is_tag(const std::string& word) {
  return std::ranges::find(known_tags(), std::string_view(word)) != known_tags().end();
}

std::vector<double> numbers_in(const fs::path& file) {
  std::vector<double> numbers;
  for (const std::string& word : words_of(read_file(file))) {
    const auto number = parse_real(word);
    if (!number) throw DataError({file}, fmt::format("'{}' is no number; a number a frame is wanted", word));
    numbers.push_back(*number);
  }
  return numbers;
}

// A number a frame; frames behind the last are as they are.
void apply(const fs::path& file, Truth& truth, void (*use)(double, TruthRow&)) {
  const std::vector<double> numbers = numbers_in(file);
  for (TruthRow& row : truth.rows)
    if (row.frame < static_cast<int>(numbers.size())) use(numbers[static_cast<std::size_t>(row.frame)], row);
}

void leave(TruthRow& row) {
  row.present = false;
  row.box = {};
}

}  // namespace

TagMap read_tag_map(const fs::path& file) {
  const TomlFile toml(file);
  const TomlTable root = toml.root();
  TagMap map;
  for (const std::string& word : root.keys()) {
    const std::string tag = root.text(word);
    if (!tag.empty() && !is_tag(tag))
      throw DataError(
          root.place(word),
          fmt::format("'{}' is not a tag{}", tag,
                      name_hint(tag, std::vector<std::string>(known_tags().begin(), known_tags().end()))));
    map[word] = tag;
  }
  return map;
}

WordTags tags_of_words(std::string_view text, const TagMap& map) {
  std::set<std::string> found;
  WordTags made;
  for (const std::string& word : words_of(text)) {
    const auto mapped = map.find(word);
    if (mapped != map.end()) {
      if (!mapped->second.empty()) found.insert(mapped->second);
    } else if (is_tag(like_a_tag(word))) {
      found.insert(like_a_tag(word));
    } else if (std::ranges::find(made.unknown, word) == made.unknown.end()) {
      made.unknown.push_back(word);
    }
  }
  for (const std::string_view tag : known_tags())
    if (found.contains(std::string(tag))) made.tags.emplace_back(tag);
  return made;
}

std::map<std::string, std::string> read_tag_table(const fs::path& file) {
  const CsvTable table(read_file(file), file);
  const int name = table.needed_column("name");
  const int tags = table.needed_column("tags");
  std::map<std::string, std::string> words;
  for (int row = 0; row < table.row_count(); ++row)
    words[std::string(table.text(row, name))] += fmt::format(" {}", table.text(row, tags));
  return words;
}

ImportedSequence import_from(const fs::path& source, const SetLayout& layout, const TagMap& map,
                             const std::string& more_words, const fs::path& folder) {
  const fs::path boxes = source / layout.boxes;
  Truth truth = parse_box_list(read_file(boxes), boxes, layout.form);
  if (truth.rows.empty()) throw DataError({boxes}, "has no box");
  if (!layout.visible.empty())
    apply(source / layout.visible, truth, [](double share, TruthRow& row) {
      if (!(share > 0))
        leave(row);
      else
        row.visible = std::min(1.0, share);
    });
  if (!layout.away.empty())
    apply(source / layout.away, truth, [](double flag, TruthRow& row) {
      if (flag != 0) leave(row);
    });
  ImportedSequence imported;
  imported.described =
      describe_frames(layout.frames.empty() ? source : source / layout.frames, truth, folder);
  Sequence& sequence = imported.described.sequence;
  if (layout.rate_hz > 0) sequence.rate_hz = layout.rate_hz;
  if (!layout.masks.empty()) {
    static_cast<void>(numbered_name(layout.masks, 0));
    sequence.masks = fs::absolute(source / layout.masks)
                         .lexically_normal()
                         .lexically_proximate(fs::absolute(folder).lexically_normal())
                         .string();
  }
  std::string words = more_words;
  if (!layout.tags.empty()) {
    words += '\n';
    words += read_file(source / layout.tags);
  }
  WordTags tags = tags_of_words(words, map);
  sequence.tags = std::move(tags.tags);
  imported.unknown_words = std::move(tags.unknown);
  return imported;
}

std::vector<fs::path> folders_like(const fs::path& pattern) {
  if (pattern.string().find_first_of("*?[") == std::string::npos || fs::is_directory(pattern))
    return {pattern};
  glob_t found{};
  const std::unique_ptr<glob_t, decltype(&::globfree)> guard(&found, &::globfree);
  std::vector<fs::path> folders;
  if (::glob(pattern.c_str(), 0, nullptr, &found) != 0) return folders;
  for (std::size_t i = 0; i < found.gl_pathc; ++i)
    if (fs::is_directory(found.gl_pathv[i])) folders.emplace_back(found.gl_pathv[i]);
  std::ranges::sort(
      folders, [](const fs::path& a, const fs::path& b) { return comes_before(a.string(), b.string()); });
  return folders;
}

std::vector<std::string> names_of_folders(const std::vector<fs::path>& folders) {
  std::vector<std::string> names;
  std::vector<fs::path> above;
  for (const fs::path& folder : folders) {
    const fs::path place = fs::absolute(folder / "").lexically_normal().parent_path();
    names.push_back(place.filename().string());
    above.push_back(place.parent_path());
  }
  // Each that is not alone in its name takes one more of the folders above.
  for (bool again = true; again;) {
    again = false;
    std::map<std::string, int> count;
    for (const std::string& name : names) ++count[name];
    for (std::size_t i = 0; i < names.size(); ++i) {
      if (count[names[i]] < 2 || !above[i].has_filename()) continue;
      names[i] = fmt::format("{}-{}", above[i].filename().string(), names[i]);
      above[i] = above[i].parent_path();
      again = true;
    }
  }
  return names;
}

}  // namespace mnemon
