// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <span>
#include <string_view>
#include <vector>

#include <mnemon/report/figures.hpp>
#include <mnemon/report/results.hpp>
/// \file
/// Every figure that a study can have: page, files and JSON go through this list. Each stands in a file of its own.
namespace mnemon {

/// A kind of figure.
struct FigureEntry {
  std::string_view name;  ///< As in the report's data.
  std::string_view
      question;  ///< What it answers, as the page heads it; entries of one question follow each other.
  /// None where the study has nothing for it.
  std::vector<ReportFigure> (*make)(const Results& results);
};

/// All of them, in the page's order.
[[nodiscard]] std::span<const FigureEntry> figure_entries();

/// A question with the figures that answer it.
struct Answered {
  std::string_view question;          ///< What the figures answer.
  std::vector<ReportFigure> figures;  ///< In their order.
};

/// All that a study has something for, but for the overlaps frame by frame, which are no means. Thousands of resamples: to be
/// worked out once.
[[nodiscard]] std::vector<Answered> answered_questions(const Results& results);

/// The figures of all questions, one after the other.
[[nodiscard]] std::vector<ReportFigure> figures_of(const std::vector<Answered>& answers);

/// Mean success area against frames/s, with those that nothing beats in both.
[[nodiscard]] std::vector<ReportFigure> accuracy_speed_figures(const Results& results);
/// Shares of frames above each overlap and within each centre error, with intervals over sequences.
[[nodiscard]] std::vector<ReportFigure> curve_figures(const Results& results);
/// Mean success area by tag.
[[nodiscard]] std::vector<ReportFigure> tag_figures(const Results& results);
/// Losses by cause, absences by what came after, and survival where there are restarts.
[[nodiscard]] std::vector<ReportFigure> loss_figures(const Results& results);
/// What is left of the accuracy where nobody waits for the tracker.
[[nodiscard]] std::vector<ReportFigure> live_figures(const Results& results);
/// Share on target against confidence.
[[nodiscard]] std::vector<ReportFigure> confidence_figures(const Results& results);
/// Jitter and lag.
[[nodiscard]] std::vector<ReportFigure> steadiness_figures(const Results& results);
/// What the overlap is lost to.
[[nodiscard]] std::vector<ReportFigure> overlap_part_figures(const Results& results);
/// Overlap against frames since the seed.
[[nodiscard]] std::vector<ReportFigure> wear_figures(const Results& results);
/// Other starts and nudged first boxes.
[[nodiscard]] std::vector<ReportFigure> luck_figures(const Results& results);
/// How step times are spread.
[[nodiscard]] std::vector<ReportFigure> step_time_figures(const Results& results);
/// The most memory that processes took.
[[nodiscard]] std::vector<ReportFigure> memory_figures(const Results& results);
/// Success area as a difficulty grows.
[[nodiscard]] std::vector<ReportFigure> stress_figures(const Results& results);
/// Overlap frame by frame of the first run of each tracker, absent frames shaded: one figure a sequence, each forgotten
/// when the next one comes.
void visit_overlap_figures(const Results& results, const std::function<void(const ReportFigure&)>& use);

}  // namespace mnemon
