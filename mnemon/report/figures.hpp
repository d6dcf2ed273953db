// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include <mnemon/report/results.hpp>

namespace mnemon {

/// One line of a figure.
struct FigureLine {
  std::string label;
  std::string colour;  ///< `#rrggbb`.
  std::vector<double> x;
  std::vector<double> y;  ///< NaN leaves a gap.
  bool dashed = false;
};

/// A stretch of the x axis to be shaded.
struct FigureBand {
  double from = 0;
  double to = 0;
};

/// A figure of lines.
struct LineFigure {
  std::string name;  ///< Of its files.
  std::string title;
  std::string x_label;
  std::string y_label;
  std::vector<FigureLine> lines;
  std::vector<FigureBand> shaded;
  bool log_x = false;
  bool unit_y = false;  ///< The y axis goes from 0 to 1.
};

/// The share of frames above each overlap, a mean over sequences a tracker.
[[nodiscard]] LineFigure success_figure(const Results& results, int protocol);
/// The share of frames within each centre error, a mean over sequences a tracker.
[[nodiscard]] LineFigure centre_figure(const Results& results, int protocol);
/// Overlap frame by frame of the first run of each tracker, absent frames shaded.
[[nodiscard]] LineFigure overlap_figure(const Results& results, int protocol, int sequence);
/// How the step times of each tracker are spread.
[[nodiscard]] LineFigure step_time_figure(const Results& results, int protocol);
/// Whether there are step times to show: under a timed `single`.
[[nodiscard]] bool shows_step_times(const Results& results, int protocol);
/// How long starts hold under `restart`: the Kaplan-Meier estimate over all of a tracker's stretches.
[[nodiscard]] LineFigure survival_figure(const Results& results, int protocol);
/// All that the study has: those of its first protocol, survival where there are restarts, and stress.
[[nodiscard]] std::vector<LineFigure> study_figures(const Results& results);

/// Draws figures as `NAME.svg` and `NAME.png` into a folder, with gnuplot.
/// \throws Error  where gnuplot is not installed or fails; DataError  where writing fails.
void draw_figures(const std::vector<LineFigure>& figures, const std::filesystem::path& folder);

}  // namespace mnemon
