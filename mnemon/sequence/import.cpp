// SPDX-License-Identifier: MIT
#include <mnemon/sequence/import.hpp>

#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace fs = std::filesystem;

DescribedFrames describe_frames(const fs::path& frames, const Truth& truth, const fs::path& folder) {
  Sequence sequence = read_sequence(frames);
  const int count = count_frames(sequence);
  if (!truth.rows.empty() && truth.rows.back().frame >= count)
    throw DataError({frames},
                    fmt::format("has {} frames, but there is a box for frame {} (frames count from 0)", count,
                                truth.rows.back().frame));
  const fs::path from = fs::absolute(folder).lexically_normal();
  const fs::path named = sequence.frames.empty() ? sequence.folder : sequence.folder / sequence.frames;
  const fs::path at = fs::absolute(named).lexically_normal();
  sequence.frames = (at.has_filename() ? at : at.parent_path()).lexically_proximate(from).string();
  std::vector<OtherRow> others = std::move(sequence.truth.others);
  sequence.truth = truth;
  sequence.truth.others = std::move(others);
  sequence.truth_file = "truth.csv";
  // What belongs to the frames goes along with them, under names of our own.
  if (!sequence.others_file.empty()) sequence.others_file = "others.csv";
  if (!sequence.times_file.empty()) sequence.times_file = "times.csv";
  sequence.masks.clear();
  sequence.folder = folder;
  return {std::move(sequence), count};
}

}  // namespace mnemon
