// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/media/canvas.hpp>
/// \file
/// What stands below a picture with trackers' boxes on it: each with its name, how sure it is, and whether it says that it lost
/// the target. Nothing of it lies on the picture.
namespace mnemon {

/// A tracker's line.
struct PanelRow {
  std::string label;              ///< Of the tracker.
  Ink ink;                        ///< Of its bar.
  Stroke stroke = Stroke::solid;  ///< As its box is drawn.
  bool present = true;            ///< Whether the tracker claims the target.
  double confidence = 1;          ///< Shown as a bar, from 0 to 1.
  std::string aside = {};         ///< A few words more, such as what a step took.
};

/// How high the lines are, px; they stand in as many columns as have room.
[[nodiscard]] double panel_height(std::size_t rows, double width_px);

/// Draws them, with their top-left corner at `at`.
void draw_panel(const std::vector<PanelRow>& rows, Point at, double width_px, Canvas& canvas);

}  // namespace mnemon
