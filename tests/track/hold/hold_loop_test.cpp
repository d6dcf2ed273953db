// SPDX-License-Identifier: MIT
#include <mnemon/track/hold/hold_loop.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/hold/usual.hpp>

namespace mnemon {
namespace {

// A family that sees what a script says: by frame, what is where the target should be, beside it, and elsewhere.
class Scripted {
 public:
  using Seen = Sighting;

  std::map<int, Sighting> here;
  std::map<int, Sighting> beside;
  std::map<int, Sighting> elsewhere;
  std::vector<std::string> done;  ///< What the loop had it do, in order.
  Box box{300, 100, 40, 40};

  explicit Scripted(bool tells_rivals = false, const HoldRules& rules = {}) {
    loop_.start({640, 360}, rules, tells_rivals ? std::optional(RivalRules{}) : std::nullopt);
  }

  Held follow() {
    done.clear();
    ++frame_;
    return loop_.follow(*this, {{}, frame_, 0});
  }
  void rest() {
    ++frame_;
    loop_.rest();
  }
  [[nodiscard]] const HoldLoop& loop() const { return loop_; }
  [[nodiscard]] int frame() const { return frame_; }
  [[nodiscard]] bool did(const std::string& what) const {
    return std::ranges::find(done, what) != done.end();
  }

 private:
  friend mnemon::HoldLoop;

  [[nodiscard]] Box expected() const {
    const Point middle = loop_.forecast().of(centre(box), box.w, box.h);
    return box_around(middle, box.w, box.h);
  }
  Seen look(const Frame& /*frame*/) {
    done.emplace_back("look");
    const auto at = here.find(frame_);
    return at != here.end() ? at->second : Seen{expected(), 0.9, 1};
  }
  Seen look_beside(const Frame& /*frame*/) {
    done.emplace_back("look beside");
    const auto at = beside.find(frame_);
    return at != beside.end() ? at->second : Seen{};
  }
  void search(const Frame& /*frame*/, Seen& seen) {
    done.emplace_back("search");
    const auto at = elsewhere.find(frame_);
    if (!loop_.is_sure(seen) && at != elsewhere.end()) seen = at->second;
  }
  bool accept(const Frame& /*frame*/, const Seen& seen) {
    done.emplace_back("accept");
    return loop_.is_target(seen, expected());
  }
  bool prefers(const Frame& /*frame*/, const Seen& other, Seen& seen) {
    done.emplace_back("prefer");
    if (other.confidence < loop_.rules().refind_from) return false;
    seen = other;
    return true;
  }
  void hold(const Frame& /*frame*/, const Seen& seen, bool learns) {
    done.emplace_back(learns ? "learn" : "hold");
    loop_.found(centre(box), centre(seen.box));
    box = seen.box;
  }
  void miss(const Frame& /*frame*/) {
    done.emplace_back("miss");
    box = expected();
    loop_.missed();
  }

