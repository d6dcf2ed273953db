// SPDX-License-Identifier: MIT
#include <mnemon/sequence/import_set.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

class ImportFrom : public ::testing::Test {
 protected:
  void SetUp() override {
    const Image<Byte> black(20, 30, 3);
    for (int i = 1; i <= 4; ++i)
      write_png(folder_ / ("a/pictures/" + std::to_string(i) + ".png"), black.view());
    write_file(folder_ / "a/boxes.txt", "1 2 3 4\n2 2 3 4\n3 2 3 4\n4 2 3 4\n");
    make_folder(folder_ / "out/a");
  }

  [[nodiscard]] ImportedSequence import(const SetLayout& layout, const TagMap& map = {},
                                        const std::string& words = "") const {
    return import_from(folder_ / "a", layout, map, words, folder_ / "out/a");
  }

  test::TempFolder folder_;
  SetLayout layout_ = [] {
    SetLayout layout;
    layout.frames = "pictures";
    layout.boxes = "boxes.txt";
    return layout;
  }();
};

}  // namespace

TEST_F(ImportFrom, DescribesAFolder) {
  const ImportedSequence made = import(layout_);
  EXPECT_EQ(made.described.count, 4);
  EXPECT_EQ(made.described.sequence.frames, "../../a/pictures");
  ASSERT_EQ(made.described.sequence.truth.rows.size(), 4U);
  EXPECT_EQ(made.described.sequence.truth.rows[3].box.box, (Box{4, 2, 3, 4}));
}

TEST_F(ImportFrom, TakesWhatIsSeenAndWhatIsAwayFromFiles) {
  write_file(folder_ / "a/seen.txt", "1, 0.5, 0, 8\n");
  write_file(folder_ / "a/gone.txt", "0\n0\n0\n1\n");
  layout_.visible = "seen.txt";
  layout_.away = "gone.txt";
  const auto& rows = import(layout_).described.sequence.truth.rows;
  EXPECT_EQ(rows[1].visible, 0.5);
  EXPECT_FALSE(rows[2].present);
  EXPECT_FALSE(rows[3].present);
  EXPECT_TRUE(rows[0].present);
  write_file(folder_ / "a/gone.txt", "0 no 0 1");
  test::expect_parts(test::message_of<DataError>([&] { static_cast<void>(import(layout_)); }),
                     {"gone.txt", "'no'"});
}

TEST_F(ImportFrom, TakesMasksAndTags) {
  write_file(folder_ / "a/words.txt", "Fast, camera_motion\nOV; odd");
  layout_.masks = "masks/%05d.png";
  layout_.tags = "words.txt";
  const ImportedSequence made = import(layout_, {{"OV", "out-of-view"}, {"plain", ""}}, "plain noise");
  EXPECT_EQ(made.described.sequence.masks, "../../a/masks/%05d.png");
  EXPECT_EQ(made.described.sequence.tags,
            (std::vector<std::string>{"out-of-view", "fast", "camera-motion", "noise"}));
  EXPECT_EQ(made.unknown_words, std::vector<std::string>{"odd"});
}

TEST_F(ImportFrom, SaysWhatIsNotThere) {
  layout_.boxes = "none.txt";
  test::expect_parts(test::message_of<DataError>([&] { static_cast<void>(import(layout_)); }), {"none.txt"});
  layout_.boxes = "boxes.txt";
  layout_.frames = "films";
  EXPECT_THROW(static_cast<void>(import(layout_)), Error);
  write_file(folder_ / "a/boxes.txt", "1 2 3 4\n1 2 3 4\n1 2 3 4\n1 2 3 4\n1 2 3 4\n");
  layout_.frames = "pictures";
  test::expect_parts(test::message_of<DataError>([&] { static_cast<void>(import(layout_)); }),
                     {"4 frames", "frame 4"});
}

TEST(TagMaps, AreCheckedAgainstTheTags) {
  const test::TempFolder folder;
  write_file(folder / "map.toml", "FM = \"fast\"\nXX = \"\"\n");
  EXPECT_EQ(read_tag_map(folder / "map.toml"), (TagMap{{"FM", "fast"}, {"XX", ""}}));
  write_file(folder / "map.toml", "FM = \"fats\"\n");
  test::expect_parts(
      test::message_of<DataError>([&] { static_cast<void>(read_tag_map(folder / "map.toml")); }),
      {"map.toml:1", "did you mean 'fast'"});
  write_file(folder / "tags.csv", "name,tags\na,fast blur\nb,\na,noise\n");
  EXPECT_EQ(read_tag_table(folder / "tags.csv").at("a"), " fast blur noise");
}

TEST(NamesOfFolders, TellAlikeOnesApart) {
  EXPECT_EQ(names_of_folders({"x/a", "x/b/"}), (std::vector<std::string>{"a", "b"}));
  EXPECT_EQ(names_of_folders({"x/one/v", "x/two/v", "x/two/w"}),
            (std::vector<std::string>{"one-v", "two-v", "w"}));
}

}  // namespace mnemon
