// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>

#include <mnemon/score/run_score.hpp>
#include <mnemon/study/score_record.hpp>

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
  fmt::print("protocol {}\n", score.help == Help::restart ? "restart" : "unaided");
  for (const ScalarScore& scalar : scalar_scores(score))
    fmt::print("{:<24} {}\n", scalar.measure, scalar.value ? fmt::format("{:.6g}", *scalar.value) : "-");
  fmt::print("Times are as the trace gives them. --json has the curves and every digit.\n");
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
    fmt::print("{}\n", score_json(score).dump(2));
  else
    print_lines(score);
}

}  // namespace

void add_score(CLI::App& program) {
  const auto options = std::make_shared<Options>();
  CLI::App* verb = add_verb(program, "score", "Score a trace against truth.",
                            "mnemon score --truth demo/kites/steady/truth.csv --trace steady.csv");
  verb->add_option("--truth", options->truth,
                   "the right boxes: columns frame,x,y,w,h and optionally angle,present,visible")
      ->required()
      ->type_name("FILE");
  verb->add_option(
          "--trace", options->trace,
          "the estimates: columns frame,x,y,w,h and optionally angle,confidence,present,step_ms,event")
      ->required()
      ->type_name("FILE");
  verb->add_option("--protocol", options->protocol,
                   "unaided or restart (default: told by the trace's events)")
      ->type_name("NAME")
      ->check(CLI::IsMember({"unaided", "restart"}).description(""));
  verb->add_option("--to", options->to, "the last frame to score (default: the last of truth and trace)")
      ->type_name("N")
      ->check(at_least(0));
  verb->add_flag("--json", options->json, "print JSON, with the curves");
  verb->callback([options] { run(*options); });
}

}  // namespace mnemon::app
