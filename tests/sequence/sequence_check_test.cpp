// SPDX-License-Identifier: MIT
#include <mnemon/sequence/sequence_check.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>

#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

constexpr int kRows = 40;
constexpr int kCols = 60;

// A sequence of twelve frames that is as it should be, for each test to damage.
class Checked : public ::testing::Test {
 protected:
  void SetUp() override {
    for (int i = 0; i < 12; ++i) {
      write_frame(i, i, kCols);
      write_mask(i, 20 + i, kCols);
    }
    describe("");
    write_truth("");
  }

  void write_frame(int number, int level, int cols) const {
    Image<Byte> picture(kRows, cols, 3);
    std::ranges::fill(picture.elements(), static_cast<Byte>(level));
    write_png(folder_ / numbered_name("frames/%06d.png", number), picture.view());
  }
  void write_mask(int number, int left, int cols) const {
    Image<Byte> mask(kRows, cols);
    for (int r = 10; r < 40; ++r)
      for (int c = left; c < std::min(cols, left + 30); ++c) mask(r, c) = 255;
    write_png(folder_ / numbered_name("masks/%06d.png", number), mask.view());
  }
  void describe(const std::string& more) const {
    write_file(folder_ / "sequence.toml",
               "format = \"mnemon-sequence/1\"\nframes = \"frames/%06d.png\"\ntruth = \"truth.csv\"\n"
               "masks = \"masks/%06d.png\"\n" +
                   more);
  }
  // The target moves by a pixel a frame; `instead` is for some rows, each as `frame,x,...` on a line.
  void write_truth(const std::string& instead) const {
    std::string text = "frame,x,y,w,h,present\n";
    for (int i = 0; i < 12; ++i) {
      const auto at = ("\n" + instead).find("\n" + std::to_string(i) + ",");
      text += at == std::string::npos ? std::to_string(i) + "," + std::to_string(20 + i) + ",10,30,30,1\n"
                                      : instead.substr(at, instead.find('\n', at) + 1 - at);
    }
    write_file(folder_ / "truth.csv", text);
  }
  [[nodiscard]] std::vector<Finding> findings() const {
    return check_sequence(read_sequence(folder_.path())).findings;
  }

  test::TempFolder folder_;
};

Finding wrong(const std::string& text, int from = -1, int to = -1) { return {true, text, from, to}; }
Finding odd(const std::string& text, int from = -1, int to = -1) { return {false, text, from, to}; }

}  // namespace

TEST_F(Checked, FindsNothingWhereAllIsAsItShouldBe) {
  int read = 0;
  const SequenceCheck check =
      check_sequence(read_sequence(folder_.path()), [&](int frames) { read = frames; });
  EXPECT_EQ(check.frames, 12);
  EXPECT_EQ(read, 12);
  EXPECT_EQ(check.size, (FrameSize{kCols, kRows}));
  EXPECT_EQ(check.findings, std::vector<Finding>{});
  EXPECT_FALSE(check.has_wrong());
}

TEST_F(Checked, FindsPicturesThatStandStillAsOneStretch) {
  for (const int i : {4, 5, 9}) write_frame(i, i == 9 ? 8 : 3, kCols);
  const std::string text = "the same picture, pixel by pixel, as the frame before";
  EXPECT_EQ(findings(), (std::vector{odd(text, 4, 5), odd(text, 9, 9)}));
}

TEST_F(Checked, FindsAFrameOfAnotherSizeAndOneThatIsDamaged) {
  write_frame(7, 7, kCols + 2);
  EXPECT_TRUE(check_sequence(read_sequence(folder_.path())).has_wrong());
  ASSERT_FALSE(findings().empty());
  EXPECT_EQ(findings()[0].from, 7);
  EXPECT_NE(findings()[0].text.find("000007.png"), std::string::npos);
  write_file(folder_ / "frames/000003.png", "no picture");
  EXPECT_EQ(findings()[0].from, 3);
  EXPECT_NE(findings()[0].text.find("000003.png"), std::string::npos);
}

TEST_F(Checked, FindsBoxesOutsideAndTruthThatLeaps) {
  write_truth("3,80,10,30,30,1\n8,31,12,6,6,1\n");
  const std::string leaps = "the box leaps or changes its size at once";
  const std::vector<Finding> found = findings();
  EXPECT_NE(
      std::ranges::find(found, wrong("the target is present, and its box lies outside the picture", 3, 3)),
      found.end());
  EXPECT_NE(std::ranges::find(found, odd(leaps, 8, 9)), found.end());
}

TEST_F(Checked, FindsATargetWhereNoTrackerSeesIt) {
  // Its middle is at 35, 25 on the first frame, and goes to the right by a pixel a frame.
  describe("[[keep_out]]\npolygon = [[38, 20], [42, 20], [42, 30], [38, 30]]\n");
  const std::vector<Finding> found = findings();
  ASSERT_EQ(found.size(), 1U);
  EXPECT_TRUE(found[0].is_wrong);
  EXPECT_NE(found[0].text.find("kept out"), std::string::npos);
  EXPECT_EQ(found[0].from, 3);
  EXPECT_EQ(found[0].to, 6);
}

TEST_F(Checked, FindsTruthThatDoesNotGoWithTheFrames) {
  for (int i = 8; i < 12; ++i) std::filesystem::remove(folder_ / numbered_name("frames/%06d.png", i));
  EXPECT_EQ(findings(), (std::vector{wrong("truth for frames that are not there", 8, 11)}));
  write_file(folder_ / "truth.csv", "frame,x,y,w,h,present\n0,20,10,30,30,0\n1,20,10,30,30,0\n");
  EXPECT_EQ(findings(), (std::vector{wrong("the truth never has the target present"),
                                     odd("6 of 8 frames have no truth, and are not scored")}));
}

TEST_F(Checked, FindsMasksElsewhereOfAnotherSizeAndDamaged) {
  write_mask(3, 20, kCols + 4);
  EXPECT_EQ(findings(), (std::vector{wrong("the mask has another size than the frames", 3, 3)}));
  Image<Byte> corner(kRows, kCols);
  corner(0, 0) = 255;
  write_png(folder_ / "masks/000002.png", corner.view());
  EXPECT_EQ(findings(), (std::vector{wrong("the mask lies elsewhere than the box", 2, 2),
                                     wrong("the mask has another size than the frames", 3, 3)}));
  write_file(folder_ / "masks/000001.png", "no picture");
  EXPECT_EQ(findings().size(), 1U);
  EXPECT_NE(findings()[0].text.find("000001.png"), std::string::npos);
}

TEST_F(Checked, FindsTagsThatTheTruthContradictsOrLacks) {
  describe("tags = [\"scale\", \"blur\"]\n[[span]]\ntag = \"occlusion\"\nfrom = 5\nto = 20\n");
  EXPECT_EQ(findings(), (std::vector{wrong("the span of 'occlusion' goes beyond the frames", 5, 20),
                                     odd("it is tagged 'scale', which its truth does not show")}));
  describe("");
  write_truth("10,30,2,36,36,1\n11,30,0,48,48,1\n");
  EXPECT_EQ(findings(), (std::vector{odd("its truth shows 'scale', which it is not tagged with")}));
}

}  // namespace mnemon
