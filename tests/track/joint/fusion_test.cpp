// SPDX-License-Identifier: MIT
#include <mnemon/track/joint/fusion.hpp>

#include <algorithm>
#include <set>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/scene/scene.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

constexpr int kFusedFrames = 60;

// A rendered flight, and what trackers make of it.
class Flight {
 public:
  explicit Flight(const char* scene) : scene_(demo_scene(scene), {{"width", 320}, {"height", 180}}, 3) {
    for (int i = 0; i < kFusedFrames; ++i) pictures_.push_back(scene_.render(i));
  }

  // From the true box, moved by so much of its sides.
  [[nodiscard]] std::vector<Estimate> followed_by(Tracker& tracker, Point off = {}) const {
    return followed_by(
        tracker, [](int) {}, off);
  }

  // The same, with a look at the tracker after each frame.
  template <class Look>
  [[nodiscard]] std::vector<Estimate> followed_by(Tracker& tracker, const Look& look, Point off = {}) const {
    std::vector<Estimate> estimates;
    Box seed = truth(0);
    seed.x += off.x * seed.w;
    seed.y += off.y * seed.h;
    for (int i = 0; i < kFusedFrames; ++i) {
      const Frame frame{pictures_[i].view(), i, i / 30.0};
      estimates.push_back(i == 0 ? tracker.seed(frame, seed) : tracker.follow(frame));
      look(i);
    }
    return estimates;
  }

  [[nodiscard]] double mean_overlap(const std::vector<Estimate>& estimates) const {
    double sum = 0;
    for (int i = 1; i < kFusedFrames; ++i)
      sum += estimates[i].present ? overlap(estimates[i].box.box, truth(i)) : 0;
    return sum / (kFusedFrames - 1);
  }

 private:
  [[nodiscard]] const Box& truth(int i) const { return scene_.truth().rows[i].box.box; }

  Scene scene_;
  std::vector<Image<Byte>> pictures_;
};

Box box_of_mask(ImageView<const Byte> mask) {
  int left = mask.cols, top = mask.rows, right = 0, bottom = 0;
  for (int r = 0; r < mask.rows; ++r)
    for (int c = 0; c < mask.cols; ++c)
      if (mask(r, c) != 0) {
        left = std::min(left, c);
        right = std::max(right, c + 1);
        top = std::min(top, r);
        bottom = std::max(bottom, r + 1);
      }
  return {double(left), double(top), double(right - left), double(bottom - top)};
}

std::unique_ptr<Tracker> fusion_of(const std::string& ways, bool refit = false) {
  return Catalogue::standard().make("fusion", {{"ways", ways}, {"refit", refit}});
}

}  // namespace

TEST(Fusion, OfOneWayIsThatWay) {
  const Flight flight("gusts");
  const Catalogue catalogue = Catalogue::standard();
  const FusionParams params;
  const auto same = [&](const std::string& way, const std::string& name, const ParamSet& set) {
    const auto one = fusion_of(way);
    const auto other = catalogue.make(name, set);
    const std::vector<Estimate> a = flight.followed_by(*one);
    const std::vector<Estimate> b = flight.followed_by(*other);
    for (int i = 0; i < kFusedFrames; ++i) {
      EXPECT_EQ(a[i].box, b[i].box) << way << " " << i;
      EXPECT_EQ(a[i].confidence, b[i].confidence) << way << " " << i;
    }
  };
  same("filter", "corr-reliable",
       {{"window_cells", params.window_cells},
        {"iterations", params.iterations},
        {"pose_wait", params.pose_wait},
        {"learn_wait", params.learn_wait}});
  same("mask", "mask-memory", {{"cells", params.cells}, {"all_looks", params.all_looks}});
}

