// SPDX-License-Identifier: MIT
#include <algorithm>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>
#include <mnemon/report/change.hpp>

#include "output.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string before;
  std::string after;
  std::vector<std::string> labels;
  ChangeOptions change;
  bool json = false;
};

std::vector<std::string> labels_of(const Study& study) {
  std::vector<std::string> labels;
  for (const StudyTracker& tracker : study.trackers) labels.push_back(tracker.label);
  return labels;
}

int tracker_of(const Study& study, const std::string& label) {
  const auto labels = labels_of(study);
  const auto at = std::ranges::find(labels, label);
  if (at == labels.end())
    throw CallError(
        fmt::format("the study '{}' has no tracker '{}'{}", study.title, label, name_hint(label, labels)));
  return static_cast<int>(at - labels.begin());
}

// Which trackers to compare: of one study two labels, of two studies the labels that both have.
std::vector<std::pair<int, int>> pairs_of(const Results& before, const Results& after,
                                          const Options& options) {
  if (options.labels.size() > 2)
    throw CallError("at most two labels can be compared; --label was given more often");
  const std::string first = options.labels.empty() ? "" : options.labels.front();
  const std::string second = options.labels.empty() ? "" : options.labels.back();
  if (!options.labels.empty()) {
    if (options.after.empty() && first == second)
      throw CallError("one study is compared by two of its labels: give --label twice, or a second study");
    return {{tracker_of(before.study(), first), tracker_of(after.study(), second)}};
  }
  std::vector<std::pair<int, int>> pairs;
  if (options.after.empty()) {
    if (before.trackers().size() != 2)
      throw CallError(fmt::format("name two of the study's trackers with --label: it has {}",
                                  fmt::join(labels_of(before.study()), ", ")));
    return {{before.trackers()[0], before.trackers()[1]}};
  }
  for (const int one : before.trackers())
    for (const int other : after.trackers())
      if (before.study().trackers[one].label == after.study().trackers[other].label)
        pairs.emplace_back(one, other);
  if (pairs.empty())
    throw CallError(fmt::format("the studies share no label: one has {}, the other {}; name two with --label",
                                fmt::join(labels_of(before.study()), ", "),
                                fmt::join(labels_of(after.study()), ", ")));
  return pairs;
}

void run(const Options& options) {
  const StudyParts wanted{.labels = options.labels, .runs = RunParts::figures};
  const Study first = read_study(options.before, wanted);
  const Study second = options.after.empty() ? Study() : read_study(options.after, wanted);
  const Results before(first);
  const Results other(second);
  const Results& after = options.after.empty() ? before : other;
  Json all = Json::array();
  std::string text;
  for (const auto& [one, another] : pairs_of(before, after, options)) {
    const Change change = find_change({before, one}, {after, another}, options.change);
    all.push_back(change_json(change));
    text += (text.empty() ? "" : "\n") + change_text(change);
  }
  if (options.json)
    print_json(all);
  else
    print("{}", text);
}

}  // namespace

void add_compare(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("compare",
                          "Say what got better and what worse, from one study to another or between two "
                          "trackers of one, with intervals.",
                          "mnemon compare demo/study --label stay --label corr-plain");
  verb.text("STUDY", "", options->before, "the study's folder: before", Need::required);
  verb.text("AFTER", "", options->after, "another study's folder: after (default: the same study)");
  verb.texts(
      "--label", "LABEL", options->labels,
      "a tracker by its label; given twice, the one before and the one after (default: every label that both "
      "studies have)");
  verb.word("--protocol", protocol_names(), options->change.protocol,
            "the protocol to look at (default: single)");
  verb.text("--measure", "NAME", options->change.measure,
            "the figure to look at, as 'mnemon score' names it (default: success_area)");
  verb.real("--margin", options->change.margin,
            "a smaller difference on a sequence counts as none (default: 0.01)");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
