// SPDX-License-Identifier: MIT
#include <mnemon/report/figure/series.hpp>

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

std::vector<Figure> over_sequences(
    const Results& results, int tracker, int protocol,
    const std::function<Figure(const StudySequence&, const StudyRun&)>& measure) {
  std::vector<Figure> values;
  for (const int sequence : results.sequences()) {
    std::vector<double> known;
    for (const StudyRun* run : results.runs(tracker, sequence, protocol))
      if (run->failure.empty())
        if (const Figure value = measure(results.study().sequences[sequence], *run)) known.push_back(*value);
    values.push_back(mean(known));
  }
  return values;
}

}  // namespace mnemon
