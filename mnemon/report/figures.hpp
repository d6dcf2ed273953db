// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace mnemon {

/// What is drawn of a series.
enum class FigureKind {
  lines,   ///< A line through its points.
  points,  ///< A mark a point, with its interval.
  bars     ///< A part of a bar at each category; the parts of a category stand on each other.
};

/// One line, row of marks or part of bars of a figure.
struct FigureSeries {
  std::string label;             ///< In the legend.
  std::string colour;            ///< `#rrggbb`.
  std::vector<double> x;         ///< By rising x, or in the order of the path.
  std::vector<double> y;         ///< NaN leaves a gap.
  bool dashed = false;           ///< Whether the line is broken.
  std::vector<double> low = {};  ///< The 95 % interval of each y; empty for none, NaN where one is not known.
  std::vector<double> high = {};  ///< Upper ends of a band around the line; empty for none.
  int tracker = -1;               ///< Place in Study::trackers of whose it is; -1 where it is nobody's.
};

/// A stretch of the x axis to be shaded.
struct FigureBand {
  double from = 0;  ///< Where it begins along x.
  double to = 0;    ///< Where it ends.
};

/// A figure: what the page charts and what the files in `report/figures/` show.
struct ReportFigure {
  std::string name;                          ///< Of its files.
  std::string title;                         ///< Above the figure.
  std::string x_label;                       ///< Below the axis, with its unit.
  std::string y_label;                       ///< Beside the axis, with its unit.
  std::vector<FigureSeries> lines;           ///< In the order of the legend.
  std::vector<FigureBand> shaded;            ///< Behind the lines.
  bool log_x = false;                        ///< Whether x goes by its logarithm.
  bool unit_y = false;                       ///< The y axis goes from 0 to 1.
  FigureKind kind = FigureKind::lines;       ///< How values are drawn.
  std::vector<std::string> categories = {};  ///< What stands at x = 0, 1, ... where x is no number.
  std::string note = {};                     ///< What a reader has to know, in a sentence or two.
  std::vector<int> front = {};  ///< Places in `lines` of points that nothing beats in both ways, by rising x.
};

/// How figures are drawn into files.
struct FigureForm {
  double width_cm = 0;   ///< Of vector forms; 0 for that of a screen.
  bool has_pdf = false;  ///< Whether a PDF was written, too.
};

/// Draws figures as `NAME.svg` and `NAME.png` into a folder, as `NAME.pdf` too where asked for, with gnuplot. The script
/// `figures.gp` that draws them again stays beside them, their data in it; it may be run from any folder. Series are told
/// apart by marks and dashes as well as by colour.
/// \throws Error  where gnuplot is not installed or fails; DataError  where writing fails.
void draw_figures(const std::vector<ReportFigure>& figures, const std::filesystem::path& folder,
                  FigureForm form = {});

/// The same of figures that come one after the other, so that none is held.
/// \param visit  Gives each of them to the function that it is given.
void draw_figures(const std::function<void(const std::function<void(const ReportFigure&)>&)>& visit,
                  const std::filesystem::path& folder, FigureForm form = {});

}  // namespace mnemon
