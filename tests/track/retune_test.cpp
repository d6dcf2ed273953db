// SPDX-License-Identifier: MIT
// A tracker that goes on by other parameters, for each tracker of the catalogue and each parameter that acts at the step.
#include <algorithm>
#include <functional>
#include <memory>
#include <set>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/hold/hold_rules.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "support/drawn_target.hpp"
#include "support/every_tracker.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

constexpr int kRetuneFrames = 40;
constexpr int kRetunedOn = 8;
const Box kMarked{50, 52, 42, 30};

// A target that turns, grows and passes a look-alike, is hidden for a while, and comes back elsewhere.
const std::vector<Image<Byte>>& pictures() {
  static const std::vector<Image<Byte>> made = [] {
    std::vector<Image<Byte>> all;
    for (int i = 0; i < kRetuneFrames; ++i) {
      std::vector<test::DrawnTarget> targets{{{{150.0 - 1.5 * i, 40}, 19, 14, 0}, 0.5}};
      const double at = i < 30 ? 71 + 1.5 * i : 60 + 2.0 * (i - 30);
      const double grown = 1 + 0.008 * i;
      if (i < 20 || i > 29) targets.push_back({{{at, 67}, 20 * grown, 14 * grown, 2.0 * i}});
      all.push_back(test::drawn_picture(targets, 130, 200, static_cast<std::uint64_t>(i)));
    }
    return all;
  }();
  return made;
}

Frame frame(int i) { return test::frame_of(pictures()[static_cast<std::size_t>(i)], i); }

struct Answer {
  OrientedBox box;
  double confidence = 0;
  bool present = false;
  std::vector<Byte> mask;
  friend bool operator==(const Answer&, const Answer&) = default;
};

std::vector<Answer> answers(Tracker& tracker, int from) {
  std::vector<Answer> all;
  for (int i = from; i < kRetuneFrames; ++i) {
    const Estimate estimate = tracker.follow(frame(i));
    const Image<Byte> mask = copy_of(estimate.mask);
    all.push_back({estimate.box, estimate.confidence, estimate.present,
                   std::vector(mask.elements().begin(), mask.elements().end())});
  }
  return all;
}

// Values that a field of a tracker may have, far from its default.
std::vector<ParamValue> any_others(const Field& field) {
  if (const bool* is_on = std::get_if<bool>(&field.standard)) return {!*is_on};
  if (const auto* word = std::get_if<std::string>(&field.standard)) {
    std::vector<ParamValue> all;
    for (const std::string& choice : field.choices)
      if (choice != *word) all.emplace_back(choice);
    return all;
  }
  if (std::holds_alternative<int>(field.standard))
    return {static_cast<int>(field.range.low), static_cast<int>(field.range.high)};
  return {field.range.low, field.range.high};
}

std::vector<ParamValue> others(const TrackerEntry& entry, const Field& field) {
  std::vector<ParamValue> allowed;
  for (const ParamValue& value : any_others(field)) {
    try {
      (void)entry.make({{field.name, value}});
      allowed.push_back(value);
    } catch (const CallError&) {  // a rule between fields
    }
  }
  return allowed;
}

// What acts only in cases that these frames have none of, such as a given colour, a shadow, or a rival as good as the target.
bool acts_elsewhere(const std::string& name) {
  static const std::set<std::string> kNames{"red",
                                            "green",
                                            "blue",
                                            "distance",
                                            "rivals",
                                            "tell_apart",
                                            "around_rate",
                                            "fill_holes",
                                            "pick",
                                            "gate",
                                            "least_area",
                                            "most_area",
                                            "least_circularity",
                                            "least_rectangularity",
                                            "least_solidity",
                                            "gamma",
                                            "average_rate",
                                            "difference_level",
                                            "shadow_from",
                                            "shadow_to",
                                            "motion_weight",
                                            "all_looks"};
  return kNames.contains(name);
}

class RetunedTracker : public ::testing::TestWithParam<std::string> {
 protected:
  [[nodiscard]] const TrackerEntry& entry() const { return catalogue.entry(GetParam()); }
  [[nodiscard]] std::unique_ptr<Tracker> seeded(const ParamSet& set = {}) const {
    auto tracker = entry().make(set);
    (void)tracker->seed(frame(0), kMarked);
    return tracker;
  }
  [[nodiscard]] std::unique_ptr<Tracker> followed(const ParamSet& set = {}) const {
    auto tracker = seeded(set);
    for (int i = 1; i < kRetunedOn; ++i) (void)tracker->follow(frame(i));
    return tracker;
  }
  void for_each_at_step(const std::function<void(const Field&)>& use) const {
    for (const Field& field : entry().schema.fields)
      if (field.acts_at_step) use(field);
  }

