// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <map>
#include <span>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>
#include <mnemon/report/palette.hpp>

namespace mnemon {
namespace {

using CountedTroubles = std::map<std::string_view, double>;  // by the word of what they come to

// A part of a bar a word, of each tracker's counts.
ReportFigure counts(const Results& results, const std::vector<int>& trackers,
                    const std::vector<CountedTroubles>& counted, std::span<const std::string_view> words,
                    ReportFigure figure) {
  figure.kind = FigureKind::bars;
  figure.categories = labels_of(results, trackers);
  for (int part = 0; part < static_cast<int>(words.size()); ++part) {
    FigureSeries series;
    series.label = std::string(words[part]);
    series.colour = tracker_colour(part);
    for (std::size_t i = 0; i < trackers.size(); ++i) {
      const auto at = counted[i].find(words[part]);
      series.x.push_back(static_cast<double>(i));
      series.y.push_back(at == counted[i].end() ? 0 : at->second);
    }
    if (std::ranges::any_of(series.y, [](double count) { return count > 0; }))
      figure.lines.push_back(std::move(series));
  }
  return figure;
}

ReportFigure survival_figure(const Results& results, int protocol) {
  ReportFigure figure{"survival",
                      "Survival: share of starts that hold for longer",
                      "frames since the start",
                      "share of starts",
                      {},
                      {},
                      false,
                      true};
  int longest = 0;
  for (const int tracker : results.trackers(protocol)) {
    std::vector<Stretch> stretches;
    for (const int sequence : results.sequences())
      for (const StudyRun* run : results.runs(tracker, sequence, protocol))
        if (run->failure.empty()) {
          const std::vector<Stretch> more = results.study().score_of(*run).stretches;
          stretches.insert(stretches.end(), more.begin(), more.end());
        }
    if (stretches.empty()) continue;
    FigureSeries line = series_of(results, tracker);
    line.x = {0};
    line.y = {1};
    for (const SurvivalPoint& point : survival_curve(stretches)) {  // down at once, then level
      line.x.insert(line.x.end(), {double(point.n), double(point.n)});
      line.y.insert(line.y.end(), {line.y.back(), point.share});
    }
    for (const Stretch& stretch : stretches) longest = std::max(longest, stretch.frames);
    figure.lines.push_back(std::move(line));
  }
  for (FigureSeries& line : figure.lines) {
    line.x.push_back(longest);
    line.y.push_back(line.y.back());
  }
  figure.note = "Each start that was not lost counts up to its end (Kaplan-Meier).";
  return figure;
}

}  // namespace

std::vector<ReportFigure> loss_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const std::array kCauses{cause_text(TroubleCause::took_another), cause_text(TroubleCause::said_lost),
                           cause_text(TroubleCause::shrank_or_swelled),
                           cause_text(TroubleCause::stayed_behind), cause_text(TroubleCause::went_elsewhere)};
  const std::array kEnds{end_text(TroubleEnd::recovered), end_text(TroubleEnd::late),
                         end_text(TroubleEnd::never)};
  const std::vector<int> trackers = ranked_trackers(results, results.protocols().front());
  std::vector<CountedTroubles> causes(trackers.size());
  std::vector<CountedTroubles> ends(trackers.size());
  for (std::size_t i = 0; i < trackers.size(); ++i)
    for (const int sequence : results.sequences())
      for (const StudyRun* run : results.runs(trackers[i], sequence, results.protocols().front()))
        for (const TroubleRow& row : results.study().troubles_of(*run))
          row.kind == Trouble::loss ? ++causes[i][cause_text(row.cause)] : ++ends[i][end_text(row.end)];
  std::vector<ReportFigure> figures;
  figures.push_back(counts(results, trackers, causes, kCauses,
                           {"losses", "Losses by cause", "", "losses in all sequences", {}, {}}));
  figures.back().note = "A loss is five present frames in a row with overlap below 0.1.";
  figures.push_back(
      counts(results, trackers, ends, kEnds,
             {"returns", "Absences by what came after", "", "absences in all sequences", {}, {}}));
  figures.back().note = "Recovered: held again within 30 present frames of the return.";
  std::erase_if(figures, [](const ReportFigure& figure) { return figure.lines.empty(); });
  for (const int protocol : results.protocols()) {
    const auto& asked = results.study().protocols[protocol].entry().figures;
    if (std::ranges::find(asked, "survival") != asked.end())
      figures.push_back(survival_figure(results, protocol));
  }
  return figures;
}

}  // namespace mnemon
