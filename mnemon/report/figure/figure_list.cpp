// SPDX-License-Identifier: MIT
#include <mnemon/report/figure/figure_list.hpp>

#include <array>
#include <utility>

#include <mnemon/report/stress.hpp>

namespace mnemon {

std::span<const FigureEntry> figure_entries() {
  static constexpr std::array kEntries{
      FigureEntry{"accuracy-speed", "Which to take", accuracy_speed_figures},
      FigureEntry{"curves", "How accurate?", curve_figures},
      FigureEntry{"tags", "On which difficulty?", tag_figures},
      FigureEntry{"losses", "When is the target lost?", loss_figures},
      FigureEntry{"live", "How does it do live?", live_figures},
      FigureEntry{"confidence", "How sure is it?", confidence_figures},
      FigureEntry{"steadiness", "How steady is it?", steadiness_figures},
      FigureEntry{"overlap-lost", "What of the overlap is lost?", overlap_part_figures},
      FigureEntry{"wear", "Does it wear off?", wear_figures},
      FigureEntry{"luck", "Is it luck?", luck_figures},
      FigureEntry{"step-time", "How fast is it?", step_time_figures},
      FigureEntry{"memory", "At what price?", memory_figures},
      FigureEntry{"stress", "How much of a difficulty does it stand?", stress_figures}};
  return kEntries;
}

std::vector<Answered> answered_questions(const Results& results) {
  std::vector<Answered> answers;
  for (const FigureEntry& entry : figure_entries())
    if (std::vector<ReportFigure> made = entry.make(results); !made.empty())
      answers.push_back({entry.question, std::move(made)});
  return answers;
}

std::vector<ReportFigure> figures_of(const std::vector<Answered>& answers) {
  std::vector<ReportFigure> figures;
  for (const Answered& answer : answers)
    figures.insert(figures.end(), answer.figures.begin(), answer.figures.end());
  return figures;
}

std::vector<ReportFigure> stress_figures(const Results& results) {
  std::vector<ReportFigure> figures;
  for (const StressResult& result : stress_results(results.study()))
    figures.push_back(stress_figure(result, results.study()));
  return figures;
}

}  // namespace mnemon
