// SPDX-License-Identifier: MIT
#include <mnemon/study/study.hpp>

#include "target.hpp"

// A study that can be read refers only to what is in it.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  static const fuzz::Desk desk;
  static_cast<void>(desk.put("study.sqlite", data, size));
  try {
    const Study study = read_study(desk.folder());
    for (const StudyRun& run : study.runs) {
      fuzz::require(run.tracker >= 0 && run.tracker < static_cast<int>(study.trackers.size()));
      fuzz::require(run.sequence >= 0 && run.sequence < static_cast<int>(study.sequences.size()));
      fuzz::require(run.protocol >= 0 && run.protocol < static_cast<int>(study.protocols.size()));
    }
  } catch (const Error&) {
  }
  return 0;
}
