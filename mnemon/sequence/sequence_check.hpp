// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/image/frame.hpp>
#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// Something about a sequence that is wrong, or odd enough to be looked at.
struct Finding {
  bool is_wrong = true;  ///< Else it is odd, and may be meant so.
  std::string text;      ///< A sentence without its full stop.
  int from = -1;         ///< The first frame that it is about; -1 where it is about none in particular.
  int to = -1;           ///< And the last.
  bool operator==(const Finding&) const = default;
};

/// What was seen of a sequence when all of it was read.
struct SequenceCheck {
  int frames = 0;                 ///< That could be read.
  FrameSize size;                 ///< Of the frames.
  std::vector<Finding> findings;  ///< Of the frames, then of the truth, the masks, and the tags.

  /// Whether anything is wrong, and not only odd.
  [[nodiscard]] bool has_wrong() const noexcept;
};

/// Reads every frame once, and every mask, and compares them with the truth. Wrong are frames that are missing, damaged or
/// of another size; truth for frames that are not there, or without the target ever present; boxes of a present target
/// that lie wholly outside, or with their middle in an area that is kept out; masks that are damaged or lie elsewhere than the box; spans beyond the frames. Odd are
/// neighbouring frames of which every pixel is the same, truth that jumps, frames without truth, and tags that the truth
/// contradicts or lacks.
/// \param progress  Called after each frame, with how many have been read; may be empty.
[[nodiscard]] SequenceCheck check_sequence(const Sequence& sequence,
                                           const std::function<void(int)>& progress = {});

}  // namespace mnemon
