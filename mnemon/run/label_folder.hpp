// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include <mnemon/run/label.hpp>
#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// What was written of labels.
struct LabelCounts {
  int frames = 0;     ///< That have a label.
  int masks = 0;      ///< That were written.
  int to_review = 0;  ///< Frames that a person should look at.
};

/// The names of what write_labels may leave in a folder.
[[nodiscard]] std::vector<std::string> label_file_names();

/// Writes labels as a sequence: its description, truth, masks where the tracker has them, all marks, and `review.csv`, the list of what to
/// look at.
/// \param labels  Of every frame.
/// \param frames  Where the frames are, which are not copied.
/// \param source  What is known of them.
/// \param folder  Is there already.
/// \throws DataError  where it cannot be written.
LabelCounts write_labels(const std::vector<Label>& labels, const std::filesystem::path& frames,
                         const Sequence& source, const std::filesystem::path& folder);

}  // namespace mnemon