  HoldLoop loop_;
  int frame_ = 0;
};

const Sighting kNothing{{0, 0, 40, 40}, 0.1, 0.1};

}  // namespace

TEST(HoldLoop, HoldsAndLearnsWhatIsSurelySeen) {
  Scripted family;
  const Held held = family.follow();
  EXPECT_TRUE(held.present);
  EXPECT_EQ(held.confidence, 0.9);
  EXPECT_EQ(family.done, (std::vector<std::string>{"look", "accept", "learn"}));
}

TEST(HoldLoop, HoldsWithoutLearningWhatIsHalfSure) {
  Scripted family;
  family.here[1] = {family.box, 0.4, 0.8};  // between present_from and learn_from
  EXPECT_TRUE(family.follow().present);
  EXPECT_TRUE(family.did("hold"));
  EXPECT_FALSE(family.did("learn"));
}

TEST(HoldLoop, MissesSearchesAndTakesBackOnlyOnGoodEvidence) {
  Scripted family;
  for (int i = 1; i <= 12; ++i) family.here[i] = kNothing;  // hidden
  for (int i = 1; i <= 4; ++i) {
    const Held held = family.follow();
    EXPECT_FALSE(held.present);
    EXPECT_EQ(held.confidence, 0.1);
    EXPECT_EQ(family.did("search"), i > Forecast::kFramesUntilSearch) << i;
    EXPECT_FALSE(family.did("learn") || family.did("hold"));
  }
  // What would do for a target that is held does not for one that was lost.
  family.here[5] = {family.box, 0.5, 0.9};
  EXPECT_FALSE(family.follow().present);
  // It is found where it went.
  family.elsewhere[6] = {{500, 200, 40, 40}, 0.7, 0.9};
  EXPECT_TRUE(family.follow().present);
  EXPECT_EQ(family.box.x, 500);
  EXPECT_FALSE(family.loop().is_lost());
  EXPECT_EQ(family.loop().forecast().velocity(), Point{});  // how it went meanwhile nobody saw
}

TEST(HoldLoop, SaysNoMoreThanPresentFromOfWhatItRefuses) {
  Scripted family(true);
  family.beside[6] = {{100, 300, 40, 40}, 0.9, 0.9};  // a look-alike
  for (int i = 1; i <= 6; ++i) family.follow();
  EXPECT_TRUE(family.did("look beside"));
  // It has moved to where the target is not, and is surer than the target ever was.
  family.here[7] = {{200, 300, 40, 40}, 0.95, 0.9};
  const Held held = family.follow();
  EXPECT_FALSE(held.present);
  EXPECT_EQ(held.confidence, HoldRules().present_from);
  // The target itself, as far off and better than the look-alike by half of what is left, is taken.
  family.here[8] = {{200, 300, 40, 40}, 0.95, 0.951};
  EXPECT_TRUE(family.follow().present);
}

namespace {

const Box kOther{100, 300, 40, 40};

// Hidden for four frames, and then taken for found again, with that quality.
Scripted returned(double quality) {
  Scripted family(true);
  for (int i = 1; i <= 4; ++i) family.here[i] = kNothing;
  family.elsewhere[5] = {{500, 200, 40, 40}, 0.7, quality};
  for (int i = 5; i <= 400; ++i) family.here[i] = {{500, 200, 40, 40}, 0.9, quality};
  for (int i = 1; i <= 5; ++i) family.follow();
  return family;
}

// What the loop holds at the next look beside the target, at which that is seen there.
Box held_beside(Scripted& family, const Sighting& beside) {
  do {
    family.beside = {{family.frame() + 1, beside}};
    family.follow();
  } while (!family.did("look beside"));
  return family.box;
}

}  // namespace

// What was taken for a lost target gives way to what is more like it.
TEST(HoldLoop, TurnsFromWhatItHoldsInDoubtToWhatIsMoreLikeTheTarget) {
  Scripted family = returned(0.6);
  EXPECT_TRUE(family.loop().is_in_doubt());
  EXPECT_EQ(held_beside(family, {kOther, 0.9, 0.71}).x, 500);  // not by a fifth
  EXPECT_EQ(family.loop().needed(), 0);                        // and no rival: it may be the target
  EXPECT_EQ(held_beside(family, {kOther, 0.5, 0.9}).x, 500);   // not sure enough
  EXPECT_TRUE(family.did("prefer"));
  EXPECT_EQ(held_beside(family, {kOther, 0.9, 0.73}), kOther);
  ASSERT_EQ(family.loop().candidates().size(), 2U);
  EXPECT_EQ(family.loop().candidates()[0].outcome, "less like it than what is beside");
  EXPECT_EQ(family.loop().candidates()[1].outcome, "taken");
}

// Both are poor: neither is worth a change.
TEST(HoldLoop, KeepsToWhatItHoldsInDoubtWhereNothingIsLikeTheTarget) {
  Scripted family = returned(0.2);
  EXPECT_EQ(held_beside(family, {kOther, 0.9, 0.49}).x, 500);
  EXPECT_FALSE(family.did("prefer"));
}

TEST(HoldLoop, DoubtsForThreeHundredFramesAfterALoss) {
  Scripted steady(true);
  EXPECT_NE(held_beside(steady, {kOther, 0.9, 5}), kOther);
  EXPECT_GT(steady.loop().needed(), 0);
  Scripted family = returned(0.6);
  for (int i = 0; i < 299; ++i) family.follow();
  EXPECT_TRUE(family.loop().is_in_doubt());
  family.follow();
  EXPECT_FALSE(family.loop().is_in_doubt());
  EXPECT_EQ(held_beside(family, {kOther, 0.9, 0.9}).x, 500);
  EXPECT_GT(family.loop().needed(), 0.9);
}

TEST(HoldLoop, TakesNoRivalFromWhereTheTargetIs) {
  Scripted family(true);
  family.beside[6] = {family.box, 0.9, 0.9};  // what was looked at beside it turned out to be the target
  for (int i = 1; i <= 6; ++i) family.follow();
  EXPECT_EQ(family.loop().needed(), 0);
}

TEST(HoldLoop, LooksBesideOnEverySixthFrameWhileTheTargetIsHeld) {
  Scripted family(true);
  int looks = 0;
  for (int i = 1; i <= 60; ++i) {
    family.follow();
    looks += family.did("look beside") ? 1 : 0;
  }
  EXPECT_EQ(looks, 10);
  for (int i = 61; i <= 100; ++i) {
    family.here[i] = kNothing;
    family.follow();
    EXPECT_FALSE(family.did("look beside") &&
                 family.loop().forecast().frames_lost() > Forecast::kFramesUntilSearch);
  }
}

TEST(HoldLoop, TakesAJumpWhereNothingElseIsLikeTheTarget) {
  Scripted family(true);
  family.here[1] = {{50, 20, 40, 40}, 0.8, 0.4};
  EXPECT_TRUE(family.follow().present);
  EXPECT_EQ(family.box.x, 50);
}

TEST(HoldLoop, KeepsATargetThatLeavesWhereItCanBeSeenComingBack) {
  Scripted family;
  for (int i = 1; i <= 8; ++i) {  // it leaves at the left, half of it out of the picture in the end
    family.here[i] = {{family.box.x - 40, 100, 40, 40}, 0.9, 1};
    EXPECT_TRUE(family.follow().present);
  }
  EXPECT_EQ(centre(family.box).x, 0);
  for (int i = 9; i <= 200; ++i) {
    family.here[i] = kNothing;
    family.follow();
    EXPECT_GE(centre(family.box).x, -0.25 * family.box.w);
  }
  EXPECT_EQ(centre(family.box).x, -0.25 * family.box.w);
}

TEST(HoldLoop, GoesOnForEverWhereNothingIsFound) {
  Scripted family(true);
  for (int i = 1; i <= 1000; ++i) {
    family.here[i] = kNothing;
    EXPECT_FALSE(family.follow().present);
  }
  EXPECT_EQ(family.loop().forecast().frames_lost(), 1000);
  EXPECT_TRUE(family.follow().present);  // and is back at once
}

namespace {

// Reports another confidence than it judges by.
class Modest {
 public:
  using Seen = Sighting;
  Modest() { loop.start({64, 48}, {}); }
  HoldLoop loop;
  Seen look(const Frame& /*frame*/) { return {{1, 1, 9, 9}, 0.9, 1}; }
  Seen look_beside(const Frame& /*frame*/) { return {}; }
  void search(const Frame& /*frame*/, Seen& /*seen*/) {}
  bool accept(const Frame& /*frame*/, const Seen& /*seen*/) { return true; }
  void hold(const Frame& /*frame*/, const Seen& /*seen*/, bool learns) { learnt = learns; }
  void miss(const Frame& /*frame*/) {}
  [[nodiscard]] double told(const Seen& seen) const { return 0.5 * seen.confidence; }
  bool learnt = false;
};

}  // namespace

TEST(HoldLoop, ReportsWhatTheFamilyTells) {
  Modest family;
  EXPECT_EQ(family.loop.follow(family, {}).confidence, 0.45);
  EXPECT_TRUE(family.learnt);
}

TEST(Usual, IsTheMeanAtFirstAndFollowsSlowlyThen) {
  Usual usual;
  double sum = 0;
  for (int i = 1; i <= 20; ++i) {
    usual.take(i);
    sum += i;
    EXPECT_NEAR(usual.value(), sum / i, 1e-12);
  }
  // From then on the newest counts a twentieth: after n more the old value is left with 0.95^n.
  for (int i = 0; i < 30; ++i) usual.take(0);
  EXPECT_NEAR(usual.value(), sum / 20 * std::pow(0.95, 30), 1e-12);
}

TEST(Usual, StandsForAsManyAsItIsToldTo) {
  Usual usual(1, 3);
  usual.take(5);
  EXPECT_DOUBLE_EQ(usual.value(), 2);  // (3 * 1 + 5) / 4
}

TEST(HoldLoop, TellsWhatItLookedAt) {
  Scripted family;
  family.follow();
  ASSERT_EQ(family.loop().candidates().size(), 1U);
  EXPECT_EQ(family.loop().candidates()[0].outcome, "taken");
  EXPECT_EQ(family.loop().candidates()[0].confidence, 0.9);
  family.here[2] = {{10, 10, 40, 40}, 0.1, 0.2};
  family.follow();
  ASSERT_EQ(family.loop().candidates().size(), 1U);
  EXPECT_EQ(family.loop().candidates()[0].outcome, "not sure enough");
  EXPECT_EQ(family.loop().candidates()[0].box, (Box{10, 10, 40, 40}));
}

TEST(HoldLoop, HasNoCandidatesOfAFrameThatIsPassedOver) {
  Scripted family;
  family.follow();
  family.rest();
  EXPECT_TRUE(family.loop().candidates().empty());
  family.follow();
  EXPECT_EQ(family.loop().candidates().size(), 1U);
}

// Lost, the place where it should be is looked at, and one elsewhere that is better.
TEST(HoldLoop, TellsOfBothPlacesOnceItSearches) {
  Scripted family;
  family.follow();
  for (int frame = 2; frame < 30; ++frame) family.here[frame] = {{10, 10, 40, 40}, 0.1, 0.2};
  while (!family.loop().is_lost()) family.follow();
  family.elsewhere[family.frame() + 1] = {{200, 200, 40, 40}, 0.95, 1};
  family.follow();
  const auto all = family.loop().candidates();
  ASSERT_EQ(all.size(), 2U);
  EXPECT_EQ(all[0].outcome, "taken");
  EXPECT_EQ(all[0].box, (Box{200, 200, 40, 40}));
  EXPECT_EQ(all[1].outcome, "not as good");
}

}  // namespace mnemon