// Where no way rests, every answer is that of one of them alone, or lies between both. It is nowhere worse than the worse
// way, and over all better than the mean of both; so it is where the mask may rest.
TEST(Fusion, AnswersAsOneOfItsWaysDoesAndNotAsTheWorse) {
  double of_fusion = 0;
  double of_filter = 0;
  double of_mask = 0;
  for (const char* name : {"loops", "gusts", "speck", "streamer", "handheld", "climb", "crossing", "dusk"}) {
    const Flight flight(name);
    const auto both_of = [&](int mask_rests) {
      const auto fusion = Catalogue::standard().make(
          "fusion", {{"ways", "filter mask"}, {"refit", false}, {"mask_rests", mask_rests}});
      return flight.followed_by(*fusion);
    };
    const std::vector<Estimate> both = both_of(0);
    const std::vector<Estimate> filter = flight.followed_by(*fusion_of("filter"));
    const std::vector<Estimate> mask = flight.followed_by(*fusion_of("mask"));
    for (int i = 1; i < kFusedFrames; ++i)
      EXPECT_TRUE(both[i].box == filter[i].box || both[i].box == mask[i].box ||
                  both[i].box.box == between(filter[i].box.box, mask[i].box.box, FusionParams{}.mask_share))
          << name << " " << i;
    for (const double fused : {flight.mean_overlap(both), flight.mean_overlap(both_of(1))}) {
      EXPECT_GE(fused, std::min(flight.mean_overlap(filter), flight.mean_overlap(mask)) - 0.01) << name;
      of_fusion += fused / 2;
    }
    of_filter += flight.mean_overlap(filter);
    of_mask += flight.mean_overlap(mask);
  }
  EXPECT_GT(of_fusion, 0.5 * (of_filter + of_mask));
}

// A tenth of the target's sides off costs less where the box is drawn anew, and a right box nearly nothing.
TEST(Fusion, RefitsABoxThatIsALittleOff) {
  double kept = 0;
  double refitted = 0;
  for (const char* name : {"gusts", "steady"}) {
    const Flight flight(name);
    const auto of = [&](bool refit, Point off) {
      return flight.mean_overlap(flight.followed_by(*fusion_of("filter mask", refit), off));
    };
    EXPECT_GT(of(true, {}), of(false, {}) - 0.03) << name;
    for (const Point off : {Point{0.1, 0}, {-0.1, 0}, {0, 0.1}, {-0.1, -0.1}}) {
      kept += of(false, off);
      refitted += of(true, off);
    }
  }
  EXPECT_GT(refitted, kept + 8 * 0.03);
}

TEST(Fusion, RefusesToGoByNothing) {
  for (const char* ways : {"", "filter smell"})
    test::expect_parts(test::message_of<CallError>([ways] { (void)fusion_of(ways); }),
                       {"ways", "filter, mask"});
}

TEST(Fusion, ShowsTheStagesOfBothWaysByNamesOfTheirOwn) {
  const Flight flight("steady");
  const auto fusion = fusion_of("filter mask");
  (void)flight.followed_by(*fusion);
  std::set<std::string> names;
  const std::vector<Stage> stages = fusion->stages();
  for (const Stage& stage : stages) names.insert(std::string(stage.name));
  EXPECT_EQ(names.size(), stages.size());
  EXPECT_TRUE(names.contains("filter-response"));
  EXPECT_TRUE(names.contains("mask-shape"));
}

// Where the filter answers alone there is no mask.
TEST(Fusion, HasAMaskWhereTheMaskAnswers) {
  const Flight flight("steady");
  const auto fusion = fusion_of("filter mask");
  (void)flight.followed_by(*fusion);
  const auto is_on = [](Byte b) { return b != 0; };
  EXPECT_TRUE(std::ranges::any_of(fusion->mask().elements(), is_on));
  const auto filter = fusion_of("filter");
  (void)flight.followed_by(*filter);
  EXPECT_FALSE(std::ranges::any_of(filter->mask().elements(), is_on));
}

// All or nothing of the mask's box is that of one way, with its mask or without.
TEST(Fusion, TakesSoMuchOfTheMasksBox) {
  const Flight flight("steady");
  for (const double share : {0.0, 1.0}) {
    FusionParams params;
    params.mask_share = share;
    Fusion fusion(params);
    const Box last = flight.followed_by(fusion).back().box.box;
    ASSERT_TRUE(fusion.mask_way().evidence.agrees);
    const Fusion::Way& way = share == 0 ? fusion.filter_way() : fusion.mask_way();
    EXPECT_EQ(last, way.answer.box.box);
    EXPECT_EQ(std::ranges::any_of(fusion.mask().elements(), [](Byte b) { return b != 0; }), share > 0);
  }
}

