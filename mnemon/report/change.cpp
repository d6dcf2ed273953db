// SPDX-License-Identifier: MIT
#include <mnemon/report/change.hpp>

#include <algorithm>
#include <cmath>
#include <optional>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/report/table.hpp>

namespace mnemon {
namespace {

int protocol_of(const Results& results, const std::string& name) {
  std::vector<std::string> names;
  for (const int protocol : results.protocols()) {
    if (results.study().protocols[protocol].name == name) return protocol;
    names.push_back(results.study().protocols[protocol].name);
  }
  throw CallError(fmt::format("the study '{}' has no runs under '{}'{}", results.study().title, name,
                              name_hint(name, names)));
}

// Places in the lists of sequences of two studies.
struct Pair {
  std::size_t before = 0;
  std::size_t after = 0;
};

std::vector<Pair> shared_sequences(const Results& before, const Results& after,
                                   std::vector<std::string>& left_out) {
  std::vector<Pair> pairs;
  const auto sequence = [](const Results& results, std::size_t i) -> const StudySequence& {
    return results.study().sequences[results.sequences()[i]];
  };
  std::vector<bool> is_matched(after.sequences().size());
  for (std::size_t i = 0; i < before.sequences().size(); ++i) {
    const StudySequence& one = sequence(before, i);
    std::size_t k = 0;
    while (k < after.sequences().size() && sequence(after, k).name != one.name) ++k;
    if (k == after.sequences().size()) {
      left_out.push_back(one.name + " is only in the first study");
      continue;
    }
    is_matched[k] = true;
    if (sequence(after, k).fingerprint == one.fingerprint)
      pairs.push_back({i, k});
    else
      left_out.push_back(one.name + " has changed between the studies");
  }
  for (std::size_t k = 0; k < is_matched.size(); ++k)
    if (!is_matched[k]) left_out.push_back(sequence(after, k).name + " is only in the second study");
  return pairs;
}

int verdict_of(const SequenceChange& change, const ChangeOptions& options) {
  const double gain =
      scalar_measure(options.measure).better == Better::lower ? -change.difference() : change.difference();
  if (std::abs(gain) < options.margin) return 0;
  return gain > 0 ? 1 : -1;
}

// The values on the shared sequences only.
std::vector<Figure> picked(const std::vector<Figure>& values, const std::vector<Pair>& pairs,
                           std::size_t Pair::*side) {
  std::vector<Figure> taken;
  for (const Pair& pair : pairs) taken.push_back(values[pair.*side]);
  return taken;
}

Figure median_step_ms(const ChangeSide& side, int protocol) {
  return median(side.results.step_times(side.tracker, protocol));
}

std::string signed_text(const Figure& figure) { return figure ? fmt::format("{:+.3f}", *figure) : "-"; }

std::string counts_text(const Change& change) {
  const auto count = [&](int verdict) {
    return std::ranges::count(change.sequences, verdict, &SequenceChange::verdict);
  };
  return fmt::format("better on {}, worse on {}, as it was on {} (within {:g})", count(1), count(-1),
                     count(0), change.options.margin);
}

const char* apart_text(const PairedDifference& difference, double margin) {
  if (difference.is_separated(margin)) return "";
  return difference.sequences < kFewestToSeparate ? "  too few to tell" : "  not separated";
}

// The sequences that fared otherwise in rows, the rest in a line.
std::string changed_text(const Change& change, std::size_t width) {
  std::string rows;
  std::string rest;
  for (const SequenceChange& one : change.sequences) {
    if (one.verdict == 0)
      rest += (rest.empty() ? "" : ", ") + one.sequence;
    else
      rows += fmt::format("  {:<{}}  {:>8.3f}  {:>8.3f}  {:>+8.3f}  {}\n", one.sequence, width, one.before,
                          one.after, one.difference(), one.verdict > 0 ? "better" : "worse");
  }
  if (!rows.empty())
    rows.insert(
        0, fmt::format("\n  {:<{}}  {:>8}  {:>8}  {:>8}\n", "sequence", width, "before", "after", "change"));
  return rows + (rest.empty() ? "" : fmt::format("\n  As they were: {}.\n", rest));
}

std::string overall_text(const Change& change) {
  const PairedDifference& difference = change.overall;
  const bool is_gain =
      (difference.mean.value_or(0) > 0) == (scalar_measure(change.options.measure).better != Better::lower);
  const char* verdict = !difference.is_separated(change.options.margin) ? "not separated"
                        : is_gain                                       ? "better"
                                                                        : "worse";
  return fmt::format("Over all {}: {} -> {}, a change of {} ({}): {}.\n", difference.sequences,
                     cell_text(change.before_mean, 3), cell_text(change.after_mean, 3),
                     signed_text(difference.mean), interval_text(difference.interval), verdict);
}

}  // namespace

Change find_change(const ChangeSide& before, const ChangeSide& after, const ChangeOptions& options) {
  Change change{before.results.study().trackers[before.tracker].label,
                after.results.study().trackers[after.tracker].label,
                options,
                {},
                {},
                {},
                {},
                {},
                {},
                {},
                {}};
  static_cast<void>(scalar_measure(options.measure));
  const int before_protocol = protocol_of(before.results, options.protocol);
  const int after_protocol = protocol_of(after.results, options.protocol);
  if (before.results.study().protocols[before_protocol].params !=
      after.results.study().protocols[after_protocol].params)
    change.left_out.push_back(
        fmt::format("the parameters of '{}' differ between the studies", options.protocol));
  const std::vector<Pair> pairs = shared_sequences(before.results, after.results, change.left_out);
  const auto old_values =
      picked(before.results.values(before.tracker, before_protocol, options.measure), pairs, &Pair::before);
  const auto new_values =
      picked(after.results.values(after.tracker, after_protocol, options.measure), pairs, &Pair::after);
  std::vector<Figure> old_shared;
  std::vector<Figure> new_shared;
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    if (!old_values[i] || !new_values[i]) continue;
    const int place = before.results.sequences()[pairs[i].before];
    SequenceChange one{before.results.study().sequences[place].name, *old_values[i], *new_values[i], 0};
    one.verdict = verdict_of(one, options);
    change.sequences.push_back(one);
    old_shared.push_back(old_values[i]);
    new_shared.push_back(new_values[i]);
  }
  std::ranges::stable_sort(change.sequences, {},
                           [](const SequenceChange& c) { return -std::abs(c.difference()); });
  change.before_mean = mean_of_known(old_shared).mean;
  change.after_mean = mean_of_known(new_shared).mean;
  change.overall = paired_difference(new_values, old_values);
  for (const std::string& tag : before.results.tags())
    change.tags.push_back(
        {tag, paired_difference(
                  picked(after.results.tagged_values(after.tracker, after_protocol, options.measure, tag),
                         pairs, &Pair::after),
                  picked(before.results.tagged_values(before.tracker, before_protocol, options.measure, tag),
                         pairs, &Pair::before))});
  std::erase_if(change.tags, [](const TagChange& tag) { return tag.difference.sequences == 0; });
  change.before_step_ms = median_step_ms(before, before_protocol);
  change.after_step_ms = median_step_ms(after, after_protocol);
  return change;
}

