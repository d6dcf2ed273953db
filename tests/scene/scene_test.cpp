// SPDX-License-Identifier: MIT
#include <mnemon/scene/scene.hpp>

#include <algorithm>
#include <cmath>
#include <set>

#include <gtest/gtest.h>

#include <mnemon/sequence/frame_files.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/media/picture_file.hpp>

#include "support/mean_difference.hpp"
#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

const Box& box_of(const Scene& scene, int frame) { return scene.truth().rows[frame].box.box; }

// The smallest box around a mask's pixels.
Box mask_bounds(const Image<Byte>& mask) {
  int left = mask.cols(), right = -1, top = mask.rows(), bottom = -1;
  for (int r = 0; r < mask.rows(); ++r)
    for (int c = 0; c < mask.cols(); ++c)
      if (mask(r, c) != 0) {
        left = std::min(left, c);
        right = std::max(right, c);
        top = std::min(top, r);
        bottom = std::max(bottom, r);
      }
  return {double(left), double(top), double(right - left + 1), double(bottom - top + 1)};
}

}  // namespace

TEST(DemoScenes, AreThoseOfTheScenario) {
  std::vector<std::string> names;
  std::set<std::string> tags;
  for (const SceneSpec& spec : demo_scenes()) {
    names.push_back(spec.name);
    const Scene scene(spec, {}, 1);
    EXPECT_EQ(scene.params().width, 640);
    EXPECT_EQ(scene.params().height, 360);
    EXPECT_GE(scene.params().frames, 150);
    EXPECT_LE(scene.params().frames, 300);
    EXPECT_EQ(scene.params().rate_hz, 30);
    EXPECT_EQ(static_cast<int>(scene.truth().rows.size()), scene.params().frames);
    for (const std::string& tag : scene.describe().tags) tags.insert(tag);
  }
  EXPECT_EQ(names, (std::vector<std::string>{"steady", "climb", "cloudbank", "loops", "crossing", "dusk",
                                             "away", "streamer", "drizzle", "thicket", "speck", "handheld",
                                             "gusts", "festival", "balloon", "beacon"}));
  EXPECT_EQ(tags, std::set<std::string>(known_tags().begin(), known_tags().end()));
}

TEST(DemoScenes, BeginWithTheTargetInFullView) {
  for (const SceneSpec& spec : demo_scenes())
    for (std::uint64_t random = 1; random <= 3; ++random) {
      const Scene scene(spec, {}, random);
      EXPECT_EQ(scene.truth().rows[0].visible, 1) << spec.name << " " << random;
      EXPECT_EQ(scene.truth().rows[1].visible, 1) << spec.name << " " << random;
    }
}

TEST(Scene, GivesTheSameBitsInAnyOrderOnAnyNumberOfThreads) {
  const Scene scene(demo_scene("cloudbank"), {{"frames", 24}, {"hidden_frames", 4}}, 5);
  std::vector<Image<Byte>> in_order;
  for (int i = 0; i < 24; ++i) in_order.push_back(scene.render(i));
  const Scene again(demo_scene("cloudbank"), {{"frames", 24}, {"hidden_frames", 4}}, 5);
  std::vector<int> equal(24);
  for_each_index(24, 2, [&](int i) {
    equal[23 - i] = std::ranges::equal(again.render(23 - i).elements(), in_order[23 - i].elements()) ? 1 : 0;
  });
  EXPECT_EQ(std::ranges::count(equal, 1), 24);
  EXPECT_EQ(again.truth().rows, scene.truth().rows);
}

TEST(Scene, FliesOtherPathsWithOtherRandomNumbers) {
  double farthest = 0;
  for (std::uint64_t random = 2; random <= 8; ++random) {
    const Scene scene(demo_scene("steady"), {}, random);
    const Point start = centre(box_of(scene, 0));
    farthest =
        std::max(farthest, std::abs(start.x - centre(box_of(Scene(demo_scene("steady"), {}, 1), 0)).x));
    for (const TruthRow& row : scene.truth().rows) EXPECT_EQ(row.visible, 1) << random << " " << row.frame;
  }
  EXPECT_GT(farthest, 100);
}

TEST(Scene, LooksDifferentWithAnotherRandomNumber) {
  const Scene one(demo_scene("steady"), {}, 1);
  const Scene two(demo_scene("steady"), {}, 2);
  EXPECT_GT(test::mean_difference(one.render(0), two.render(0)), 5);
  EXPECT_NE(one.truth().rows, two.truth().rows);
}

