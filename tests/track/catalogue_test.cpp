// SPDX-License-Identifier: MIT
// To list a tracker in the catalogue is to test it: every case here runs for each of them.
#include <mnemon/track/catalogue.hpp>

#include <algorithm>
#include <cmath>
#include <memory>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/scene/scene.hpp>

#include "support/allocations.hpp"
#include "support/drawn_target.hpp"
#include "support/every_tracker.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

constexpr int kSteadyFrames = 30;

// A rendered flight in memory.
struct Footage {
  explicit Footage(const SceneSpec& spec, const ParamSet& set, std::uint64_t random)
      : scene(spec, set, random) {
    for (int i = 0; i < scene.params().frames; ++i) pictures.push_back(scene.render(i));
  }
  [[nodiscard]] Frame frame(int i) const { return {pictures[i].view(), i, i / 30.0}; }
  [[nodiscard]] const Box& box(int i) const { return scene.truth().rows[i].box.box; }

  Scene scene;
  std::vector<Image<Byte>> pictures;
};

const Footage& steady() {
  static const Footage footage(demo_scene("steady"), {{"frames", kSteadyFrames}}, 11);
  return footage;
}

std::vector<Estimate> follow_all(Tracker& tracker, const Footage& footage) {
  std::vector<Estimate> estimates{tracker.seed(footage.frame(0), footage.box(0))};
  for (int i = 1; i < static_cast<int>(footage.pictures.size()); ++i)
    estimates.push_back(tracker.follow(footage.frame(i)));
  return estimates;
}

void expect_same(const std::vector<Estimate>& a, const std::vector<Estimate>& b) {
  ASSERT_EQ(a.size(), b.size());
  for (std::size_t i = 0; i < a.size(); ++i) {
    EXPECT_EQ(a[i].box, b[i].box);
    EXPECT_EQ(a[i].confidence, b[i].confidence);
    EXPECT_EQ(a[i].present, b[i].present);
  }
}

Image<Byte> shifted(const Image<Byte>& picture, int right, int down) {
  Image<Byte> out(picture.rows(), picture.cols(), 3);
  for (int r = 0; r < out.rows(); ++r)
    for (int c = 0; c < out.cols(); ++c)
      for (int k = 0; k < 3; ++k)
        out(r, c, k) =
            picture(std::clamp(r - down, 0, out.rows() - 1), std::clamp(c - right, 0, out.cols() - 1), k);
  return out;
}

// A target that is away for a while and comes back elsewhere.
std::vector<Image<Byte>> away_and_back() {
  std::vector<Image<Byte>> pictures;
  for (int i = 0; i < 60; ++i) {
    std::vector<test::DrawnTarget> targets;
    if (i < 30) targets.push_back({{{110, 80}, 30, 20, 0}});
    if (i >= 50) targets.push_back({{{60, 90}, 30, 20, 0}});
    pictures.push_back(test::drawn_picture(targets, test::kRows, test::kCols, static_cast<std::uint64_t>(i)));
  }
  return pictures;
}

// Stages, by value.
std::vector<std::pair<std::string, std::vector<float>>> copies(const std::vector<Stage>& stages) {
  std::vector<std::pair<std::string, std::vector<float>>> all;
  for (const Stage& stage : stages) {
    const Image<float> copy = copy_of(stage.picture);
    all.emplace_back(stage.name, std::vector(copy.elements().begin(), copy.elements().end()));
  }
  return all;
}

// All that a step answers and shows, by value.
struct Answer {
  Box box;
  double angle_deg = 0;
  double confidence = 0;
  bool present = false;
  std::vector<Byte> mask;
  std::vector<std::pair<std::string, std::vector<float>>> stages;
  friend bool operator==(const Answer&, const Answer&) = default;
};

Answer answer_of(Tracker& tracker, const Frame& frame) {
  const Estimate estimate = tracker.follow(frame);
  const Image<Byte> mask = copy_of(estimate.mask);
  return {estimate.box.box,
          estimate.box.angle_deg,
          estimate.confidence,
          estimate.present,
          std::vector(mask.elements().begin(), mask.elements().end()),
          copies(tracker.stages())};
}