std::string change_text(const Change& change) {
  std::string text =
      change.before == change.after ? change.before : fmt::format("{} -> {}", change.before, change.after);
  text += fmt::format(": {} under {}, {} sequences: {}.\n", change.options.measure, change.options.protocol,
                      change.sequences.size(), counts_text(change));
  std::size_t width = std::string_view("sequence").size();
  for (const SequenceChange& one : change.sequences) width = std::max(width, one.sequence.size());
  for (const TagChange& one : change.tags) width = std::max(width, one.tag.size());
  text += changed_text(change, width);
  if (!change.tags.empty()) {
    text += fmt::format("\n  {:<{}}  {:>8}  {:>8}  95 %\n", "tag", width, "over", "change");
    for (const TagChange& one : change.tags)
      text += fmt::format("  {:<{}}  {:>8}  {:>8}  {}{}\n", one.tag, width, one.difference.sequences,
                          signed_text(one.difference.mean), interval_text(one.difference.interval),
                          apart_text(one.difference, change.options.margin));
  }
  text += "\n" + overall_text(change);
  if (change.before_step_ms.value_or(0) >= 0.001 && change.after_step_ms)  // below it is the clock alone
    text += fmt::format("Median step: {:.3f} -> {:.3f} ms ({:+.0f} %).\n", *change.before_step_ms,
                        *change.after_step_ms, 100 * (*change.after_step_ms / *change.before_step_ms - 1));
  for (const std::string& reason : change.left_out) text += fmt::format("Not compared: {}.\n", reason);
  return text;
}

Json change_json(const Change& change) {
  const auto difference_json = [&](const PairedDifference& d) {
    return Json{{"sequences", d.sequences},
                {"difference", figure_json(d.mean)},
                {"interval", d.interval ? Json{d.interval->low, d.interval->high} : Json()},
                {"p", figure_json(d.test.p)},
                {"separated", d.is_separated(change.options.margin)}};
  };
  Json json{{"before", change.before},
            {"after", change.after},
            {"protocol", change.options.protocol},
            {"measure", change.options.measure},
            {"margin", change.options.margin},
            {"before_mean", figure_json(change.before_mean)},
            {"after_mean", figure_json(change.after_mean)},
            {"overall", difference_json(change.overall)},
            {"sequences", Json::array()},
            {"tags", Json::array()},
            {"before_step_ms", figure_json(change.before_step_ms)},
            {"after_step_ms", figure_json(change.after_step_ms)},
            {"left_out", change.left_out}};
  for (const SequenceChange& one : change.sequences)
    json["sequences"].push_back({{"sequence", one.sequence},
                                 {"before", one.before},
                                 {"after", one.after},
                                 {"verdict", one.verdict > 0   ? "better"
                                             : one.verdict < 0 ? "worse"
                                                               : "as it was"}});
  for (const TagChange& one : change.tags) {
    Json tag = difference_json(one.difference);
    tag["tag"] = one.tag;
    json["tags"].push_back(tag);
  }
  return json;
}

}  // namespace mnemon
