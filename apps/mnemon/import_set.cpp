// SPDX-License-Identifier: MIT
#include "import_set.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/canvas.hpp>
#include <mnemon/media/picture_file.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

constexpr int kPictureWidth = 160;
constexpr int kPictureHeight = 110;
constexpr int kLeastAcross = 3;           // sequences side by side, with three pictures each
constexpr std::size_t kMostShown = 2000;  // on one sheet, which no viewer opens otherwise
constexpr int kCaption = 16;
constexpr const char* kSheet = "glance.jpg";
constexpr int kSheetQuality = 85;
constexpr Ink kPaper{0.97, 0.96, 0.94};
constexpr Ink kLetters{0.15, 0.13, 0.11};

// What became of one folder.
struct Result {
  fs::path folder;
  std::string name;
  std::string failure;  // empty where it was imported
  int frames = 0;
  int boxes = 0;
  int absent = 0;
  std::vector<std::string> tags;
  std::vector<std::string> unknown_words;
  std::vector<Image<Byte>> pictures;  // three, with their boxes
};

Image<Byte> picture_of(const Frame& frame, const TruthRow& row) {
  Canvas canvas(frame.rgb);
  if (row.present)
    canvas.outline(row.box, kEstimateInk, Stroke::solid, std::max(2.0, frame.rgb.cols / 160.0));
  const Image<Byte> drawn = canvas.picture();
  const double factor = std::min(double(kPictureWidth) / drawn.cols(), double(kPictureHeight) / drawn.rows());
  return resized(drawn.view(), std::max(1, int(factor * drawn.rows())),
                 std::max(1, int(factor * drawn.cols())));
}

// The first, the middle and the last row on their frames: no other frame is decoded where frames are pictures.
std::vector<Image<Byte>> pictures_of(const Sequence& sequence) {
  const std::vector<TruthRow>& rows = sequence.truth.rows;
  const std::set<int> shown{rows.front().frame, rows[rows.size() / 2].frame, rows.back().frame};
  std::vector<Image<Byte>> pictures;
  visit_frames(*open_frames(sequence), std::vector<int>(shown.begin(), shown.end()), [&](const Frame& frame) {
    pictures.push_back(picture_of(frame, *sequence.truth.find(frame.index)));
  });
  return pictures;
}

void import_one(const SetImport& import, const std::string& words, const fs::path& to, Result& result) {
  make_folder(to);
  auto [described, unknown] = import_from(result.folder, import.layout, import.tag_map, words, to);
  Sequence& sequence = described.sequence;
  sequence.name = sequence.title = result.name;
  for (const std::string& tag : import.tags)
    if (std::ranges::find(sequence.tags, tag) == sequence.tags.end()) sequence.tags.push_back(tag);
  write_sequence(sequence, to);
  result.pictures = pictures_of(read_sequence(to));
  result.frames = described.count;
  result.absent = static_cast<int>(std::ranges::count(sequence.truth.rows, false, &TruthRow::present));
  result.boxes = static_cast<int>(sequence.truth.rows.size()) - result.absent;
  result.tags = sequence.tags;
  result.unknown_words = unknown;
}

Image<Byte> contact_sheet(const std::vector<Result>& results) {
  std::vector<const Result*> shown;
  for (const Result& result : results)
    if (!result.pictures.empty() && shown.size() < kMostShown) shown.push_back(&result);
  const int cell_w = 3 * (kPictureWidth + 2) + 10;
  const int cell_h = kPictureHeight + kCaption + 6;
  // About as high as it is wide.
  const double square = std::sqrt(static_cast<double>(shown.size()) * cell_h / cell_w);
  const int across =
      std::min(std::max(kLeastAcross, static_cast<int>(std::ceil(square))), static_cast<int>(shown.size()));
  const int down = (static_cast<int>(shown.size()) + across - 1) / across;
  Canvas sheet(down * cell_h + 6, across * cell_w + 6, kPaper);
  for (int i = 0; i < static_cast<int>(shown.size()); ++i) {
    const Point at{6.0 + i % across * cell_w, 6.0 + i / across * cell_h};
    sheet.write(fmt::format("{}: {} frames{}{}", shown[i]->name, shown[i]->frames,
                            shown[i]->tags.empty() ? "" : "; ", fmt::join(shown[i]->tags, ", ")),
                at, kLetters, 11);
    double x = at.x;
    for (const Image<Byte>& picture : shown[i]->pictures) {
      sheet.paste(picture.view(), {x, at.y + kCaption});
      x += kPictureWidth + 2;
    }
  }
  return sheet.picture();
}

