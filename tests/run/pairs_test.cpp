// SPDX-License-Identifier: MIT
#include <mnemon/run/pairs.hpp>

#include <algorithm>
#include <set>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/json.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"
#include "support/toy_frames.hpp"

namespace mnemon {
namespace {

class Pairs : public testing::Test {
 protected:
  // Five frames, the target absent on frame 3, a mask on frame 2.
  Sequence sequence(const std::string& name) {
    const std::filesystem::path folder = made / name;
    Sequence sequence;
    sequence.frames = "frames/%06d.png";
    sequence.truth_file = "truth.csv";
    sequence.masks = "masks/%06d.png";
    for (int i = 0; i < 5; ++i) {
      write_png(folder / "frames" / numbered_name("%06d.png", i), test::toy_picture(24, 32, i).view());
      sequence.truth.rows.push_back({i, OrientedBox{{4.5, 3, 10, 8}, i == 1 ? 20.0 : 0.0}, i != 3});
    }
    Image<Byte> mask(24, 32);
    mask(5, 6) = 7;
    write_png(folder / "masks/000002.png", mask.view());
    write_sequence(sequence, folder);
    return read_sequence(folder);
  }
  Json pairs() { return Json::parse(read_file(to / "pairs.json")); }

  const test::TempFolder made;
  const test::TempFolder to;
};

TEST_F(Pairs, HavePicturesBoxesAndMasks) {
  const PairCounts counts = write_pairs({sequence("one kite")}, to.path(), {1, 0}, {});
  EXPECT_EQ(counts.pictures, 5);
  EXPECT_EQ(counts.masks, 1);
  EXPECT_EQ(counts.training, std::vector<std::string>{"one kite"});
  const Json json = pairs();
  EXPECT_EQ(json["format"], "mnemon-pairs/1");
  ASSERT_EQ(json["pictures"].size(), 5U);
  EXPECT_EQ(json["pictures"][1]["box"], (Json{4.5, 3.0, 10.0, 8.0, 20.0}));
  EXPECT_TRUE(json["pictures"][3]["box"].is_null());
  EXPECT_TRUE(json["pictures"][1]["mask"].is_null());
  const Image<Byte> mask = read_mask(to / json["pictures"][2]["mask"].get<std::string>());
  EXPECT_EQ(mask(5, 6), 255);
  EXPECT_EQ(std::ranges::count(mask.elements(), Byte{255}), 1);
  const Image<Byte> picture = read_picture(to / json["pictures"][4]["file"].get<std::string>());
  EXPECT_TRUE(std::ranges::equal(picture.elements(), test::toy_picture(24, 32, 4).elements()));
  EXPECT_EQ(json["pictures"][4]["width"], 32);
}

TEST_F(Pairs, TakeEverySoManyFrames) {
  EXPECT_EQ(write_pairs({sequence("a")}, to.path(), {2, 0}, {}).pictures, 3);
  EXPECT_EQ(pairs()["pictures"][1]["frame"], 2);
}

// A sequence is on one side whole, and stays there whatever comes beside it.
TEST_F(Pairs, AreSplitBySequence) {
  std::vector<Sequence> all;
  for (const char* name : {"a", "b", "c", "d", "e", "f"}) all.push_back(sequence(name));
  const PairCounts counts = write_pairs(all, to.path(), {1, 0.5}, {});
  EXPECT_EQ(counts.training.size() + counts.checking.size(), 6U);
  std::map<std::string, std::set<std::string>> uses;
  for (const Json& one : pairs()["pictures"]) uses[one["sequence"]].insert(one["use"].get<std::string>());
  for (const auto& [name, use] : uses) {
    EXPECT_EQ(use.size(), 1U) << name;
    EXPECT_EQ(*use.begin() == "check", is_for_checking(name, 0.5)) << name;
  }
  int checking = 0;
  for (int i = 0; i < 1000; ++i) checking += is_for_checking("sequence " + std::to_string(i), 0.2) ? 1 : 0;
  EXPECT_NEAR(checking, 200, 50);  // four standard deviations of 1000 draws
}

TEST_F(Pairs, SayWhatCannotBeDone) {
  Sequence bare = sequence("a");
  bare.truth.rows.clear();
  const auto refused = [this](const std::vector<Sequence>& sequences, const PairOptions& options) {
    return test::message_of<CallError>([&] { (void)write_pairs(sequences, to.path(), options, {}); });
  };
  test::expect_parts(refused({bare}, {}), {"'a' has no truth"});
  test::expect_parts(refused({sequence("a"), sequence("a")}, {}), {"two sequences are called 'a'"});
  test::expect_parts(refused({sequence("a")}, {0, 0.2}), {"steps of 0"});
  test::expect_parts(refused({sequence("a")}, {1, 1.5}), {"share of 1.5"});
}

}  // namespace
}  // namespace mnemon
