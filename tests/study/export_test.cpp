// SPDX-License-Identifier: MIT
#include <mnemon/study/export.hpp>

#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>

#include "study/study_on_disk.hpp"
#include "support/messages.hpp"
#include "support/small_demo.hpp"

namespace mnemon {
namespace {

using test::kOneTracker;

class StudyExported : public test::StudyOnDisk {};

}  // namespace

TEST_F(StudyExported, ExportsWhatReadsBack) {
  run(kOneTracker);
  const Study read = study();
  export_study(folder_ / "study", folder_ / "text");
  const Trace back = read_trace(folder_ / "text/traces/corr-plain/cloudbank.single.csv");
  EXPECT_EQ(back.rows, read.runs.at(0).trace.rows);
  const std::string scores = read_file(folder_ / "text/scores.csv");
  test::expect_parts(scores, {"tracker,sequence,protocol,start,repeat,failure,success_area,",
                              "corr-plain,steady,single,0,0,"});
  EXPECT_NE(read_file(folder_ / "text/curves.csv").find("corr-plain,steady,single,0,0,overlap,0.5,"),
            std::string::npos);
  EXPECT_THROW(export_study(folder_ / "study", folder_ / "text"), CallError);
}

}  // namespace mnemon
