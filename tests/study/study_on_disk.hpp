// SPDX-License-Identifier: MIT
#pragma once
#include <cmath>
#include <filesystem>
#include <stdexcept>
#include <string>

#include <gtest/gtest.h>

#include <mnemon/study/runner.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "support/small_demo.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {

// Two short sequences, and the study of a plan over them.
class StudyOnDisk : public ::testing::Test {
 protected:
  void SetUp() override {
    // Rendered once, and copied for each test.
    static const TempFolder rendered;
    if (names_in(rendered.path()).empty()) {
      render_small(rendered.path(), "steady", 8);
      render_small(rendered.path(), "cloudbank", 40, 6);
    }
    std::filesystem::copy(rendered.path(), folder_.path(), std::filesystem::copy_options::recursive);
  }
  RunSummary run(const std::string& trackers, const Catalogue& catalogue = Catalogue::standard()) const {
    const Plan plan = read_plan(write_plan(folder_.path(), trackers), catalogue);
    return run_plan(plan, catalogue, folder_ / "study", {});
  }
  [[nodiscard]] Study study() const { return read_study(folder_ / "study"); }

  TempFolder folder_;
};

// A tracker that does what no tracker may.
class Faulty final : public Tracker {
 public:
  struct Params {
    int wrong_at = 3;
    bool throws = false;
    static void describe(auto& schema) {
      schema.field("wrong_at", &Params::wrong_at, {1, 100}, "frames", "When.");
      schema.field("throws", &Params::throws, "Whether it throws instead of answering with no number.");
    }
  };
  explicit Faulty(const Params& params) : params_(params) {}

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) override {
    box_ = box;
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& frame) override {
    if (frame.index < params_.wrong_at) return {{box_, 0}, 1, true};
    if (params_.throws && params_.wrong_at == 4) throw 4;  // NOLINT: what no tracker should, and some do
    if (params_.throws) throw std::runtime_error("out of luck");
    return {{{std::nan(""), 0, 1, 1}, 0}, 1, true};
  }

  Params params_;
  Box box_;
};

inline Catalogue with_faulty() {
  Catalogue catalogue = Catalogue::standard();
  catalogue.add(tracker_entry<Faulty, Faulty::Params>("faulty", "test", "Fails.", "none"));
  return catalogue;
}

// A plan's entry for a process.
inline std::string process_entry(const std::string& label, const std::string& words,
                                 const std::string& more = "") {
  return "[[tracker]]\nlabel = \"" + label + "\"\ncommand = [\"" + MNEMON_ODD_PROCESS + "\", " + words +
         "]\n" + more;
}

}  // namespace mnemon::test
