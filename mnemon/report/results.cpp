// SPDX-License-Identifier: MIT
#include <mnemon/report/results.hpp>

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>
#include <numeric>

#include <mnemon/score/speed.hpp>

namespace mnemon {
namespace {

std::vector<FrameSpan> spans_of(const StudySequence& sequence, const std::string& tag) {
  std::vector<FrameSpan> spans;
  for (const TagSpan& span : sequence.spans)
    if (span.tag == tag) spans.push_back({span.from, span.to});
  return spans;
}

bool has_tag(const StudySequence& sequence, const std::string& tag) {
  return std::ranges::find(sequence.tags, tag) != sequence.tags.end() || !spans_of(sequence, tag).empty();
}

}  // namespace

Figure figure_of(const StudyRun& run, std::string_view measure) {
  if (measure == "highest_rate_hz") return run.highest_rate_hz;
  return run.score ? scalar_measure(measure).of(*run.score) : packed_figure(run.figures, measure);
}

MeanOver mean_over(const std::vector<Figure>& figures) {
  std::vector<double> known;
  for (const Figure& figure : figures)
    if (figure) known.push_back(*figure);
  return {mean(known), static_cast<int>(known.size()), mean_interval(known)};
}

Results::Results(const Study& study)
    : study_(study), cells_(study.trackers.size() * study.sequences.size() * study.protocols.size()) {
  for (int i = 0; i < static_cast<int>(study.trackers.size()); ++i)
    if (study.trackers[i].sweep.empty()) trackers_.push_back(i);
  for (int i = 0; i < static_cast<int>(study.sequences.size()); ++i)
    if (study.sequences[i].is_ordinary()) sequences_.push_back(i);
  std::vector<bool> is_used(study.protocols.size());
  const auto places = study.sequences.size() * study.protocols.size();
  for (const StudyRun& run : study.runs) {
    cells_[run.tracker * places + run.sequence * study.protocols.size() + run.protocol].push_back(&run);
    if (study.sequences[run.sequence].is_ordinary()) is_used[run.protocol] = true;
  }
  for (auto& cell : cells_)
    std::ranges::stable_sort(cell, {},
                             [](const StudyRun* run) { return std::pair(run->start, run->repeat); });
  for (int i = 0; i < static_cast<int>(study.protocols.size()); ++i)
    if (is_used[i]) protocols_.push_back(i);
  find_timing_processor();
  trackers_under_.resize(study.protocols.size());
  for (int protocol = 0; protocol < static_cast<int>(study.protocols.size()); ++protocol)
    std::ranges::copy_if(trackers_, std::back_inserter(trackers_under_[protocol]), [&](int tracker) {
      return std::ranges::any_of(sequences_, [&](int s) { return !runs(tracker, s, protocol).empty(); });
    });
  for (int protocol = 0; protocol < static_cast<int>(study.protocols.size()); ++protocol) {
    by_merit_.push_back(trackers_under_[protocol]);
    std::ranges::stable_sort(by_merit_.back(), {}, [&](int tracker) {
      const Figure area = mean_of_known(values(tracker, protocol, "success_area")).mean;
      return std::pair(study.trackers[tracker].is_floor(), -area.value_or(-1));
    });
  }
  for (const int sequence : sequences_)
    for (const std::string& set : study.sequences[sequence].sets)
      if (std::ranges::find(sets_, set) == sets_.end()) sets_.push_back(set);
  for (const std::string_view tag : known_tags())
    if (std::ranges::any_of(sequences_, [&](int s) { return has_tag(study.sequences[s], std::string(tag)); }))
      tags_.emplace_back(tag);
}

bool Results::is_timed_here(const StudyRun& run) const {
  return study_.trackers[run.tracker].is_from_elsewhere() || study_.builds.empty() ||
         study_.builds[run.build].processor == timing_processor_;
}

void Results::find_timing_processor() {
  std::map<std::string, int> runs;
  for (const StudyRun& run : study_.runs)
    if (run.timed && run.failure.empty() && !study_.builds.empty() &&
        !study_.trackers[run.tracker].is_from_elsewhere())
      ++runs[study_.builds[run.build].processor];
  const auto most = std::ranges::max_element(runs, {}, [](const auto& one) { return one.second; });
  if (most == runs.end()) return;
  timing_processor_ = most->first;
  for (const auto& [processor, count] : runs)
    if (processor != timing_processor_) runs_timed_elsewhere_ += count;
}

const std::vector<const StudyRun*>& Results::runs(int tracker, int sequence, int protocol) const {
  const auto protocols = study_.protocols.size();
  return cells_[(tracker * study_.sequences.size() + sequence) * protocols + protocol];
}

std::vector<double> Results::known(int tracker, int sequence, int protocol, std::string_view measure) const {
  std::vector<double> values;
  for (const StudyRun* run : runs(tracker, sequence, protocol))
    if (const Figure figure = run->failure.empty() ? figure_of(*run, measure) : std::nullopt)
      values.push_back(*figure);
  return values;
}

Figure Results::value(int tracker, int sequence, int protocol, std::string_view measure) const {
  return mean(known(tracker, sequence, protocol, measure));
}

Figure Results::spread(int tracker, int sequence, int protocol, std::string_view measure) const {
  const std::vector<double> values = known(tracker, sequence, protocol, measure);
  if (values.size() < 2) return std::nullopt;
  const double middle = *mean(values);
  double squares = 0;
  for (const double value : values) squares += (value - middle) * (value - middle);
  return std::sqrt(squares / static_cast<double>(values.size() - 1));
}

Figure Results::least(int tracker, int sequence, int protocol, std::string_view measure) const {
  return percentile(known(tracker, sequence, protocol, measure), 0);
}

std::vector<Figure> Results::values(int tracker, int protocol, std::string_view measure) const {
  std::vector<Figure> values;
  for (const int sequence : sequences_) values.push_back(value(tracker, sequence, protocol, measure));
  return values;
}

std::vector<Figure> Results::tagged_values(int tracker, int protocol, std::string_view measure,
                                           const std::string& tag) const {
  std::vector<Figure> values;
  for (const int sequence : sequences_) {
    const std::vector<FrameSpan> spans = spans_of(study_.sequences[sequence], tag);
    if (!has_tag(study_.sequences[sequence], tag))
      values.emplace_back();
    else if (spans.empty())
      values.push_back(value(tracker, sequence, protocol, measure));
    else
      values.push_back(value_within(tracker, sequence, protocol, measure, spans));
  }
  return values;
}

std::vector<Figure> Results::values_in_set(int tracker, int protocol, std::string_view measure,
                                           const std::string& set) const {
  std::vector<Figure> values;
  for (const int sequence : sequences_) {
    const std::vector<std::string>& sets = study_.sequences[sequence].sets;
    values.push_back(
        std::ranges::find(sets, set) == sets.end() ? Figure() : value(tracker, sequence, protocol, measure));
  }
  return values;
}

Figure Results::value_within(int tracker, int sequence, int protocol, std::string_view measure,
                             const std::vector<FrameSpan>& spans) const {
  if (measure == "highest_rate_hz" || !scalar_measure(measure).is_of_frames)
    return value(tracker, sequence, protocol, measure);
  ScoreOptions options = study_.protocols[protocol].score_options();
  options.within = spans;
  std::vector<double> values;
  for (const StudyRun* run : runs(tracker, sequence, protocol)) {
    if (!run->failure.empty()) continue;
    const RunScore score =
        score_run(study_.truth_of(study_.sequences[sequence]), study_.trace_of(*run), options);
    if (const Figure figure = scalar_measure(measure).of(score)) values.push_back(*figure);
  }
  return mean(values);
}

Figure Results::mean_by_frames(int tracker, int protocol, std::string_view measure) const {
  double sum = 0;
  double weights = 0;
  for (const int sequence : sequences_) {
    const Figure figure = value(tracker, sequence, protocol, measure);
    const double frames = value(tracker, sequence, protocol, "present_frames").value_or(0);
    if (!figure) continue;
    sum += *figure * frames;
    weights += frames;
  }
  return ratio(sum, weights);
}

std::vector<double> Results::step_times(int tracker, int protocol) const {
  std::vector<const StudyRun*> timed;
  double steps = 0;
  for (const int sequence : sequences_)
    for (const StudyRun* run : runs(tracker, sequence, protocol)) {
      if (!run->failure.empty() || !run->timed || !is_timed_here(*run)) continue;
      timed.push_back(run);
      steps += figure_of(*run, "steps").value_or(0);
    }
  std::vector<double> pooled;
  pooled.reserve(static_cast<std::size_t>(steps));
  for (const StudyRun* run : timed) {
    const Trace trace = study_.trace_of(*run);
    const auto seeded = static_cast<int>(figure_of(*run, "seed_frame").value_or(0));
    const auto times = mnemon::step_times(trace.rows, seeded).step_ms;
    pooled.insert(pooled.end(), times.begin(), times.end());
  }
  return pooled;
}

const Speed& Results::pooled_speed(int tracker, int protocol) const {
  const auto [at, is_new] = pooled_speeds_.try_emplace({tracker, protocol});
  if (is_new) at->second = summarise_speed(step_times(tracker, protocol), std::nullopt);
  return at->second;
}

}  // namespace mnemon
