// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// Frames that are described from elsewhere.
struct DescribedFrames {
  Sequence sequence;  ///< As it is to be written.
  int count = 0;      ///< Its frames.
};

/// Describes frames that lie elsewhere as a sequence in another folder, without copying them.
/// \param frames  A folder of pictures, a video, or a sequence whose frames are meant.
/// \param truth   The right boxes.
/// \param folder  Where `sequence.toml` and `truth.csv` are to be written; it is there already.
/// \returns  What write_sequence is to write there, and how many frames there are.
/// \throws CallError  where the frames are not there; DataError  where there are fewer frames than boxes.
[[nodiscard]] DescribedFrames describe_frames(const std::filesystem::path& frames, const Truth& truth,
                                              const std::filesystem::path& folder);

}  // namespace mnemon