std::string plan_text(const std::vector<Result>& results) {
  std::string text =
      "# A plan over what was imported: more trackers are listed by `mnemon trackers`.\n"
      "format    = \"mnemon-plan/1\"\nsequences = [";
  bool is_first = true;
  for (const Result& result : results) {
    if (!result.failure.empty()) continue;
    // A JSON string is a TOML string, too.
    text += fmt::format("{}\n  {}", is_first ? "" : ",", json_text(Json(result.name)));
    is_first = false;
  }
  text += "]\n\n";
  for (const char* tracker : {"fusion", "corr-kernel", "stay"})
    text += fmt::format("[[tracker]]\nname = \"{}\"\n\n", tracker);
  return text;
}

void print_summary(const SetImport& import, const std::vector<Result>& results) {
  int good = 0;
  long frames = 0;
  long absent = 0;
  std::map<std::string, int> unknown;
  for (const Result& result : results) {
    if (!result.failure.empty()) {
      note("left out: {}: {}\n", result.folder.string(), result.failure);
      continue;
    }
    ++good;
    frames += result.frames;
    absent += result.absent;
    for (const std::string& word : result.unknown_words) ++unknown[word];
  }
  for (const auto& [word, count] : unknown)
    note("'{}' is no tag, in {} sequences: say in --tag-map what it stands for\n", word, count);
  print("{}: {} of {} folders are sequences now, with {} frames; the target is absent on {}\n", import.to,
        good, results.size(), frames, absent);
  if (good > 0)
    print("Look at {} to see whether the boxes fit. Then: mnemon bench {} --out {}\n",
          (fs::path(import.to) / kSheet).string(), (fs::path(import.to) / "plan.toml").string(),
          (fs::path(import.to) / "study").string());
}

Json summary_json(const SetImport& import, const std::vector<Result>& results) {
  Json json{{"folder", import.to}, {"sequences", Json::array()}, {"left_out", Json::array()}};
  for (const Result& result : results) {
    if (!result.failure.empty())
      json["left_out"].push_back({{"folder", result.folder.string()}, {"why", result.failure}});
    else
      json["sequences"].push_back({{"name", result.name},
                                   {"frames", result.frames},
                                   {"boxes", result.boxes},
                                   {"absent_frames", result.absent},
                                   {"tags", result.tags},
                                   {"unknown_words", result.unknown_words}});
  }
  return json;
}

}  // namespace

void import_set(const SetImport& import) {
  const std::vector<fs::path> folders = folders_like(import.pattern);
  if (folders.empty()) throw CallError(fmt::format("no folder is like '{}'", import.pattern));
  const std::vector<std::string> names = names_of_folders(folders);
  std::vector<Result> results(folders.size());
  std::vector<std::string> own = names;
  own.insert(own.end(), {kSheet, "plan.toml"});
  NewFolder made(import.to, import.overwrite ? Replace::if_only_of(own) : Replace::nothing());
  ProgressLine line("importing");
  const Interruption interruption;
  std::mutex mutex;
  int done = 0;
  for_each_index(static_cast<int>(folders.size()), 0, [&](int i) {
    Result& result = results[static_cast<std::size_t>(i)];
    result.folder = folders[static_cast<std::size_t>(i)];
    result.name = names[static_cast<std::size_t>(i)];
    const fs::path to = made.path() / result.name;
    try {
      const auto words = import.tag_table.find(result.name);
      import_one(import, words == import.tag_table.end() ? "" : words->second, to, result);
    } catch (const Error& error) {
      result.failure = error.what();
      std::error_code code;
      fs::remove_all(to, code);
    }
    const std::scoped_lock lock(mutex);
    line.show(++done, static_cast<int>(folders.size()), result.name);
    interruption.check();
  });
  if (std::ranges::any_of(results, [](const Result& result) { return result.failure.empty(); })) {
    // Of a thousand sequences a PNG would be ten times as large.
    write_file(made.path() / kSheet, jpeg_bytes(contact_sheet(results).view(), kSheetQuality));
    write_file(made.path() / "plan.toml", plan_text(results));
    made.finish();
  }
  if (import.json)
    print_json(summary_json(import, results));
  else
    print_summary(import, results);
  const auto failed =
      std::ranges::count_if(results, [](const Result& result) { return !result.failure.empty(); });
  if (failed > 0) throw Error(fmt::format("{} of {} folders could not be imported", failed, results.size()));
}

}  // namespace mnemon::app
