// SPDX-License-Identifier: MIT
#include <mnemon/report/selection.hpp>

#include <algorithm>
#include <set>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>

namespace mnemon {
namespace {

void check_label(const Study& study, const std::string& label) {
  std::vector<std::string> known;
  for (const StudyTracker& tracker : study.trackers) known.push_back(tracker.label);
  if (std::ranges::find(known, label) == known.end())
    throw CallError(fmt::format("the study has no tracker '{}'{}", label, name_hint(label, known)));
}

}  // namespace

Study selected(Study study, const Selection& selection) {
  for (const std::string& label : selection.only) check_label(study, label);
  for (const Selection::Renaming& renaming : selection.rename) check_label(study, renaming.label);
  const auto is_shown = [&](const StudyTracker& tracker) {
    const std::string& entry = tracker.sweep.empty() ? tracker.label : tracker.sweep;
    return selection.only.empty() || std::ranges::find(selection.only, entry) != selection.only.end() ||
           std::ranges::find(selection.only, tracker.label) != selection.only.end();
  };
  std::vector<int> places(study.trackers.size(), -1);
  std::vector<StudyTracker> shown;
  for (std::size_t i = 0; i < study.trackers.size(); ++i) {
    if (!is_shown(study.trackers[i])) continue;
    places[i] = static_cast<int>(shown.size());
    shown.push_back(study.trackers[i]);
  }
  study.trackers = std::move(shown);
  std::erase_if(study.runs, [&](const StudyRun& run) { return places[run.tracker] < 0; });
  for (StudyRun& run : study.runs) run.tracker = places[run.tracker];
  for (const Selection::Renaming& renaming : selection.rename)
    for (StudyTracker& tracker : study.trackers) {
      if (tracker.sweep == renaming.label) tracker.sweep = renaming.shown;
      if (tracker.label == renaming.label) tracker.label = renaming.shown;
    }
  std::set<std::string> labels;
  for (const StudyTracker& tracker : study.trackers)
    if (!labels.insert(tracker.label).second)
      throw CallError(fmt::format("two trackers would be called '{}'; rename one otherwise", tracker.label));
  return study;
}

Selection::Renaming parse_renaming(const std::string& text) {
  const auto at = text.rfind('=');
  if (at == std::string::npos || at == 0 || at + 1 == text.size())
    throw CallError(fmt::format("'{}' is no renaming; write LABEL=SHOWN", text));
  return {text.substr(0, at), text.substr(at + 1)};
}

std::vector<std::string> parse_labels(const std::string& text) {
  std::vector<std::string> labels{""};
  for (const char c : text) {
    if (c == ',')
      labels.emplace_back();
    else
      labels.back() += c;
  }
  if (std::ranges::find(labels, "") != labels.end())
    throw CallError(fmt::format("'{}' holds an empty label; write A,B,C", text));
  return labels;
}

}  // namespace mnemon
