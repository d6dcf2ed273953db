// SPDX-License-Identifier: MIT
#include <mnemon/study/moments.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/media/picture_file.hpp>
#include <mnemon/track/catalogue.hpp>

namespace mnemon {
namespace {

constexpr int kFrames = 40;
constexpr std::size_t kRoom = 1'000'000;

TroubleRow loss_at(int begin, int frames) {
  TroubleRow row;
  row.begin = begin;
  row.frames = frames;
  row.end = TroubleEnd::recovered;
  return row;
}

// Frames of one colour each, with a white square of ten pixels where the target is.
class Squares final : public FrameSource {
 public:
  static Box place(int frame) { return {10.0 + 2 * frame, 30, 10, 10}; }

 private:
  std::optional<Frame> do_next() override {
    if (at_ == kFrames) return std::nullopt;
    picture_ = Image<Byte>(90, 160, 3);
    const Box box = place(at_);
    for (int r = 0; r < 10; ++r)
      for (int c = 0; c < 30; ++c)
        picture_(static_cast<int>(box.y) + r, static_cast<int>(box.x) + c / 3, c % 3) = 255;
    const Frame frame{std::as_const(picture_).view(), at_, at_ / 30.0};
    ++at_;
    return frame;
  }
  bool do_skip() override { return at_ < kFrames && ++at_ > 0; }
  [[nodiscard]] std::optional<int> do_total() const override { return kFrames; }

