// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <mnemon/base/rare.hpp>
#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/image/mask_runs.hpp>
#include <mnemon/sequence/others.hpp>

namespace mnemon {

/// A place as the camera sees it, mm: x to the right, y down, z away along its axis.
struct PositionMm {
  double x = 0;  ///< To the right, mm.
  double y = 0;  ///< Downwards, mm.
  double z = 0;  ///< Away from the camera, mm.
  bool operator==(const PositionMm&) const = default;
};

/// The right answer for one frame.
struct TruthRow {
  TruthRow() = default;
  /// What is right on one frame.
  TruthRow(int number, const OrientedBox& right, bool is_present, double seen = 1,
           Rare<PositionMm> place = {})
      : frame(number), present(is_present), box(right), visible(seen), position(std::move(place)) {}

  int frame = 0;                   ///< Its number in the sequence.
  bool present = true;             ///< Whether the target is in the picture.
  OrientedBox box;                 ///< Meaningless where the target is not present.
  double visible = 1;              ///< Share of the target that can be seen, in [0, 1].
  Rare<PositionMm> position = {};  ///< Of the target's middle, where it is known.
  bool operator==(const TruthRow&) const = default;
};

/// Which pixels of a frame are the target's.
struct FrameRuns {
  int frame = 0;  ///< Its number in the sequence.
  MaskRuns runs;  ///< Of the mask.
  bool operator==(const FrameRuns&) const = default;
};

/// Truth by frame, in rising order. A frame without a row has no truth and is not scored.
struct Truth {
  std::vector<TruthRow> rows;         ///< By rising frame.
  std::vector<FrameRuns> masks = {};  ///< By rising frame, of those frames whose mask is known and was read.
  std::vector<OtherRow> others = {};  ///< Look-alikes, by rising frame.

  /// The row of that frame, or null.
  [[nodiscard]] const TruthRow* find(int frame) const noexcept;
  /// The first row with the target present, or null.
  [[nodiscard]] const TruthRow* first_present() const noexcept;
};

/// Reads `truth.csv`: columns frame, x, y, w, h and optionally angle, present, visible, and x_mm, y_mm, z_mm together. A row that calls the
/// target present without a proper, finite box is no truth and left out.
/// \throws DataError  naming file, line and column.
[[nodiscard]] Truth read_truth(const std::filesystem::path& file);

/// The same from text; `file` is what messages call it.
[[nodiscard]] Truth parse_truth(std::string_view text, const std::filesystem::path& file);

/// The text of `truth.csv`; numbers read back exactly.
[[nodiscard]] std::string truth_text(const Truth& truth);

}  // namespace mnemon