class EveryTracker : public ::testing::TestWithParam<std::string> {
 protected:
  [[nodiscard]] static std::unique_ptr<Tracker> make() { return Catalogue::standard().make(GetParam(), {}); }
};

}  // namespace

TEST_P(EveryTracker, GivesTheSameBitsTwice) {
  expect_same(follow_all(*make(), steady()), follow_all(*make(), steady()));
}

TEST_P(EveryTracker, SeededAgainIsAsNew) {
  const auto used = make();
  const Footage other(demo_scene("climb"), {{"frames", 6}}, 3);
  (void)follow_all(*used, other);
  expect_same(follow_all(*used, steady()), follow_all(*make(), steady()));
}

TEST_P(EveryTracker, HoldsAnEasyTarget) {
  const auto estimates = follow_all(*make(), steady());
  for (int i = 0; i < kSteadyFrames; ++i) {
    EXPECT_TRUE(estimates[i].present) << i;
    if (GetParam() == "stay") {  // which is there to be beaten
      EXPECT_EQ(estimates[i].box.box, steady().box(0)) << i;
      continue;
    }
    EXPECT_GT(overlap(estimates[i].box.box, steady().box(i)), 0.6) << i;
    EXPECT_TRUE(estimates[i].confidence >= 0 && estimates[i].confidence <= 1);
  }
}

TEST_P(EveryTracker, ShiftedFramesShiftTheEstimate) {
  const auto tracker = make();
  const auto estimates = follow_all(*make(), steady());
  Box start = steady().box(0);
  start.x += 9;
  start.y += 5;
  const Image<Byte> first = shifted(steady().pictures[0], 9, 5);
  (void)tracker->seed({first.view(), 0, 0}, start);
  for (int i = 1; i < 12; ++i) {
    const Image<Byte> picture = shifted(steady().pictures[i], 9, 5);
    const Estimate moved = tracker->follow({picture.view(), i, 0});
    EXPECT_NEAR(moved.box.box.x - estimates[i].box.box.x, 9, 0.05) << i;
    EXPECT_NEAR(moved.box.box.y - estimates[i].box.box.y, 5, 0.05) << i;
  }
}

// A target that sinks through the lower edge until half of it is out of sight, waits there and comes back.
TEST_P(EveryTracker, StaysItsSizeAtThePicturesEdge) {
  if (GetParam() == "stay") return;
  constexpr int kSide = 200;
  const auto at = [](int i) {
    const double sunk = i < 25 ? 3.0 * i : i < 35 ? 75 : std::max(0.0, 75 - 3.0 * (i - 35));
    return test::DrawnTarget{{{100, 125 + sunk}, 34, 26, 0}};
  };
  const auto tracker = make();
  int held = 0;
  for (int i = 0; i < 60; ++i) {
    const Image<Byte> picture =
        test::drawn_picture(std::vector{at(i)}, kSide, kSide, static_cast<std::uint64_t>(i));
    const Frame frame{picture.view(), i, i / 30.0};
    const Box right = test::box_around_drawn(at(i).ellipse);
    const Estimate estimate = i == 0 ? tracker->seed(frame, right) : tracker->follow(frame);
    EXPECT_LT(estimate.box.box.w, 1.6 * right.w) << i;
    EXPECT_LT(estimate.box.box.h, 1.6 * right.h) << i;
    held += overlap(upright_around(estimate.box), right) > 0.45 ? 1 : 0;
  }
  EXPECT_GE(held, 54);
}