TEST(Scene, BoxIsThatOfTheMaskForEveryRandomNumber) {
  for (std::uint64_t random = 1; random <= 6; ++random) {
    const Scene scene(demo_scene("steady"), {}, random);
    for (const int frame : {0, 70, 149}) {
      const Box mask = mask_bounds(scene.mask(frame));
      const Box& box = box_of(scene, frame);
      // A pixel belongs to the mask from half its area on. The tips of the sail are sharp, so that the last
      // pixels at a tip may all stay below half.
      EXPECT_NEAR(mask.x, box.x, 2.5);
      EXPECT_NEAR(mask.y, box.y, 2.5);
      EXPECT_NEAR(mask.x + mask.w, box.x + box.w, 2.5);
      EXPECT_NEAR(mask.y + mask.h, box.y + box.h, 2.5);
      EXPECT_GT(overlap(mask, box), 0.85);
    }
  }
}

TEST(Scene, KiteStandsOutOfWhatIsBehindIt) {
  const Scene scene(demo_scene("steady"), {}, 3);
  const Image<Byte> with = scene.render(40);
  const Box& box = box_of(scene, 40);
  const Image<Byte> mask = scene.mask(40);
  // Beside the box the sky is even, so a pixel of the sail mostly differs from the one next to the box in its
  // row.
  int differing = 0;
  int on_sail = 0;
  const int beside = static_cast<int>(box.x) - 4;
  for (int r = 0; r < mask.rows(); ++r)
    for (int c = 0; c < mask.cols(); ++c) {
      if (mask(r, c) == 0) continue;
      ++on_sail;
      int apart = 0;
      for (int k = 0; k < 3; ++k) apart += std::abs(with(r, c, k) - with(r, beside, k));
      differing += apart > 40 ? 1 : 0;
    }
  EXPECT_GT(on_sail, 500);
  EXPECT_GT(differing, 0.8 * on_sail);
}

TEST(Scene, MovesSmoothly) {
  for (const char* name : {"steady", "climb", "cloudbank"}) {
    const SceneSpec& spec = demo_scene(name);
    const Scene scene(spec, {}, 1);
    for (int i = 2; i < 150; ++i) {
      if (!scene.truth().rows[i].present || !scene.truth().rows[i - 1].present ||
          !scene.truth().rows[i - 2].present)
        continue;
      const Point a = centre(box_of(scene, i - 2));
      const Point b = centre(box_of(scene, i - 1));
      const Point c = centre(box_of(scene, i));
      EXPECT_LT(std::hypot(c.x - b.x, c.y - b.y), 12) << spec.name << " " << i;
      EXPECT_LT(std::hypot(c.x - 2 * b.x + a.x, c.y - 2 * b.y + a.y), 2) << spec.name << " " << i;
    }
  }
}

TEST(Climb, ShrinksToAThird) {
  for (std::uint64_t random = 1; random <= 5; ++random) {
    const Scene scene(demo_scene("climb"), {}, random);
    const double first = std::sqrt(box_of(scene, 0).w * box_of(scene, 0).h);
    const double last = std::sqrt(box_of(scene, 149).w * box_of(scene, 149).h);
    EXPECT_NEAR(last / first, 0.33, 0.05);
  }
}

TEST(Cloudbank, HidesTheKiteForExactlyItsFrames) {
  for (std::uint64_t random = 1; random <= 12; ++random) {
    const Scene scene(demo_scene("cloudbank"), {}, random);
    const auto& rows = scene.truth().rows;
    int hidden = 0;
    for (const TruthRow& row : rows) {
      EXPECT_EQ(row.present, row.visible > 0);
      hidden += row.visible == 0 ? 1 : 0;
    }
    EXPECT_EQ(hidden, 20) << random;
    EXPECT_EQ(rows[0].visible, 1);
    EXPECT_EQ(rows[149].visible, 1);
    const auto first = std::ranges::find(rows, false, &TruthRow::present);
    EXPECT_TRUE(std::all_of(first, first + 20, [](const TruthRow& row) { return !row.present; }));
  }
}

// However fast the kite leaves the picture at another time.
TEST(Festival, HidesTheKiteBitByBit) {
  for (std::uint64_t random = 1; random <= 5; ++random) {
    const Scene scene(demo_scene("festival"), {}, random);
    const auto& rows = scene.truth().rows;
    const Sequence sequence = scene.describe();
    for (const TagSpan& span : sequence.spans) {
      if (span.tag != "occlusion" || rows[span.from].visible < 0.5)
        continue;  // else it was not in view before
      EXPECT_EQ(rows[span.from - 1].visible, 1) << random;
      const auto hidden = std::find_if(rows.begin() + span.from, rows.end(),
                                       [](const TruthRow& row) { return row.visible == 0; });
      EXPECT_GE(hidden - (rows.begin() + span.from), 3)
          << "of random number " << random << " at " << span.from;
    }
    EXPECT_EQ(rows[66].visible > 0, true) << random;
    EXPECT_EQ(rows[67].visible, 0) << random;
    EXPECT_EQ(rows[96].visible, 0) << random;
    EXPECT_EQ(rows[97].visible > 0, true) << random;
  }
}

