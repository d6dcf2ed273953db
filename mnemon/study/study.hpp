// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/score/run_score.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/study/build_facts.hpp>
#include <mnemon/study/database.hpp>

namespace mnemon {

/// The file name of a study in its folder.
inline constexpr const char* kStudyFile = "study.sqlite";

/// A tracker with its full set of parameters, as a study knows it.
struct StudyTracker {
  std::string label;
  std::string name;
  std::string params;  ///< A JSON object with every parameter's value.
};

/// A small picture of a sequence's frame, for looking at.
struct StudyPicture {
  int frame = 0;
  std::string jpeg;
};

/// A sequence as a study knows it: all that a report needs.
struct StudySequence {
  std::string name;
  std::string title;
  std::string path;
  std::string fingerprint;
  int frames = 0;
  FrameSize size;
  double rate_hz = 0;
  std::vector<std::string> tags;
  Truth truth;
  std::vector<StudyPicture> pictures;
};

/// One run: a tracker over a sequence under a protocol.
struct StudyRun {
  int tracker = 0;   ///< Place in Study::trackers.
  int sequence = 0;  ///< Place in Study::sequences.
  std::string protocol;
  bool timed = false;
  std::string failure;  ///< Why there is no whole trace; empty where there is.
  Trace trace;
  RunScore score;  ///< Of a run that did not fail.
};

/// What a study says about its last plan.
struct Study {
  std::string title;
  BuildFacts build;
  std::vector<StudyTracker> trackers;
  std::vector<StudySequence> sequences;
  std::vector<StudyRun> runs;
  int missing_runs = 0;  ///< Planned but not run yet.
};

/// Reads the study in a folder.
/// \throws DataError  where there is none or it is damaged.
[[nodiscard]] Study read_study(const std::filesystem::path& folder);

/// Writes a study run by run: a run is in the file whole or not at all.
class StudyWriter {
 public:
  /// Opens the study of a folder, or starts one.
  /// \throws DataError  where the file is something else.
  explicit StudyWriter(const std::filesystem::path& folder);

  /// Takes note of what is planned now; what earlier plans left stays in the file but out of reports.
  void begin_plan(const std::string& title);
  std::int64_t add_tracker(const StudyTracker& tracker);
  std::int64_t add_sequence(const StudySequence& sequence);
  [[nodiscard]] bool has_sequence(const std::string& name, const std::string& fingerprint);
  void plan_run(std::int64_t tracker, std::int64_t sequence, const std::string& protocol);

  /// Whether the run is there, did not fail, and was made by this build on this kind of machine.
  [[nodiscard]] bool has_run(std::int64_t tracker, std::int64_t sequence, const std::string& protocol,
                             const BuildFacts& build);

  /// Puts a run in, in place of an earlier one of the same tracker, sequence and protocol.
  void put_run(std::int64_t tracker, std::int64_t sequence, const StudyRun& run, const BuildFacts& build);

 private:
  std::int64_t add_build(const BuildFacts& build);

  Database database_;
};

}  // namespace mnemon
