// SPDX-License-Identifier: MIT
#include <mnemon/sequence/sequence.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/sequence/frame_files.hpp>
#include <mnemon/sequence/toml_file.hpp>

#include "support/fingerprint_of.hpp"
#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

class SequenceOnDisk : public ::testing::Test {
 protected:
  void SetUp() override {
    for (int i = 0; i < 3; ++i)
      write_png(folder_ / numbered_name("gusty/frames/%06d.png", i), Image<Byte>(4, 6, 3).view());
    write_file(folder_ / "gusty/truth.csv", "frame,x,y,w,h\n0,1,1,2,2\n");
  }

  void describe(const std::string& text) const { write_file(folder_ / "gusty/sequence.toml", text); }
  [[nodiscard]] Sequence read() const { return read_sequence(folder_ / "gusty"); }
  [[nodiscard]] std::string refusal(const std::string& text) const {
    describe(text);
    return test::message_of<DataError>([this] { (void)read(); });
  }

  test::TempFolder folder_;
};

struct Sized {
  double size = 2;
  static void describe(auto& schema) { schema.field("size", &Sized::size, {1.0, 3.0}, "px", "Size."); }
};

constexpr const char* kHead = "format = \"mnemon-sequence/1\"\nframes = \"frames/%06d.png\"\n";

}  // namespace

TEST_F(SequenceOnDisk, ReadsEverything) {
  describe(std::string(kHead) +
           "title = \"Gusty\"\nrate_hz = 25\ntruth = \"truth.csv\"\nmasks = \"masks/%06d.png\"\ntags = "
           "[\"fast\"]\n"
           "[[span]]\ntag = \"occlusion\"\nfrom = 1\nto = 2\n[camera]\nfocal_px = 620.0\ncentre_px = [320, "
           "180.5]\n"
           "[target]\nlabel = \"a kite\"\ndiameter_mm = 350\n[[keep_out]]\npolygon = [[0, 1], [2.5, 1], [0, "
           "3]]\n");
  const Sequence sequence = read();
  EXPECT_EQ(sequence.name, "gusty");
  EXPECT_EQ(sequence.title, "Gusty");
  EXPECT_EQ(sequence.rate_hz, 25);
  EXPECT_EQ(sequence.tags, std::vector<std::string>{"fast"});
  EXPECT_EQ(sequence.spans, (std::vector<TagSpan>{{"occlusion", 1, 2}}));
  EXPECT_EQ(sequence.camera->focal_px, 620);
  EXPECT_EQ(sequence.keep_out, (std::vector<Polygon>{{{0, 1}, {2.5, 1}, {0, 3}}}));
  EXPECT_EQ(sequence.camera->centre_px, (Point{320, 180.5}));
  EXPECT_EQ(*sequence.target->diameter_mm, 350);
  EXPECT_TRUE(sequence.has_truth());
  EXPECT_EQ(FrameFiles(sequence).paths().size(), 3U);
  EXPECT_EQ(open_frames(sequence)->next()->size(), (FrameSize{6, 4}));
}

TEST_F(SequenceOnDisk, ReadsBackWhatIsWritten) {
  Sequence sequence;
  sequence.title = "a \"quoted\" \\ title\nof two lines";
  sequence.frames = "frames/%06d.png";
  sequence.truth_file = "truth.csv";
  sequence.rate_hz = 29.97;
  sequence.tags = {"scale", "light"};
  sequence.spans = {{"scale", 0, 1}};
  sequence.camera = CameraFacts{1.5, {2, 3}};
  sequence.target = TargetFacts{"kite", 20.5};
  sequence.keep_out = {{{0, 0}, {1.25, 0}, {0, 3}}, {{4, 4}, {5, 4}, {5, 5}, {4, 5}}};
  sequence.truth.rows = {{0, {{1, 2, 3, 4}, 5}, true, 0.5}};
  write_sequence(sequence, folder_ / "gusty");
  const Sequence back = read();
  EXPECT_EQ(back.title, sequence.title);
  EXPECT_EQ(back.rate_hz, sequence.rate_hz);
  EXPECT_EQ(back.tags, sequence.tags);
  EXPECT_EQ(back.spans, sequence.spans);
  EXPECT_EQ(back.camera->centre_px, sequence.camera->centre_px);
  EXPECT_EQ(back.target->label, "kite");
  EXPECT_EQ(back.keep_out, sequence.keep_out);
  EXPECT_EQ(back.truth.rows, sequence.truth.rows);
}