// Cloned when it was just seeded, holds its target, has lost it and has it again: what either does, and that the first
// is gone, is nothing to the other.
TEST_P(EveryTracker, ACloneGoesOnAsTheOriginal) {
  const std::vector<Image<Byte>> pictures = away_and_back();
  const auto seeded = [&] {
    auto tracker = make();
    (void)tracker->seed(test::frame_of(pictures[0], 0), Box{80, 60, 60, 40});
    return tracker;
  };
  const auto whole = seeded();
  std::vector<Answer> answers{{}};
  for (int i = 1; i < 60; ++i) answers.push_back(answer_of(*whole, test::frame_of(pictures[i], i)));
  for (const int at : {0, 20, 40, 57}) {
    auto first = seeded();
    for (int i = 1; i <= at; ++i) (void)first->follow(test::frame_of(pictures[i], i));
    const auto clone = first->clone();
    ASSERT_NE(clone, nullptr);
    EXPECT_EQ(copies(clone->stages()), copies(first->stages())) << at;
    EXPECT_TRUE(clone->mask().has_shape_of(first->mask()));
    EXPECT_TRUE(clone->mask().empty() || clone->mask().data != first->mask().data);
    if (at + 1 < 60) (void)first->follow(test::frame_of(pictures[0], at + 1));
    first.reset();
    for (int i = at + 1; i < 60; ++i) {
      const Answer answer = answer_of(*clone, test::frame_of(pictures[i], i));
      ASSERT_EQ(answer, answers[i]) << at << ' ' << i;
    }
  }
}

TEST_P(EveryTracker, ACloneBeforeSeedingIsAsNew) {
  const auto clone = make()->clone();
  ASSERT_NE(clone, nullptr);
  EXPECT_TRUE(clone->mask().empty());
  expect_same(follow_all(*clone, steady()), follow_all(*make(), steady()));
}

#ifndef __SANITIZE_ADDRESS__  // which counts allocations itself
TEST_P(EveryTracker, FollowingAllocatesNothing) {
  const auto tracker = make();
  (void)tracker->seed(steady().frame(0), steady().box(0));
  const long before = test::allocation_count();
  for (int i = 1; i < kSteadyFrames; ++i) (void)tracker->follow(steady().frame(i));
  EXPECT_EQ(test::allocation_count() - before, 0);
}

TEST_P(EveryTracker, LookingForALostTargetAllocatesNothing) {
  const std::vector<Image<Byte>> pictures = away_and_back();
  const auto tracker = make();
  (void)tracker->seed(test::frame_of(pictures[0], 0), Box{80, 60, 60, 40});
  const long before = test::allocation_count();
  int absent = 0;
  for (int i = 1; i < 60; ++i) absent += tracker->follow(test::frame_of(pictures[i], i)).present ? 0 : 1;
  EXPECT_EQ(test::allocation_count() - before, 0);
  if (GetParam() != "stay") {
    EXPECT_GE(absent, 10);
  }
}
#endif

TEST_P(EveryTracker, TakesAnyShapeAndPlaceOfTarget) {
  for (const Box& box :
       {Box{100, 100, 60, 12}, Box{100, 60, 12, 60}, Box{300, 200, 8, 8}, Box{-20, -10, 60, 50},
        Box{600, 330, 80, 60}, Box{20, 10, 600, 340}, Box{200.25, 120.5, 1, 1}}) {
    const auto tracker = make();
    (void)tracker->seed(steady().frame(0), box);
    for (int i = 1; i < 8; ++i) {
      const Estimate estimate = tracker->follow(steady().frame(i));
      EXPECT_TRUE(is_proper(estimate.box.box) && std::isfinite(estimate.confidence));
    }
  }
}

TEST_P(EveryTracker, IsAbleToDoWhatTheCatalogueSays) {
  const Catalogue catalogue = Catalogue::standard();
  const TrackerAbilities& can = catalogue.entry(GetParam()).abilities;
  // Seeded with a mask of the upper left half of its box, only a tracker that looks at shapes does otherwise than
  // with the box.
  const Box& box = steady().box(0);
  Image<Byte> half(steady().pictures[0].rows(), steady().pictures[0].cols());
  for (int r = 0; r < half.rows(); ++r)
    for (int c = 0; c < half.cols(); ++c)
      half(r, c) = c >= box.x && r >= box.y && (c - box.x) / box.w + (r - box.y) / box.h <= 1 ? 1 : 0;
  const Region shape = std::as_const(half).view();
  const auto by_box = make();
  const auto by_shape = make();
  Estimate one = by_box->seed(steady().frame(0), enclosing_box(shape, steady().frame(0).size()));
  Estimate other = by_shape->seed(steady().frame(0), shape);
  EXPECT_EQ(!one.mask.empty(), can.answers_mask);
  EXPECT_EQ(one.minor_px.has_value(), can.answers_mask);
  bool differs = false;
  for (int i = 1; i < 10; ++i) {
    one = by_box->follow(steady().frame(i));
    other = by_shape->follow(steady().frame(i));
    differs = differs || one.box != other.box || one.confidence != other.confidence;
  }
  EXPECT_EQ(differs, can.takes_shape);
  const bool has_parameter = catalogue.entry(GetParam()).schema.find("rivals") != nullptr;
  EXPECT_EQ(has_parameter, can.tells_rivals);
}

