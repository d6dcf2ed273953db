// SPDX-License-Identifier: MIT
#include <mnemon/report/figure/series.hpp>

#include <algorithm>
#include <limits>

#include <mnemon/report/palette.hpp>

namespace mnemon {

FigureSeries series_of(const Results& results, int tracker) {
  FigureSeries series;
  series.label = results.study().trackers[tracker].label;
  series.colour = tracker_colour(tracker);
  series.dashed = is_tracker_dashed(tracker);
  series.tracker = tracker;
  return series;
}

double or_gap(const Figure& figure) noexcept {
  return figure.value_or(std::numeric_limits<double>::quiet_NaN());
}

void add_point(double x, const MeanOver& y, FigureSeries& series) {
  series.x.push_back(x);
  series.y.push_back(or_gap(y.mean));
  series.low.push_back(or_gap(y.interval ? Figure(y.interval->low) : Figure()));
  series.high.push_back(or_gap(y.interval ? Figure(y.interval->high) : Figure()));
}

std::vector<int> ranked_trackers(const Results& results, int protocol) {
  std::vector<int> ranked = results.by_merit(protocol);
  std::erase_if(ranked, [&](int tracker) { return results.study().trackers[tracker].is_floor(); });
  return ranked;
}

int protocol_of(const Results& results, std::string_view name) {
  for (const int protocol : results.protocols())
    if (results.study().protocols[protocol].name == name) return protocol;
  return -1;
}

std::vector<std::string> labels_of(const Results& results, const std::vector<int>& trackers) {
  std::vector<std::string> labels;
  for (const int tracker : trackers) labels.push_back(results.study().trackers[tracker].label);
  return labels;
}

std::vector<std::vector<Figure>> over_sequences(
    const Results& results, int tracker, int protocol, std::size_t parts,
    const std::function<std::vector<Figure>(const StudySequence&, const StudyRun&)>& measure) {
  std::vector<std::vector<Figure>> values(parts);
  for (std::vector<Figure>& of_part : values) of_part.reserve(results.sequences().size());
  for (const int sequence : results.sequences()) {
    std::vector<std::vector<double>> known(parts);
    for (const StudyRun* run : results.runs(tracker, sequence, protocol)) {
      if (!run->failure.empty()) continue;
      const std::vector<Figure> figures = measure(results.study().sequences[sequence], *run);
      for (std::size_t i = 0; i < std::min(parts, figures.size()); ++i)
        if (figures[i]) known[i].push_back(*figures[i]);
    }
    for (std::size_t i = 0; i < parts; ++i) values[i].push_back(mean(known[i]));
  }
  return values;
}

}  // namespace mnemon
