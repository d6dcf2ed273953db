// SPDX-License-Identifier: MIT
// A tracker of one's own, put into the catalogue and benchmarked beside the library's.
//   own_tracker PLAN STUDY-FOLDER
#include <cstdio>
#include <exception>

#include <mnemon/report/table.hpp>
#include <mnemon/study/runner.hpp>

#include "reddest.hpp"

namespace {

using namespace mnemon;
using example::Reddest;
using example::ReddestParams;

void benchmark(const char* plan_file, const char* folder) {
  Catalogue catalogue = Catalogue::standard();
  catalogue.add(tracker_entry<Reddest, ReddestParams>("reddest", "own", "Follows red.", ""));
  run_plan(read_plan(plan_file, catalogue), catalogue, folder, {});
  const Study study = read_study(folder);
  std::printf("%s", table_text(summary_table(Results(study), 0)).c_str());
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 3) {
    std::fprintf(stderr, "Usage: own_tracker PLAN STUDY-FOLDER\n");
    return 2;
  }
  try {
    benchmark(argv[1], argv[2]);
    return 0;
  } catch (const std::exception& error) {
    std::fprintf(stderr, "own_tracker: %s\n", error.what());
    return 1;
  }
}