TEST_P(EveryTracker, TakesFlatFrames) {
  Image<Byte> flat(120, 160, 3);
  for (const Byte level : {Byte{0}, Byte{255}}) {
    std::ranges::fill(flat.elements(), level);
    const auto tracker = make();
    (void)tracker->seed({flat.view(), 0, 0}, Box{40, 40, 30, 30});
    const Estimate estimate = tracker->follow({flat.view(), 1, 0});
    EXPECT_TRUE(is_proper(estimate.box.box) && std::isfinite(estimate.confidence));
    EXPECT_EQ(estimate.present, GetParam() == "stay") << "only one that looks at nothing can be sure of it";
  }
}

TEST_P(EveryTracker, TakesFramesWithGapsBetweenTheirRows) {
  Image<Byte> wide(steady().pictures[0].rows(), steady().pictures[0].cols() + 13, 3);
  const auto tracker = make();
  const auto right = follow_all(*make(), steady());
  for (int i = 0; i < 5; ++i) {
    const Image<Byte>& picture = steady().pictures[i];
    for (int r = 0; r < picture.rows(); ++r)
      std::copy_n(picture.view().row(r), 3 * picture.cols(), wide.view().row(r));
    ImageView<const Byte> part = wide.view();
    part.cols = picture.cols();
    const Estimate estimate =
        i == 0 ? tracker->seed({part, 0, 0}, steady().box(0)) : tracker->follow({part, i, 0});
    EXPECT_EQ(estimate.box, right[i].box);
  }
}

TEST_P(EveryTracker, RefusesWrongCallsAndStaysUsable) {
  const auto tracker = make();
  const auto message = [](auto call) { return test::message_of<CallError>(call); };
  test::expect_parts(message([&] { (void)tracker->follow(steady().frame(0)); }), {"seed"});
  test::expect_parts(message([&] { (void)tracker->seed(steady().frame(0), Box{5, 5, 0, 4}); }), {"no area"});
  test::expect_parts(message([&] {
                       (void)tracker->seed(steady().frame(0), Box{5, 5, std::nan(""), 4});
                     }),
                     {"no area"});
  test::expect_parts(message([&] {
                       (void)tracker->seed(steady().frame(0), Box{700, 5, 4, 4});
                     }),
                     {"outside", "640 x 360"});
  test::expect_parts(message([&] { (void)tracker->seed(Frame{}, Box{5, 5, 4, 4}); }), {"RGB"});
  (void)tracker->seed(steady().frame(0), steady().box(0));
  const Image<Byte> small(20, 20, 3);
  test::expect_parts(message([&] {
                       (void)tracker->follow({small.view(), 7, 0});
                     }),
                     {"frame 7", "20 x 20", "640 x 360"});
  EXPECT_TRUE(tracker->follow(steady().frame(1)).present);
}

TEST_P(EveryTracker, HasStagesWithPictures) {
  const auto tracker = make();
  (void)tracker->seed(steady().frame(0), steady().box(0));
  (void)tracker->follow(steady().frame(1));
  for (const Stage& stage : tracker->stages()) {
    EXPECT_FALSE(stage.name.empty());
    EXPECT_FALSE(stage.picture.empty());
    for (int r = 0; r < stage.picture.rows; ++r)
      for (int c = 0; c < stage.picture.row_length(); ++c)
        ASSERT_TRUE(std::isfinite(stage.picture.row(r)[c]));
  }
}

