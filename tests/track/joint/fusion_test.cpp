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
    std::vector<Estimate> estimates;
    Box seed = truth(0);
    seed.x += off.x * seed.w;
    seed.y += off.y * seed.h;
    for (int i = 0; i < kFusedFrames; ++i) {
      const Frame frame{pictures_[i].view(), i, i / 30.0};
      estimates.push_back(i == 0 ? tracker.seed(frame, seed) : tracker.follow(frame));
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
        {"pose_wait", params.pose_wait}});
  same("mask", "mask-memory", {{"cells", params.cells}, {"all_looks", params.all_looks}});
}

// Every answer is one of the two ways', or lies between both; it is nowhere worse than the worse way, and over all better than the mean of both.
TEST(Fusion, AnswersAsOneOfItsWaysDoesAndNotAsTheWorse) {
  double of_fusion = 0;
  double of_filter = 0;
  double of_mask = 0;
  for (const char* name : {"loops", "gusts", "speck", "streamer", "handheld", "climb", "crossing", "dusk"}) {
    const Flight flight(name);
    const auto fusion = fusion_of("filter mask");
    const std::vector<Estimate> both = flight.followed_by(*fusion);
    const std::vector<Estimate> filter = flight.followed_by(*fusion_of("filter"));
    const std::vector<Estimate> mask = flight.followed_by(*fusion_of("mask"));
    for (int i = 1; i < kFusedFrames; ++i)
      EXPECT_TRUE(both[i].box == filter[i].box || both[i].box == mask[i].box ||
                  both[i].box.box == between(filter[i].box.box, mask[i].box.box, FusionParams{}.mask_share))
          << name << " " << i;
    const double fused = flight.mean_overlap(both);
    EXPECT_GE(fused, std::min(flight.mean_overlap(filter), flight.mean_overlap(mask)) - 0.01) << name;
    of_fusion += fused;
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
