// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <string_view>
#include <utility>
#include <vector>

#include <mnemon/score/statistics.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

/// A figure of a run by its name: those of scalar_measures, and `highest_rate_hz`.
/// \throws CallError  where there is none of that name.
[[nodiscard]] Figure figure_of(const StudyRun& run, std::string_view measure);

/// The mean of the figures that are known, with what it is worth.
struct MeanOver {
  Figure mean;                       ///< Null for none.
  int known = 0;                     ///< How many are.
  std::optional<Interval> interval;  ///< 95 %, over sequences.
};
[[nodiscard]] MeanOver mean_over(const std::vector<Figure>& figures);

/// What each tracker scored on each sequence under each protocol. Where a protocol makes several runs, scores are
/// means over those that did not fail. Places are those of the study, which must outlive this.
class Results {
 public:
  /// The study must outlive it.
  explicit Results(const Study& study);

  /// That these are of.
  [[nodiscard]] const Study& study() const noexcept { return study_; }
  /// The trackers that tables are about: all but the variations of sweeps.
  [[nodiscard]] const std::vector<int>& trackers() const noexcept { return trackers_; }
  /// Those of them with runs under a protocol.
  [[nodiscard]] const std::vector<int>& trackers(int protocol) const noexcept {
    return trackers_under_[protocol];
  }
  /// The same by falling mean success area, first those that have one; floors last.
  [[nodiscard]] const std::vector<int>& by_merit(int protocol) const noexcept { return by_merit_[protocol]; }
  /// The sequences that tables are about: all but generated ones.
  [[nodiscard]] const std::vector<int>& sequences() const noexcept { return sequences_; }
  /// The protocols of those sequences' runs, in the plan's order.
  [[nodiscard]] const std::vector<int>& protocols() const noexcept { return protocols_; }
  /// The tags of those sequences, as given, in the order in which they are known.
  [[nodiscard]] const std::vector<std::string>& tags() const noexcept { return tags_; }

  /// The sets of those sequences, in the plan's order.
  [[nodiscard]] const std::vector<std::string>& sets() const noexcept { return sets_; }

  /// The runs made, failed ones among them, by start.
  [[nodiscard]] const std::vector<const StudyRun*>& runs(int tracker, int sequence, int protocol) const;

  /// The mean of a measure over the runs that did not fail and know it.
  [[nodiscard]] Figure value(int tracker, int sequence, int protocol, std::string_view measure) const;
  /// The standard deviation of the same over those runs; null for fewer than two.
  [[nodiscard]] Figure spread(int tracker, int sequence, int protocol, std::string_view measure) const;
  /// The least of the same.
  [[nodiscard]] Figure least(int tracker, int sequence, int protocol, std::string_view measure) const;

  /// The values on the sequences of these tables, in their order.
  [[nodiscard]] std::vector<Figure> values(int tracker, int protocol, std::string_view measure) const;
  /// The same where a tag holds: null on sequences without it; where the sequence has spans for it, of the frames
  /// inside them, if the measure is one of frames.
  [[nodiscard]] std::vector<Figure> tagged_values(int tracker, int protocol, std::string_view measure,
                                                  const std::string& tag) const;
  /// The same on the sequences of a set alone: null on others.
  [[nodiscard]] std::vector<Figure> values_in_set(int tracker, int protocol, std::string_view measure,
                                                  const std::string& set) const;
  /// The mean weighted by each sequence's present frames.
  [[nodiscard]] Figure mean_by_frames(int tracker, int protocol, std::string_view measure) const;

  /// The processor that most timed runs were made on: times of others stand in no column beside its own. Empty where
  /// nothing was timed.
  [[nodiscard]] const std::string& timing_processor() const noexcept { return timing_processor_; }
  /// Timed runs of the tables that other processors made.
  [[nodiscard]] int runs_timed_elsewhere() const noexcept { return runs_timed_elsewhere_; }

  /// The step times of all of a tracker's timed runs under a protocol together, ms: of those on timing_processor alone, but
  /// for traces from elsewhere, which bring their own times.
  [[nodiscard]] std::vector<double> step_times(int tracker, int protocol) const;
  /// What these come to; worked out at the first call. Not for several threads.
  [[nodiscard]] const Speed& pooled_speed(int tracker, int protocol) const;

 private:
  [[nodiscard]] std::vector<double> known(int tracker, int sequence, int protocol,
                                          std::string_view measure) const;
  [[nodiscard]] Figure value_within(int tracker, int sequence, int protocol, std::string_view measure,
                                    const std::vector<FrameSpan>& spans) const;
  [[nodiscard]] bool is_timed_here(const StudyRun& run) const;
  void find_timing_processor();

  const Study& study_;
  std::vector<int> trackers_;
  std::vector<std::vector<int>> trackers_under_;
  std::vector<std::vector<int>> by_merit_;
  std::vector<int> sequences_;
  std::vector<int> protocols_;
  std::vector<std::string> tags_;
  std::vector<std::string> sets_;
  std::vector<std::vector<const StudyRun*>> cells_;
  mutable std::map<std::pair<int, int>, Speed> pooled_speeds_;  // as all traces are read for one
  std::string timing_processor_;
  int runs_timed_elsewhere_ = 0;
};

}  // namespace mnemon