  const Catalogue catalogue = Catalogue::standard();
};

// A tracker that shares parameters with others, and cannot take them at the step.
class Fixed final : public Tracker {
 public:
  explicit Fixed(const HoldRules& /*rules*/) {}

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) override {
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& /*frame*/) override { return {}; }
};

TEST(RetunedEntry, SaysOfATrackerThatCannotThatAllActsAtTheSeed) {
  const TrackerEntry entry = tracker_entry<Fixed, HoldRules>("fixed", "own", "", "");
  EXPECT_FALSE(entry.retune);
  ASSERT_FALSE(entry.schema.fields.empty());
  for (const Field& field : entry.schema.fields) EXPECT_FALSE(field.acts_at_step) << field.name;
}

// What is not known to act at the step does so only when the target is marked anew.
TEST_P(RetunedTracker, TellsWhatActsAtTheStep) {
  int at_step = 0;
  for_each_at_step([&](const Field&) { ++at_step; });
  EXPECT_EQ(at_step > 0, static_cast<bool>(entry().retune));
  EXPECT_EQ(at_step > 0, GetParam() != "stay");
  EXPECT_FALSE(entry().schema.find("width")->acts_at_step);
}

TEST_P(RetunedTracker, GoesOnAsItWasByTheSameParameters) {
  if (!entry().retune) return;
  const auto as_it_was = followed();
  const auto tuned_there_and_back = as_it_was->clone();
  for_each_at_step([&](const Field& field) {
    for (const ParamValue& value : others(entry(), field))
      entry().retune(*tuned_there_and_back, {{field.name, value}});
  });
  entry().retune(*tuned_there_and_back, {});
  EXPECT_EQ(answers(*tuned_there_and_back, kRetunedOn), answers(*as_it_was, kRetunedOn));
}

// Each other parameter changes something from the next frames on.
TEST_P(RetunedTracker, GoesOnByOtherParameters) {
  if (!entry().retune) return;
  const auto as_it_was = followed();
  const std::vector<Answer> expected = answers(*as_it_was->clone(), kRetunedOn);
  for_each_at_step([&](const Field& field) {
    if (acts_elsewhere(field.name) || (GetParam() == "blob-motion" && field.name == "refind_from")) return;
    bool differs = false;
    for (const ParamValue& value : others(entry(), field)) {
      const auto tuned = as_it_was->clone();
      entry().retune(*tuned, {{field.name, value}});
      differs = differs || answers(*tuned, kRetunedOn) != expected;
    }
    EXPECT_TRUE(differs) << field.name;
  });
}

// Where seeding does not go by a parameter, changing it right after that is as having had it from the start.
TEST_P(RetunedTracker, RetunedAfterSeedingIsAsMadeSo) {
  static const std::set<std::string> kSeededBy{"smooth",          "open",   "close", "reach",
                                               "reach_px",        "window", "level", "blur_px",
                                               "background_rate", "sigmas", "cells"};
  if (!entry().retune) return;
  for_each_at_step([&](const Field& field) {
    if (kSeededBy.contains(field.name)) return;
    const ParamSet set{{field.name, others(entry(), field).back()}};
    const auto tuned = seeded();
    entry().retune(*tuned, set);
    EXPECT_EQ(answers(*tuned, 1), answers(*seeded(set), 1))
        << field.name << " = " << to_text(set.at(field.name));
  });
}

TEST_P(RetunedTracker, IsFoundBehindWhatItIsShown) {
  if (!entry().retune) return;
  const std::string by_name = "present_from";
  const ParamSet width{{"width", 150}};
  ParamSet both = width;
  both[by_name] = 1.0;
  const Showing showing{.keep_out = {{{0, 0}, {20, 0}, {20, 20}}}};
  const auto made = [&](const ParamSet& set) {
    auto tracker = shown(entry().make(set), showing);
    (void)tracker->seed(frame(0), kMarked);
    return tracker;
  };
  const auto tuned = made(width);
  entry().retune(*tuned, both);
  const auto other = made(both);
  EXPECT_EQ(answers(*tuned, 1), answers(*other, 1));
  test::expect_parts(test::message_of<CallError>([&] {
                       entry().retune(*tuned, {{by_name, 7.0}});
                     }),
                     {by_name.c_str()});
}

INSTANTIATE_TEST_SUITE_P(All, RetunedTracker, ::testing::ValuesIn(test::all_trackers()),
                         test::name_of_tracker);

}  // namespace
}  // namespace mnemon
