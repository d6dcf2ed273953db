// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/score/run_score.hpp>
#include <mnemon/study/score_record.hpp>

#include "output.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string truth;
  std::string trace;
  std::string protocol;
  int to = -1;
  bool json = false;
};

void print_lines(const RunScore& score) {
  print("protocol {}\n", score.help == Help::restart ? "restart" : "unaided");
  for (const ScalarMeasure& measure : scalar_measures()) {
    const Figure value = measure.of(score);
    print("{:<24} {}\n", measure.name, value ? fmt::format("{:.6g}", *value) : "-");
  }
  print("Times are as the trace gives them. --json has the curves and every digit.\n");
}

void run(const Options& options) {
  const Truth truth = read_truth(options.truth);
  const Trace trace = read_trace(options.trace);
  if (trace.rows.empty())
    throw DataError({options.trace}, "has no rows; a trace has at least the seed frame's");
  ScoreOptions how;
  if (!options.protocol.empty()) how.help = options.protocol == "restart" ? Help::restart : Help::unaided;
  if (options.to >= 0) how.last = options.to;
  const RunScore score = score_run(truth, trace, how);
  if (options.json)
    print_json(score_json(score));
  else
    print_lines(score);
}

}  // namespace

void add_score(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("score", "Score a trace against truth.",
                          "mnemon score --truth demo/kites/steady/truth.csv --trace steady.csv");
  verb.text("--truth", "FILE", options->truth,
            "the right boxes: columns frame,x,y,w,h and optionally angle,present,visible", Need::required);
  verb.text("--trace", "FILE", options->trace,
            "the estimates: columns frame,x,y,w,h and optionally angle,confidence,present,step_ms,event",
            Need::required);
  verb.word("--protocol", {"unaided", "restart"}, options->protocol,
            "unaided or restart (default: told by the trace's events)");
  verb.whole("--to", 0, options->to, "the last frame to score (default: the last of truth and trace)");
  verb.flag("--json", options->json, "print JSON, with the curves");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