TEST_F(SequenceOnDisk, SaysWhereTheDescriptionIsWrong) {
  test::expect_parts(refusal("format = \"mnemon-sequence/9\"\n"),
                     {"sequence.toml:1", "mnemon-sequence/9", "mnemon-sequence/1"});
  test::expect_parts(refusal("format = \"mnemon-sequence/1\"\n"), {"sequence.toml", "'frames' is missing"});
  test::expect_parts(refusal(std::string(kHead) + "rate_hz = 0\n"),
                     {"sequence.toml:3", "rate_hz", "above 0"});
  test::expect_parts(refusal(std::string(kHead) + "rate_hz = \"fast\"\n"),
                     {"sequence.toml:3", "rate_hz", "number"});
  test::expect_parts(refusal(std::string(kHead) + "tags = [\"oclusion\"]\n"),
                     {"sequence.toml:3", "oclusion", "did you mean 'occlusion'"});
  test::expect_parts(refusal(std::string(kHead) + "tag = []\n"),
                     {"sequence.toml:3:1", "'tag'", "did you mean 'tags'"});
  test::expect_parts(refusal(std::string(kHead) + "[[span]]\ntag = \"fast\"\nfrom = 5\nto = 2\n"),
                     {"sequence.toml:6", "ends at 2"});
  test::expect_parts(refusal(std::string(kHead) + "[camera]\nfocal_px = 1\ncentre_px = [1]\n"),
                     {"centre_px", "2 numbers"});
  for (const char* area : {"[[1, 1], [2, 2]]", "[[1, 1], [2, 1], [3, 1]]"})
    test::expect_parts(refusal(std::string(kHead) + "[[keep_out]]\npolygon = " + area + "\n"),
                       {"sequence.toml:4", "three corners"});
  for (const char* area : {"3", "[1, 2, 3, 4]", "[[1, 2, 3]]", "[[1, \"2\"]]", "[[1, nan], [2, 1], [3, 4]]"})
    test::expect_parts(refusal(std::string(kHead) + "[[keep_out]]\npolygon = " + area + "\n"),
                       {"sequence.toml:4", "list of places"});
  test::expect_parts(refusal(std::string(kHead) + "title = \"open\n"), {"sequence.toml:3"});
  test::expect_parts(refusal(std::string(kHead) + "truth = \"none.csv\"\n"), {"none.csv", "no such file"});
}

TEST_F(SequenceOnDisk, MayBeAPlainFolderOfPictures) {
  const Sequence sequence = read_sequence(folder_ / "gusty/frames");
  EXPECT_EQ(sequence.name, "frames");
  EXPECT_FALSE(sequence.has_truth());
  EXPECT_EQ(FrameFiles(sequence).paths().size(), 3U);
}

TEST_F(SequenceOnDisk, MustBeThere) {
  test::expect_parts(test::message_of<CallError>([this] { (void)read_sequence(folder_ / "calm"); }),
                     {"calm", "no such sequence"});
  test::expect_parts(
      test::message_of<CallError>([this] { (void)read_sequence(folder_ / "gusty/truth.csv"); }),
      {"truth.csv", "is no sequence"});
}

TEST_F(SequenceOnDisk, HasAFingerprintOfAllThatMatters) {
  describe(std::string(kHead) + "truth = \"truth.csv\"\n");
  const std::string before = test::fingerprint_of(read());
  EXPECT_EQ(test::fingerprint_of(read()), before);
  Image<Byte> other(4, 6, 3);
  other(0, 0, 0) = 1;
  write_png(folder_ / "gusty/frames/000001.png", other.view());
  const std::string changed_frame = test::fingerprint_of(read());
  EXPECT_NE(changed_frame, before);
  write_file(folder_ / "gusty/truth.csv", "frame,x,y,w,h\n0,1,1,2,3\n");
  EXPECT_NE(test::fingerprint_of(read()), changed_frame);
}

TEST(TomlTable, ChecksParametersAgainstTheirSchema) {
  const auto read = [](const char* text) {
    const TomlFile file(text, "plan.toml");
    return file.root().params(schema_of<Sized>(), "thing");
  };
  EXPECT_EQ(read("size = 3\n").at("size"), ParamValue(3));
  test::expect_parts(test::message_of<DataError>([&] { (void)read("\nsize = 9\n"); }),
                     {"plan.toml:2:8", "size = 9 for 'thing'", "1 to 3 px", "2 if left out"});
  test::expect_parts(test::message_of<DataError>([&] { (void)read("siz = 2\n"); }),
                     {"plan.toml:1", "did you mean 'size'"});
  test::expect_parts(test::message_of<DataError>([&] { (void)read("size = [1]\n"); }),
                     {"plan.toml:1", "number"});
}

TEST(TomlFile, AllowsLettersBeyondAsciiInQuotesAndCommentsOnly) {
  const auto read = [](const std::string& text) { return TomlFile(text, "s.toml").root().text("title"); };
  EXPECT_EQ(read("# gr\xc3\xbc\xc3\x9f\ntitle = \"b\xc3\xb6ig \\\" #\"\n"), "b\xc3\xb6ig \" #");
  EXPECT_EQ(read("title = 'wind\xc3\xa9' # fin\xc3\xa9"), "wind\xc3\xa9");
  EXPECT_EQ(read("title = \"\"\"\nb\xc3\xb6 \"ig\"\n\"\"\""), "b\xc3\xb6 \"ig\"\n");
  EXPECT_EQ(read("\xef\xbb\xbftitle = \"mark\""), "mark");
  test::expect_parts(test::message_of<DataError>([&] { (void)read("a = 1\nt\xc3\xa4tle = \"x\""); }),
                     {"s.toml:2:2"});
  // Letters of which the package's own tests know nothing.
  for (const char* letter : {"\xc2\xa1", "\xce\xb1", "\xef\xae\x86", "\xef\xbb\xb7"})
    test::expect_parts(
        test::message_of<DataError>([&] { (void)read(std::string("title = 5\"m\"") + letter); }),
        {"s.toml:1"});
}

}  // namespace mnemon
