// SPDX-License-Identifier: MIT
#include <mnemon/run/pairs.hpp>

#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/json.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr const char* kForm = "mnemon-pairs/1";

int wanted_of(const Sequence& sequence, int step) {
  int count = 0;
  for (const TruthRow& row : sequence.truth.rows) count += row.frame % step == 0 ? 1 : 0;
  return count;
}

// The name of a frame's file below a folder of the set.
std::string file_of(const char* kind, const Sequence& sequence, int frame) {
  return fmt::format("{}/{}/{:06d}.png", kind, file_name_of(sequence.name), frame);
}

// \returns  Whether there is a mask.
bool copy_mask(const Sequence& sequence, int frame, const fs::path& to) {
  if (sequence.masks.empty()) return false;
  const fs::path from = sequence.folder / numbered_name(sequence.masks, frame);
  std::error_code code;
  if (!fs::exists(from, code)) return false;
  const Image<Byte> mask = read_mask(from);
  Image<Byte> white(mask.rows(), mask.cols());
  for (std::size_t i = 0; i < mask.elements().size(); ++i)
    white.elements()[i] = mask.elements()[i] != 0 ? 255 : 0;
  write_png(to, white.view());
  return true;
}

}  // namespace

void PairOptions::check() const {
  if (step < 1) throw CallError(fmt::format("frames cannot be taken by steps of {}", step));
  if (!(check_share >= 0 && check_share <= 1))
    throw CallError(
        fmt::format("a share of {} of the sequences cannot be set aside; 0 to 1 can", check_share));
}

bool is_for_checking(const std::string& sequence, double check_share) {
  std::uint64_t key = 0;
  for (const char c : sequence) key = mix_bits(key ^ static_cast<unsigned char>(c));
  return Random(key).uniform() < check_share;
}

PairCounts write_pairs(const std::vector<Sequence>& sequences, const fs::path& folder,
                       const PairOptions& options, const std::function<void(int, int)>& progress) {
  options.check();
  std::set<std::string> names;
  int total = 0;
  for (const Sequence& sequence : sequences) {
    if (!sequence.has_truth()) throw CallError(fmt::format("'{}' has no truth to learn from", sequence.name));
    if (!names.insert(sequence.name).second)
      throw CallError(
          fmt::format("two sequences are called '{}': the folders' names tell them apart", sequence.name));
    total += wanted_of(sequence, options.step);
  }
  PairCounts counts;
  Json pictures = Json::array();
  for (const Sequence& sequence : sequences) {
    const bool checks = is_for_checking(sequence.name, options.check_share);
    (checks ? counts.checking : counts.training).push_back(sequence.name);
    const auto frames = open_frames(sequence);
    while (const auto frame = frames->next()) {
      const TruthRow* const row = sequence.truth.find(frame->index);
      if (row == nullptr || frame->index % options.step != 0) continue;
      if (progress) progress(counts.pictures, total);
      Json one{{"file", file_of("pictures", sequence, frame->index)},
               {"sequence", sequence.name},
               {"frame", frame->index},
               {"width", frame->rgb.cols},
               {"height", frame->rgb.rows},
               {"use", checks ? "check" : "train"},
               {"box", Json()},
               {"mask", Json()}};
      write_png(folder / one["file"].get<std::string>(), frame->rgb);
      if (row->present) {
        const Box& box = row->box.box;
        one["box"] = {box.x, box.y, box.w, box.h, row->box.angle_deg};
        const std::string mask = file_of("masks", sequence, frame->index);
        if (copy_mask(sequence, frame->index, folder / mask)) {
          one["mask"] = mask;
          ++counts.masks;
        }
      }
      pictures.push_back(std::move(one));
      ++counts.pictures;
    }
  }
  write_file(folder / "pairs.json", json_text(Json{{"format", kForm}, {"pictures", pictures}}, 1) + "\n");
  return counts;
}

}  // namespace mnemon
