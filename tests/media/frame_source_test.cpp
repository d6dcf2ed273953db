// SPDX-License-Identifier: MIT
#include <mnemon/media/frame_source.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/natural_order.hpp>
#include <mnemon/media/picture_file.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

void put(const std::filesystem::path& file, Byte level, int cols = 6) {
  Image<Byte> picture(4, cols, 3);
  std::ranges::fill(picture.elements(), level);
  write_png(file, picture.view());
}

}  // namespace

TEST(NaturalOrder, TakesDigitsAsNumbers) {
  EXPECT_TRUE(comes_before("f2.png", "f10.png"));
  EXPECT_TRUE(comes_before("a9b2", "a9b10"));
  EXPECT_TRUE(comes_before("f1.png", "g0.png"));
  EXPECT_TRUE(comes_before("f1", "f01"));
  EXPECT_FALSE(comes_before("f01", "f1"));
  EXPECT_TRUE(comes_before("f99999999999999999999998", "f99999999999999999999999"));
}

TEST(NaturalOrder, IsAnOrder) {
  const std::string names[] = {"", "a", "a1", "a01", "a2", "a10", "a010", "b", "1", "01", "a1b", "a1b2", "A"};
  for (const auto& a : names) {
    EXPECT_FALSE(comes_before(a, a));
    for (const auto& b : names) {
      EXPECT_EQ(a != b, comes_before(a, b) != comes_before(b, a)) << a << " " << b;
      for (const auto& c : names)
        EXPECT_TRUE(!comes_before(a, b) || !comes_before(b, c) || comes_before(a, c))
            << a << " " << b << " " << c;
    }
  }
}

TEST(PicturesIn, AreInNaturalOrderWithoutOtherFiles) {
  const test::TempFolder folder;
  for (const char* name : {"shot10.png", "shot9.png", "shot1.JPG", ".hidden.png", "notes.txt"})
    put(folder / name, 1);
  std::vector<std::string> names;
  for (const auto& file : pictures_in(folder.path())) names.push_back(file.filename().string());
  EXPECT_EQ(names, (std::vector<std::string>{"shot1.JPG", "shot9.png", "shot10.png"}));
}

TEST(PicturesIn, RefusesAFolderWithoutAny) {
  const test::TempFolder folder;
  const auto message = [&](const char* name) {
    return test::message_of<DataError>([&] { (void)pictures_in(folder / name); });
  };
  make_folder(folder / "empty");
  test::expect_parts(message("empty"), {"empty", "no PNG or JPEG"});
  test::expect_parts(message("nowhere"), {"nowhere", "no such folder"});
}

TEST(VisitFrames, GivesThoseAskedForAndPassesOverTheRest) {
  const test::TempFolder folder;
  for (int i = 0; i < 6; ++i) put(folder / (std::to_string(i) + ".png"), static_cast<Byte>(10 * i));
  const auto frames = open_pictures(pictures_in(folder.path()), 30);
  std::vector<int> seen;
  visit_frames(*frames, std::vector<int>{0, 1, 4}, [&](const Frame& frame) {
    seen.push_back(frame.index);
    EXPECT_EQ(frame.rgb(0, 0, 0), 10 * frame.index);
  });
  EXPECT_EQ(seen, (std::vector<int>{0, 1, 4}));
  test::expect_parts(test::message_of<CallError>([&] {
                       visit_frames(*open_pictures(pictures_in(folder.path()), 30), std::vector<int>{2, 9},
                                    [](const Frame&) {});
                     }),
                     {"6 frames", "no frame 9"});
}

TEST(PicturesLike, NamesTheOneThatIsMissing) {
  const test::TempFolder folder;
  for (const char* name : {"000.png", "001.png", "003.png", "3.png", "x004.png"}) put(folder / name, 1);
  const auto message = test::message_of<DataError>([&] { (void)pictures_like(folder / "%03d.png"); });
  test::expect_parts(message, {"002.png", "is missing", "003.png"});
  std::filesystem::remove(folder / "003.png");
  EXPECT_EQ(pictures_like(folder / "%03d.png").size(), 2U);
}

TEST(PicturesLike, RefusesWhatIsNoPattern) {
  const test::TempFolder folder;
  put(folder / "0.png", 1);
  for (const char* pattern : {"frame.png", "%x.png", "%d%d.png", "%-3d.png", "%d"})
    EXPECT_THROW((void)pictures_like(folder / pattern), DataError) << pattern;
  EXPECT_EQ(pictures_like(folder / "%d.png").size(), 1U);
}

TEST(NumberedName, FillsUpWithZeros) {
  EXPECT_EQ(numbered_name("f%04d.png", 12), "f0012.png");
  EXPECT_EQ(numbered_name("%d", 12), "12");
  EXPECT_THROW((void)numbered_name("f.png", 1), CallError);
}

TEST(OpenPictures, GivesFramesWithIndexAndTime) {
  const test::TempFolder folder;
  for (int i = 0; i < 3; ++i) put(folder / (std::to_string(i) + ".png"), static_cast<Byte>(10 * i));
  const auto frames = open_pictures(pictures_in(folder.path()), 10);
  EXPECT_EQ(frames->total(), 3);
  EXPECT_EQ(frames->next()->rgb(0, 0, 0), 0);
  EXPECT_TRUE(frames->skip());
  const auto last = frames->next();
  EXPECT_EQ(last->index, 2);
  EXPECT_DOUBLE_EQ(last->time_s, 0.2);
  EXPECT_EQ(last->rgb(3, 5, 2), 20);
  EXPECT_FALSE(frames->next());
  EXPECT_FALSE(frames->skip());
}

TEST(OpenPictures, RefusesAnotherSizeByName) {
  const test::TempFolder folder;
  put(folder / "0.png", 1, 6);
  put(folder / "1.png", 1, 7);
  const auto frames = open_pictures(pictures_in(folder.path()), 30);
  (void)frames->next();
  test::expect_parts(test::message_of<DataError>([&] { (void)frames->next(); }), {"1.png", "7 x 4", "6 x 4"});
}

}  // namespace mnemon
