// SPDX-License-Identifier: MIT
#include "cluster.hpp"

#include <string_view>

#include <fmt/format.h>
#include <poll.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/stopwatch.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/merge.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"

namespace mnemon::app {
namespace fs = std::filesystem;
namespace {

constexpr int kLookMs = 3000;
constexpr double kMergeMs = 60'000;

// What a task said last.
std::string last_line(const std::string& file) {
  std::error_code code;
  const std::string text = fs::exists(file, code) ? read_file(file) : "";
  const std::string_view said = std::string_view(text).substr(0, text.find_last_not_of("\n") + 1);
  const auto at = said.rfind('\n');
  return std::string(at == std::string_view::npos ? said : said.substr(at + 1));
}

// Waits, unless somebody asks for the end.
bool wait_for(const Interruption& interruption, int ms) {
  pollfd waiting{interruption.interrupt().descriptor(), POLLIN, 0};
  return ::poll(&waiting, 1, ms) == 0;
}

}  // namespace

void run_on_cluster(const fs::path& folder, const std::vector<std::string>& words,
                    const SlurmRequest& request) {
  SlurmTasks tasks(folder, words, request);
  const Interruption interruption;
  ProgressLine line("on the cluster");
  Stopwatch since_merge;
  int merged = 0;
  SlurmState state;
  for (;;) {
    state = tasks.look();
    line.show(state.made, state.planned,
              fmt::format("{} of {} shards done, {} running, {} waiting", state.finished, request.shards,
                          state.running, state.waiting));
    if (state.finished + static_cast<int>(state.given_up.size()) == request.shards) break;
    if (state.finished > merged && since_merge.elapsed_ms() > kMergeMs) {
      static_cast<void>(merge_shards(folder));
      merged = state.finished;
      since_merge = Stopwatch();
    }
    if (!wait_for(interruption, kLookMs)) {
      note("the tasks go on; the same call takes them up again, and 'scancel' ends them\n");
      interruption.check();
    }
  }
  if (state.finished > 0) static_cast<void>(merge_shards(folder));
  if (state.given_up.empty()) return;
  const int first = state.given_up.front();
  throw Error(
      fmt::format("{} of {} shards were begun {} times and did not come to their end; the first is {}, whose "
                  "log {} ends: {}",
                  state.given_up.size(), request.shards, request.tries, first, tasks.log_of(first),
                  last_line(tasks.log_of(first))));
}

}  // namespace mnemon::app
