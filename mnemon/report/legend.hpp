// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/media/canvas.hpp>

namespace mnemon {

/// A word or two about what is drawn in a colour.
struct LegendEntry {
  std::string text;  ///< What stands beside the line.
  Ink ink;           ///< Of the line.
};

/// How high the entries are one after the other, from left to right and then in further lines, px.
/// \param width_px  Room across; an entry that is broader has a line of its own.
[[nodiscard]] double legend_height(const std::vector<LegendEntry>& entries, double width_px);

/// Writes them so, beside a picture rather than over it. \param at  Their top-left corner.
void draw_legend(const std::vector<LegendEntry>& entries, Point at, double width_px, Canvas& canvas);

}  // namespace mnemon
