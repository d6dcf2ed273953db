// SPDX-License-Identifier: MIT
#include <mnemon/report/sweep_result.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include <fmt/format.h>

#include <mnemon/base/fingerprint.hpp>

#include <mnemon/sequence/sequence.hpp>

namespace mnemon {
namespace {

std::vector<Figure> values_on(const Results& results, int tracker, int protocol,
                              const std::vector<int>& sequences) {
  std::vector<Figure> values;
  for (const int sequence : sequences)
    values.push_back(results.value(tracker, sequence, protocol, "success_area"));
  return values;
}

// The same halves for the same names, in whatever order they come; neighbours in the alphabet are not put together.
void halve(const Results& results, SweepResult& sweep) {
  std::vector<int> order = results.sequences();
  std::ranges::sort(order, {}, [&](int i) {
    const std::string& name = results.study().sequences[i].name;
    return std::pair(fingerprint(name), name);
  });
  for (std::size_t i = 0; i < order.size(); ++i)
    (i % 2 == 0 ? sweep.choosing : sweep.reporting).push_back(order[i]);
}

// Parameters in which the variations differ, with their values in order.
std::map<std::string, std::vector<ParamValue>> varied_values(const std::vector<ParamSet>& params) {
  std::map<std::string, std::vector<ParamValue>> values;
  for (const ParamSet& one : params)
    for (const auto& [name, value] : one) values[name].push_back(value);
  for (auto& [name, all] : values) {
    std::ranges::sort(all);
    all.erase(std::unique(all.begin(), all.end()), all.end());
  }
  std::erase_if(values, [](const auto& entry) { return entry.second.size() < 2; });
  return values;
}

void add_effects(const Study& study, SweepResult& sweep) {
  std::vector<ParamSet> params;
  for (const int variation : sweep.variations)
    params.push_back(params_from_json(study.trackers[variation].params));
  for (const auto& [name, values] : varied_values(params))
    for (const ParamValue& value : values) {
      std::vector<Figure> means;
      for (std::size_t i = 0; i < params.size(); ++i)
        if (const auto at = params[i].find(name); at != params[i].end() && at->second == value)
          means.push_back(sweep.chosen_by[i]);
      sweep.effects.push_back(
          {name, to_text(value), static_cast<int>(means.size()), mean_of_known(means).mean});
    }
}

}  // namespace

std::vector<SweepResult> sweep_results(const Results& results, int protocol) {
  const Study& study = results.study();
  std::vector<SweepResult> sweeps;
  for (const int base : results.trackers()) {
    SweepResult sweep;
    sweep.base = base;
    for (int i = 0; i < static_cast<int>(study.trackers.size()); ++i)
      if (study.trackers[i].sweep == study.trackers[base].label) sweep.variations.push_back(i);
    if (sweep.variations.empty()) continue;
    halve(results, sweep);
    for (const int variation : sweep.variations) {
      sweep.chosen_by.push_back(mean_of_known(values_on(results, variation, protocol, sweep.choosing)).mean);
      const Figure& mean = sweep.chosen_by.back();
      const bool is_better =
          mean &&
          (sweep.chosen < 0 ||
           *mean > *sweep.chosen_by[static_cast<std::size_t>(
                       std::ranges::find(sweep.variations, sweep.chosen) - sweep.variations.begin())]);
      if (is_better) sweep.chosen = variation;
    }
    add_effects(study, sweep);
    const auto base_values = values_on(results, base, protocol, sweep.reporting);
    sweep.base_mean = mean_of_known(base_values).mean;
    if (sweep.chosen >= 0) {
      const auto chosen_values = values_on(results, sweep.chosen, protocol, sweep.reporting);
      sweep.chosen_mean = mean_of_known(chosen_values).mean;
      sweep.gain = paired_difference(chosen_values, base_values);
    }
    sweeps.push_back(std::move(sweep));
  }
  return sweeps;
}

ReportTable effect_table(const SweepResult& sweep, const Study& study) {
  ReportTable table;
  table.second = "parameter";
  table.columns = {{"value", "Of the parameter."},
                   {"variations", "How many variations have that value."},
                   {"success area", "Their mean on the sequences that choose."}};
  for (const SweepEffect& effect : sweep.effects)
    table.rows.push_back({study.trackers[sweep.base].label,
                          effect.parameter,
                          {effect.value, std::to_string(effect.variations), cell_text(effect.mean, 3)},
                          "",
                          sweep.base});
  return table;
}

std::string sensitivity_text(const SweepResult& sweep) {
  std::map<std::string, std::pair<double, double>> extremes;
  for (const SweepEffect& effect : sweep.effects) {
    if (!effect.mean) continue;
    const auto [at, is_new] = extremes.try_emplace(effect.parameter, *effect.mean, *effect.mean);
    at->second = {std::min(at->second.first, *effect.mean), std::max(at->second.second, *effect.mean)};
  }
  std::string text;
  for (const auto& [name, range] : extremes)
    text += fmt::format("{}{} {:.3f}", text.empty() ? "" : ", ", name, range.second - range.first);
  return text.empty() ? "nothing" : text;
}

std::string choice_text(const SweepResult& sweep, const Study& study) {
  if (sweep.chosen < 0 || sweep.reporting.empty())
    return "no variation can be chosen: that takes at least two sequences with scores";
  const auto place = std::ranges::find(sweep.variations, sweep.chosen) - sweep.variations.begin();
  std::string text = fmt::format(
      "'{}' is the best of {} variations on the {} sequences that choose ({}). On the other {} it has {}, "
      "and '{}' as it "
      "was {}",
      study.trackers[sweep.chosen].label, sweep.variations.size(), sweep.choosing.size(),
      cell_text(sweep.chosen_by[static_cast<std::size_t>(place)], 3), sweep.reporting.size(),
      cell_text(sweep.chosen_mean, 3), study.trackers[sweep.base].label, cell_text(sweep.base_mean, 3));
  const std::string change =
      fmt::format("{} ({})", cell_text(sweep.gain.mean, 3), interval_text(sweep.gain.interval));
  return text + (sweep.gain.is_separated() ? fmt::format(": a change of {}", change)
                                           : fmt::format(": not separated, {}", change));
}

}  // namespace mnemon