// Where the mask rests it has no candidates, its box has moved and grown as the filter's has, and so has its mask.
TEST(Fusion, LetsTheMaskGoWithTheFilterForOneFrameAtMost) {
  const Flight flight("steady");
  for (const bool may_rest : {false, true}) {
    FusionParams params;
    params.mask_rests = may_rest ? 1 : 0;
    Fusion fusion(params);
    int rests = 0;
    int rests_in_a_row = 0;
    Fusion::Way filter_before;
    Fusion::Way mask_before;
    (void)flight.followed_by(fusion, [&](int i) {
      const Box now = fusion.filter_way().answer.box.box;
      const Box mask_now = fusion.mask_way().answer.box.box;
      const bool rested =
          i > 0 && mask_now == BoxChange(filter_before.answer.box.box, now).of(mask_before.answer.box.box);
      rests_in_a_row = rested ? rests_in_a_row + 1 : 0;
      rests += rested ? 1 : 0;
      EXPECT_LE(rests_in_a_row, params.mask_rests) << i;
      if (rested) {
        EXPECT_EQ(fusion.mask_way().answer.confidence, mask_before.answer.confidence) << i;
        EXPECT_GT(overlap(box_of_mask(fusion.mask()), mask_now), 0.75) << i;
      }
      filter_before = fusion.filter_way();
      mask_before = fusion.mask_way();
    });
    EXPECT_EQ(rests > 0, may_rest);
  }
}

// The box that a rest starts from is the one that was drawn anew, not the one that was marked.
TEST(Fusion, RestsFromTheBoxThatWasDrawnAnew) {
  const Flight flight("steady");
  for (const Point off : {Point{0.12, 0}, {-0.12, 0}, {0, 0.12}, {0, -0.12}}) {
    FusionParams params;
    params.rest_from = 0;
    params.rest_below = 2;
    Fusion fusion(params);
    (void)flight.followed_by(
        fusion,
        [&](int i) {
          if (i > 1) return;
          EXPECT_GT(overlap(fusion.mask_way().answer.box.box, fusion.filter_way().answer.box.box), 0.9) << i;
        },
        off);
  }
}

// What is told is the belief in the likelier box that is told, and both ways' beliefs stand in the tracker.
TEST(Fusion, TellsHowLikelyItsBoxIsOnTarget) {
  const Flight flight("loops");
  Fusion fusion({});
  const std::vector<Estimate> answers = flight.followed_by(fusion);
  const Fusion::Way& filter = fusion.filter_way();
  const Fusion::Way& mask = fusion.mask_way();
  const Estimate& last = answers.back();
  EXPECT_TRUE(filter.evidence.agrees && mask.evidence.agrees);
  EXPECT_EQ(last.box.box, between(filter.answer.box.box, mask.answer.box.box, FusionParams{}.mask_share));
  EXPECT_EQ(last.confidence, std::max(mask.belief, filter.belief));
  EXPECT_GT(last.confidence, 0.9);
  EXPECT_EQ(filter.evidence.size_change, 0);
}

// Where nothing is likely enough, the target is absent, and so is its mask.
TEST(Fusion, TellsATargetPresentThatIsLikelyEnough) {
  const Flight flight("steady");
  FusionParams params;
  params.present_from = 1;
  Fusion strict(params);
  const std::vector<Estimate> answers = flight.followed_by(strict);
  for (int i = 1; i < kFusedFrames; ++i) EXPECT_FALSE(answers[i].present) << i;
  EXPECT_TRUE(std::ranges::all_of(strict.mask().elements(), [](Byte b) { return b == 0; }));
  Fusion usual({});
  for (const Estimate& answer : flight.followed_by(usual))
    EXPECT_EQ(answer.present, answer.confidence >= FusionParams{}.present_from);
}

}  // namespace mnemon
