// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include <mnemon/report/table.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon::test {

/// Gives a run another score, made from the one that it has.
template <class Change>
void change_score(StudyRun& run, const Change& change) {
  RunScore score = run.score ? *run.score : RunScore();
  change(score);
  run.score = std::make_shared<const RunScore>(std::move(score));
}

/// The table by sequence of the first protocol, with its rows.
inline ReportTable sequence_table(const Results& results) {
  std::vector<ReportTable::Row> rows;
  ReportTable table =
      visit_sequence_rows(results, 0, [&](const ReportTable::Row& row) { rows.push_back(row); });
  table.rows = std::move(rows);
  return table;
}

/// A study made by hand, under `single`: trackers `a`, `b`, ... with these success areas, a row each, a place a
/// sequence `s0`, `s1`, ...; below 0 for a run that failed.
inline Study study_of(const std::vector<std::vector<double>>& areas) {
  Study study;
  study.title = "made by hand";
  study.protocols.push_back(make_protocol("single"));
  for (std::size_t k = 0; k < areas[0].size(); ++k) {
    StudySequence sequence;
    sequence.name = "s" + std::to_string(k);
    sequence.fingerprint = "f" + std::to_string(k);
    sequence.size = {64, 36};
    sequence.frames = 1;
    sequence.truth.rows.push_back({0, {{5, 5, 10, 10}, 0}, true, 1, {}});
    study.sequences.push_back(sequence);
  }
  for (std::size_t i = 0; i < areas.size(); ++i) {
    study.trackers.push_back({std::string(1, static_cast<char>('a' + i)), "x", "{}", ""});
    for (std::size_t k = 0; k < areas[i].size(); ++k) {
      StudyRun run;
      run.tracker = static_cast<int>(i);
      run.sequence = static_cast<int>(k);
      run.trace.rows.push_back({0, {{5, 5, 10, 10}, 0}, 1, true, {}, Event::seed});
      if (areas[i][k] < 0)
        run.failure = "broke";
      else
        change_score(run, [&](RunScore& score) {
          score.success_area = areas[i][k];
          score.present_frames = static_cast<int>(10 * (k + 1));
        });
      study.runs.push_back(run);
    }
  }
  return study;
}

}  // namespace mnemon::test