TEST(Cloudbank, TagsTheFramesOnWhichSomethingIsHidden) {
  const Scene scene(demo_scene("cloudbank"), {}, 1);
  const Sequence sequence = scene.describe();
  ASSERT_EQ(sequence.spans.size(), 1U);
  for (const TruthRow& row : scene.truth().rows)
    EXPECT_EQ(row.visible == 1, row.frame < sequence.spans[0].from || row.frame > sequence.spans[0].to)
        << row.frame;
}

TEST(Scene, RefusesKnobsThatDoNotFit) {
  const auto message = [](const ParamSet& set) {
    return test::message_of<CallError>([&] { const Scene scene(demo_scene("steady"), set, 1); });
  };
  test::expect_parts(message({{"gust", 1.5}}), {"gust = 1.5", "steady", "0 to 1"});
  test::expect_parts(message({{"gusts", 1}}), {"gusts", "did you mean 'gust'"});
  test::expect_parts(message({{"frames", 20}, {"hidden_frames", 30}}), {"hidden_frames = 30", "frames = 20"});
  test::expect_parts(test::message_of<CallError>([] { (void)demo_scene("clim"); }),
                     {"clim", "did you mean 'climb'"});
}

TEST(ParseScenes, NamesThePlaceOfWhatIsWrong) {
  const auto message = [](const std::string& text) {
    return test::message_of<DataError>(
        [&] { (void)parse_scenes("format = \"mnemon-scenes/1\"\n" + text, "s.toml"); });
  };
  const std::string head = "[[scene]]\nname = \"a\"\ntitle = \"b\"\ntags = []\n";
  test::expect_parts(message(head), {"s.toml:2", "'a'", "scene.key"});
  test::expect_parts(message(head + "target = \"kit\"\n"), {"s.toml:6", "'kit'", "did you mean 'kite'"});
  test::expect_parts(message(head + "set = { gust = 3 }\n"), {"s.toml:6", "gust = 3"});
  test::expect_parts(message(head + "[[scene.key]]\nat = 2\nx = 0\ny = 0\n"), {"s.toml:7", "0 to 1"});
  const std::string key = "[[scene.key]]\nat = 0.5\nx = 0\ny = 0\n";
  test::expect_parts(message(head + key + key), {"s.toml:11", "order"});
}

TEST(RenderSequence, WritesAWholeSequence) {
  const test::TempFolder folder;
  const Scene scene(demo_scene("climb"), {{"frames", 4}}, 2);
  int last = 0;
  render_sequence(scene, folder / "climb", 2, [&](int done, int total) {
    EXPECT_EQ(total, 4);
    EXPECT_EQ(done, ++last);
  });
  EXPECT_EQ(test::names_in(folder.path()), std::set<std::string>{"climb"});
  const Sequence sequence = read_sequence(folder / "climb");
  EXPECT_EQ(sequence.truth.rows, scene.truth().rows);
  const FrameFiles found(sequence);
  const auto files = found.paths();
  ASSERT_EQ(files.size(), 4U);
  // As JPEG the frames are nearly what was rendered: what is lost is less than their own noise.
  const Image<Byte> read = read_picture(files[3]);
  const Image<Byte> rendered = scene.render(3);
  double squares = 0;
  for (std::size_t i = 0; i < read.elements().size(); ++i)
    squares += std::pow(read.elements()[i] - rendered.elements()[i], 2);
  EXPECT_LT(std::sqrt(squares / static_cast<double>(read.elements().size())), 2.5);
  EXPECT_THROW(render_sequence(scene, folder / "climb", 1, {}), CallError);
}

TEST(RenderSequence, KeepsFramesAsPngToTheLastBit) {
  const test::TempFolder folder;
  const Scene scene(demo_scene("climb"), {{"frames", 3}}, 2);
  render_sequence(scene, folder / "climb", 2, {});
  render_sequence(scene, folder / "climb", 2, {}, FrameForm::png, true);
  const FrameFiles found(read_sequence(folder / "climb"));
  const auto files = found.paths();
  ASSERT_EQ(files.size(), 3U);
  EXPECT_EQ(files[2].extension(), ".png");
  EXPECT_TRUE(std::ranges::equal(read_picture(files[2]).elements(), scene.render(2).elements()));
  write_file(folder / "climb/notes.txt", "mine");
  EXPECT_THROW(render_sequence(scene, folder / "climb", 1, {}, FrameForm::jpeg, true), CallError);
}

}  // namespace mnemon