// A stage that says where it lies has the target in it; and what was looked at is told, the taken place first.
TEST_P(EveryTracker, SaysWhereItsStagesLieAndWhatItLookedAt) {
  const auto tracker = make();
  const auto estimates = follow_all(*tracker, steady());
  int lying = 0;
  for (const Stage& stage : tracker->stages()) {
    if (!stage.area) continue;
    ++lying;
    EXPECT_TRUE(is_proper(stage.area->box)) << stage.name;
    EXPECT_GT(overlap(*stage.area, estimates.back().box), 0) << stage.name;
  }
  const std::vector<Candidate> candidates = tracker->candidates();
  if (GetParam() == "stay") return;  // it looks at nothing
  EXPECT_GT(lying, 0);
  ASSERT_FALSE(candidates.empty());
  EXPECT_EQ(candidates.front().outcome, "taken");
  EXPECT_GT(overlap(OrientedBox{candidates.front().box, 0}, estimates.back().box), 0.3);
}

TEST_P(EveryTracker, ChecksEachParametersRangeByName) {
  const Catalogue catalogue = Catalogue::standard();
  const TrackerEntry& entry = catalogue.entry(GetParam());
  EXPECT_FALSE(entry.summary.empty());
  EXPECT_EQ(entry.paper.empty(), entry.family == "floor");
  for (const Field& field : entry.schema.fields) {
    EXPECT_FALSE(field.help.empty());
    std::vector<ParamValue> outside;
    if (std::holds_alternative<int>(field.standard))
      outside = {static_cast<int>(field.range.low) - 1, static_cast<int>(field.range.high) + 1};
    if (std::holds_alternative<double>(field.standard))
      outside = {std::nextafter(field.range.low, -1e9), std::nextafter(field.range.high, 1e9), std::nan("")};
    if (std::holds_alternative<std::string>(field.standard)) outside = {std::string("no such word")};
    for (const ParamValue& value : outside) {
      const auto text = test::message_of<CallError>([&] { (void)entry.make({{field.name, value}}); });
      test::expect_parts(text, {field.name.c_str(), GetParam().c_str()});
    }
    EXPECT_NE(entry.make({{field.name, field.standard}}), nullptr);
  }
}

INSTANTIATE_TEST_SUITE_P(Catalogue, EveryTracker, ::testing::ValuesIn(test::all_trackers()),
                         test::name_of_tracker);

TEST(Catalogue, NamesTheNearestTracker) {
  const Catalogue catalogue = Catalogue::standard();
  test::expect_parts(test::message_of<CallError>([&] { (void)catalogue.entry("corr-plian"); }),
                     {"corr-plian", "did you mean 'corr-plain'"});
  test::expect_parts(test::message_of<CallError>([&] {
                       (void)catalogue.make("corr-plain", {{"pading", 1}});
                     }),
                     {"pading"});
}

TEST(Catalogue, TakesANameOnce) {
  Catalogue catalogue = Catalogue::standard();
  TrackerEntry entry = catalogue.entry("corr-plain");
  EXPECT_THROW(catalogue.add(entry), CallError);
  entry.name = "mine";
  catalogue.add(entry);
  EXPECT_EQ(catalogue.entry("mine").family, "corr");
}

// Each pace is taken, sets what it says, and gives way to a parameter that is given.
TEST(Catalogue, HasPacesThatSetWhatTheySay) {
  const Catalogue catalogue = Catalogue::standard();
  int with = 0;
  for (const TrackerEntry& entry : catalogue.entries()) {
    const Field* const pace = entry.schema.find("pace");
    if (pace == nullptr) continue;
    ++with;
    EXPECT_EQ(pace->choices, (std::vector<std::string>{"quick", "usual", "careful"})) << entry.name;
    EXPECT_FALSE(pace->presets.at("quick").empty()) << entry.name;
    for (const auto& [word, sets] : pace->presets) {
      const auto tracker = entry.make({{"pace", word}});
      EXPECT_EQ(follow_all(*tracker, steady()).size(), kSteadyFrames);
      for (const auto& [name, value] : sets) {
        EXPECT_EQ(problem_with(entry.schema, entry.name, name, value), "");
        EXPECT_EQ(completed({{"pace", word}}, entry.schema).at(name), value) << entry.name;
        const ParamValue& standard = entry.schema.find(name)->standard;
        EXPECT_EQ(completed({{"pace", word}, {name, standard}}, entry.schema).at(name), standard);
      }
    }
  }
  EXPECT_EQ(with, 7);
}

}  // namespace mnemon
