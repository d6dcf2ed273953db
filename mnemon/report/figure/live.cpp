// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>
#include <mnemon/report/palette.hpp>

namespace mnemon {

namespace {

// Every run is made at the same rates.
std::vector<double> rates_of(const Results& results, int tracker, int live) {
  std::vector<double> rates;
  for (const int sequence : results.sequences())
    for (const StudyRun* run : results.runs(tracker, sequence, live)) {
      if (run->rate_areas.empty()) continue;
      for (const RateArea& one : run->rate_areas) rates.push_back(one.rate_hz);
      return rates;
    }
  return rates;
}

// The mean over sequences of the success area at each rate.
ReportFigure rate_figure(const Results& results, int live) {
  ReportFigure figure{"live-rates",
                      "Accuracy at each rate of a camera",
                      "frames/s of the camera",
                      "mean success area",
                      {},
                      {},
                      true,
                      true};
  for (const int tracker : ranked_trackers(results, live)) {
    FigureSeries series = series_of(results, tracker);
    const std::vector<double> rates = rates_of(results, tracker, live);
    const auto values =
        over_sequences(results, tracker, live, rates.size(), [](const StudySequence&, const StudyRun& run) {
          std::vector<Figure> areas;
          for (const RateArea& one : run.rate_areas) areas.push_back(one.success_area);
          return areas;
        });
    for (std::size_t i = 0; i < rates.size(); ++i) add_point(rates[i], mean_over(values[i]), series);
    if (!series.x.empty()) figure.lines.push_back(std::move(series));
  }
  figure.note =
      "Each tracker is run again at each rate that would make it drop frames, on a clock that goes by its "
      "own times. On a core that "
      "is half as fast, read it at twice the rate.";
  return figure;
}

}  // namespace

std::vector<ReportFigure> live_figures(const Results& results) {
  const int live = protocol_of(results, "live");
  if (live < 0) return {};
  const int first = results.protocols().front();
  const std::vector<int> trackers = ranked_trackers(results, live);
  if (trackers.empty()) return {};
  struct Row {
    const char* label;
    int protocol;
    const char* measure;
  };
  const std::array rows{Row{"success area, time for every frame", first, "success_area"},
                        Row{"success area, live", live, "success_area"},
                        Row{"share of frames dropped", live, "skipped_share"}};
  ReportFigure figure{
      "live", "Live: nobody waits for the tracker", "", "share", {}, {}, false, true, FigureKind::points};
  figure.categories = labels_of(results, trackers);
  for (std::size_t i = 0; i < rows.size(); ++i) {
    FigureSeries series;
    series.label = rows[i].label;
    series.colour = tracker_colour(static_cast<int>(i));
    for (std::size_t k = 0; k < trackers.size(); ++k)
      add_point(static_cast<double>(k),
                mean_over(results.values(trackers[k], rows[i].protocol, rows[i].measure)), series);
    figure.lines.push_back(std::move(series));
  }
  figure.note =
      "Frames come at the sequence's own rate, and one that comes while the tracker is busy is dropped. The "
      "highest rate that a "
      "tracker stands is in the table of this protocol.";
  std::vector<ReportFigure> figures{rate_figure(results, live), figure};
  std::erase_if(figures, [](const ReportFigure& one) { return one.lines.empty(); });
  return figures;
}

}  // namespace mnemon
