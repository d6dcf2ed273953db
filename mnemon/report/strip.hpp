// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/image/image.hpp>
#include <mnemon/report/legend.hpp>
#include <mnemon/report/results.hpp>

namespace mnemon {

/// A small picture of a frame with the truth and every tracker's estimate drawn on it.
struct StripPicture {
  int frame = 0;                       ///< Its number in the sequence.
  Image<Byte> rgb;                     ///< What is shown of it: rows x columns x 3.
  std::string caption;                 ///< The frame's number, and `absent` where the truth says so.
  std::vector<LegendEntry> lost = {};  ///< The trackers that say they do not see the target.
};

/// Eight of the kept pictures of a sequence, evenly, or all where there are fewer; in order: truth white and dashed, the box of each tracker's first run in its
/// colour.
[[nodiscard]] std::vector<StripPicture> film_strip(const Results& results, int protocol, int sequence);

/// The pictures side by side, four to a row, with captions and those who lost the target below each.
/// \param pictures  At least one, all of one size.
[[nodiscard]] Image<Byte> contact_sheet(const std::vector<StripPicture>& pictures);

}  // namespace mnemon