  Image<Byte> picture_;
  int at_ = 0;
};

Truth truth_of_squares() {
  Truth truth;
  for (int i = 0; i < kFrames; ++i) truth.rows.push_back({i, {Squares::place(i), 0}, true});
  return truth;
}

Trace right_answers() {
  Trace trace;
  for (int i = 0; i < kFrames; ++i) trace.rows.push_back({i, {Squares::place(i), 0}, 1, true});
  return trace;
}

}  // namespace

TEST(FramesToCut, AreAroundBeginningAndEnd) {
  const std::vector<TroubleRow> rows{loss_at(12, 20)};
  const std::vector<int> frames = frames_to_cut(rows, kFrames, kRoom);
  EXPECT_TRUE(std::ranges::is_sorted(frames));
  for (const int frame : {9, 10, 11, 12, 13, 14, 15, 31, 32})
    EXPECT_TRUE(std::ranges::count(frames, frame)) << frame;
  EXPECT_TRUE(frames_to_cut({}, kFrames, kRoom).empty());
}

TEST(FramesToCut, LieWithinTheSequence) {
  const std::vector<TroubleRow> rows{loss_at(1, 3), loss_at(38, 2)};
  for (const int frame : frames_to_cut(rows, kFrames, kRoom)) {
    EXPECT_GE(frame, 0);
    EXPECT_LT(frame, kFrames);
  }
}

TEST(FramesToCut, StayWithinTheirRoom) {
  std::vector<TroubleRow> rows;
  for (int i = 0; i < 10; ++i) rows.push_back(loss_at(1000 * i + 100, 30));
  const std::size_t all = frames_to_cut(rows, 20000, kRoom).size();
  const std::size_t some = frames_to_cut(rows, 20000, 100'000).size();
  EXPECT_EQ(all, 120U);
  EXPECT_LT(some, all);
  EXPECT_GT(some, 0U);
  EXPECT_TRUE(frames_to_cut(rows, 20000, 0).empty());
}

TEST(Crops, ShowTheTargetInTheirMiddle) {
  Squares source;
  const std::vector<int> numbers{3, 20};
  const auto crops = cut_crops(source, numbers, truth_of_squares(), right_answers(), kRoom);
  ASSERT_EQ(crops.size(), 2U);
  EXPECT_EQ(crops[1].frame, 20);
  const Box target = Squares::place(20);
  EXPECT_NEAR(centre(crops[1].window).x, centre(target).x, 1);
  EXPECT_NEAR(centre(crops[1].window).y, centre(target).y, 1);
  const Image<Byte> rgb = parse_picture(crops[1].jpeg, "a crop");
  EXPECT_GT(rgb(rgb.rows() / 2, rgb.cols() / 2, 0), 200);
  EXPECT_LT(rgb(2, 2, 0), 60);
}

TEST(Crops, ShowTargetAndAnswerBoth) {
  Squares source;
  Trace trace = right_answers();
  trace.rows[20].box.box = {120, 70, 10, 10};
  const auto crops = cut_crops(source, std::vector<int>{20}, truth_of_squares(), trace, kRoom);
  ASSERT_EQ(crops.size(), 1U);
  const Box& window = crops[0].window;
  for (const Box& box : {Squares::place(20), trace.rows[20].box.box}) {
    EXPECT_GE(box.x, window.x);
    EXPECT_GE(box.y, window.y);
    EXPECT_LE(box.x + box.w, window.x + window.w);
    EXPECT_LE(box.y + box.h, window.y + window.h);
  }
  EXPECT_LE(window.y + window.h, 90);
}

TEST(Crops, StayWithinTheirRoom) {
  Squares source;
  const std::vector<int> numbers{1, 2, 3, 4, 5, 6};
  const auto crops = cut_crops(source, numbers, truth_of_squares(), right_answers(), 4000);
  std::size_t bytes = 0;
  for (const StudyCrop& crop : crops) bytes += crop.jpeg.size();
  EXPECT_LE(bytes, 4000U);
  EXPECT_GT(bytes, 0U);
  EXPECT_LT(crops.size(), numbers.size());
}

TEST(FramesToLookInto, AreOfTheFirstLossesAlone) {
  std::vector<TroubleRow> rows;
  for (int i = 0; i < 9; ++i) rows.push_back(loss_at(100 * i + 50, 30));
  rows[0].kind = Trouble::absence;
  const std::vector<int> frames = frames_to_look_into(rows);
  EXPECT_EQ(frames.front(), 149);
  EXPECT_EQ(frames, (std::vector<int>{149, 150, 152, 249, 250, 252, 349, 350, 352, 449, 450, 452}));
}

TEST(Stages, AreThoseOfTheRun) {
  const Catalogue catalogue = Catalogue::standard();
  Squares source;
  const auto tracker = catalogue.make("corr-plain", {});
  const std::vector<int> numbers{5, 6};
  const auto stages = stages_on(*tracker, source, {0, {Squares::place(0), 0}}, numbers, kRoom);
  ASSERT_FALSE(stages.empty());
  EXPECT_EQ(stages.front().frame, 5);
  EXPECT_EQ(stages.back().frame, 6);
  // The same as a tracker shows that is run by hand.
  Squares again;
  const auto twin = catalogue.make("corr-plain", {});
  twin->seed(*again.next(), Squares::place(0));
  for (int i = 1; i <= 5; ++i) static_cast<void>(twin->follow(*again.next()));
  const auto shown = twin->stages();
  ASSERT_FALSE(shown.empty());
  EXPECT_EQ(stages.front().name, shown[0].name);
  float low = shown[0].picture(0, 0);
  float high = low;
  for (int r = 0; r < shown[0].picture.rows; ++r)
    for (int c = 0; c < shown[0].picture.row_length(); ++c) {
      low = std::min(low, shown[0].picture.row(r)[c]);
      high = std::max(high, shown[0].picture.row(r)[c]);
    }
  EXPECT_EQ(stages.front().low, low);
  EXPECT_EQ(stages.front().high, high);
  EXPECT_GT(parse_picture(stages.front().jpeg, "a stage").rows(), 0);
}

TEST(Stages, AreNoneWithoutLosses) {
  Squares source;
  const auto tracker = Catalogue::standard().make("corr-plain", {});
  EXPECT_TRUE(stages_on(*tracker, source, {0, {Squares::place(0), 0}}, {}, kRoom).empty());
  const std::vector<int> numbers{3};
  EXPECT_TRUE(stages_on(*tracker, source, {0, {Squares::place(0), 0}}, numbers, 10).empty());  // no room
}

}  // namespace mnemon
