// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// How pictures with their boxes and masks are taken from sequences.
struct PairOptions {
  int step = 1;              ///< Of every so many frames the first; from 1.
  double check_share = 0.2;  ///< Of the sequences, that are set aside to check by; from 0 to 1.

  /// \throws CallError  where a value is out of range.
  void check() const;
};

/// What was written.
struct PairCounts {
  int pictures = 0;                        ///< That were written.
  int masks = 0;                           ///< Likewise.
  std::vector<std::string> training = {};  ///< Names of sequences.
  std::vector<std::string> checking = {};  ///< Likewise, those that are set aside.
};

/// Writes pictures with their boxes, and masks where there are any, as something to learn from: `pictures/SEQUENCE/000000.png`, `masks/...` and
/// `pairs.json`, as docs/formats.md has it. Frames with the target absent have no box. Whole sequences are for training or for checking, never parts
/// of one: by a number that is made from each one's name, so that a sequence keeps its side whatever comes beside it.
/// \param sequences  With truth; of different names.
/// \param folder     Is there already, and empty.
/// \param options    How.
/// \param progress   Called with pictures written and to write; what it throws ends the work. May be empty.
/// \throws CallError  where a sequence has no truth, or two have one name; DataError  where frames cannot be read or files written.
PairCounts write_pairs(const std::vector<Sequence>& sequences, const std::filesystem::path& folder,
                       const PairOptions& options, const std::function<void(int, int)>& progress);

/// Whether a sequence of that name is set aside to check by.
[[nodiscard]] bool is_for_checking(const std::string& sequence, double check_share);

}  // namespace mnemon
