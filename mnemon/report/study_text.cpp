// SPDX-License-Identifier: MIT
#include <mnemon/report/study_text.hpp>

#include <fmt/format.h>

#include <mnemon/base/plain_text.hpp>
#include <mnemon/report/comparison.hpp>
#include <mnemon/report/stress.hpp>
#include <mnemon/report/sweep_result.hpp>
#include <mnemon/report/table.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kLine = 100;  // columns of what is told in sentences

std::string first_text(const Results& results, int protocol, const std::vector<Comparison>& comparisons,
                       Detail detail, Pairs pairs) {
  std::string text;
  if (detail == Detail::sequences) text += table_text(sequence_table(results, protocol)) + "\n";
  text += table_text(summary_table(results, protocol)) + "\n";
  const ReportTable tags = tag_table(results, protocol);
  if (!tags.columns.empty()) text += "By difficulty:\n" + table_text(tags) + "\n";
  if (results.trackers(protocol).size() < 2) return text;
  text += table_text(standing_table(results, protocol, comparisons));
  if (pairs == Pairs::listed)
    for (const Comparison& comparison : comparisons) text += verdict(results.study(), comparison) + "\n";
  return text + "\n";
}

}  // namespace

std::string study_text(const Results& results, Detail detail, Pairs pairs) {
  const Study& study = results.study();
  std::string text;
  const std::vector<int>& protocols = results.protocols();
  const std::vector<Comparison> compared =
      protocols.empty() ? std::vector<Comparison>() : comparisons(results, protocols.front());
  for (const int protocol : protocols) {
    const bool is_first = protocol == protocols.front();
    if (protocols.size() > 1) text += fmt::format("Under {}:\n", study.protocols[protocol].name);
    text += is_first ? first_text(results, protocol, compared, detail, pairs)
                     : table_text(summary_table(results, protocol)) + "\n";
    if (!is_first) continue;
    for (const SweepResult& sweep : sweep_results(results, protocol))
      text += fmt::format("Sweep of {}:\n{}{}.\nMost that the means differ by: {}.\n\n",
                          study.trackers[sweep.base].label, table_text(effect_table(sweep, study)),
                          choice_text(sweep, study), sensitivity_text(sweep));
  }
  for (const StressResult& result : stress_results(study))
    text += fmt::format("{} under growing {}:\n{}\n", result.scene, result.knob,
                        table_text(stress_table(result, study)));
  if (!protocols.empty())
    if (const std::string answer = answer_text(results, protocols.front(), compared); !answer.empty())
      text += wrapped_text(answer, kLine) + "\n\n";
  if (study.missing_runs > 0)
    text += fmt::format("{} planned runs are not in this study yet: run the plan again to make them.\n\n",
                        study.missing_runs);
  return text;
}

}  // namespace mnemon
