// SPDX-License-Identifier: MIT
#include <mnemon/run/process/process_tracker.hpp>

#include <algorithm>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/track/catalogue.hpp>

#include "run/process/odd.hpp"
#include "support/drawn_target.hpp"
#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

using test::kOddCols;
using test::kOddRows;
using test::odd;
using test::picture_of;

const Box kMarkedBox{40, 30, 36, 26};

ProcessSpec served(const std::string& name) {
  ProcessSpec spec = odd("serve");
  spec.command.push_back(name);
  return spec;
}

// What the first step of a process that does not do as it should comes to.
std::string message_of_step(const std::string& way, double limit_ms = 3000) {
  ProcessSpec spec = odd(way);
  spec.step_limit_ms = limit_ms;
  ProcessTracker tracker(spec);
  const Image<Byte> picture = picture_of(0);
  (void)tracker.seed(test::frame_of(picture, 0), kMarkedBox);
  const std::string message =
      test::message_of<Error>([&] { (void)tracker.follow(test::frame_of(picture, 1)); });
  // Its process is gone, and nothing answers in its place.
  test::expect_parts(test::message_of<Error>([&] { (void)tracker.follow(test::frame_of(picture, 2)); }),
                     {"process has ended"});
  return message;
}

}  // namespace

// The library speaks to itself: to the last bit it is as if there were no process.
TEST(ProcessTracker, AnswersAsItsTrackerDoes) {
  for (const std::string name : {"corr-kernel", "shift-adaptive", "mask-plain", "stay"}) {
    ProcessSpec spec = served(name);
    spec.use = std::make_shared<ProcessUse>();
    ProcessTracker process(spec);
    const auto tracker = Catalogue::standard().make(name, {});
    for (int i = 0; i < 12; ++i) {
      const Image<Byte> picture = picture_of(i);
      const Frame frame = test::frame_of(picture, i);
      const Estimate there = i == 0 ? process.seed(frame, kMarkedBox) : process.follow(frame);
      const Estimate here = i == 0 ? tracker->seed(frame, kMarkedBox) : tracker->follow(frame);
      EXPECT_EQ(there.box, here.box) << name << i;
      EXPECT_EQ(there.confidence, here.confidence);
      EXPECT_EQ(there.present, here.present);
      EXPECT_EQ(there.minor_px, here.minor_px);
      ASSERT_EQ(there.mask.empty(), here.mask.empty());
      if (!here.mask.empty()) {
        EXPECT_TRUE(std::ranges::equal(there.mask.elements(), here.mask.elements()));
      }
    }
    const auto there = process.stages();
    const auto here = tracker->stages();
    ASSERT_EQ(there.size(), here.size());
    for (std::size_t i = 0; i < here.size(); ++i) {
      EXPECT_EQ(there[i].name, here[i].name);
      EXPECT_TRUE(std::ranges::equal(there[i].picture.elements(), copy_of(here[i].picture).elements()));
    }
    EXPECT_EQ(spec.use->told_steps, 11);
    EXPECT_EQ(process.clone(), nullptr);
  }
}

TEST(ProcessTracker, IsSeededByEveryFormOfRegion) {
  const Image<Byte> picture = picture_of(0);
  Image<Byte> mask(kOddRows, kOddCols);
  for (int r = 30; r < 56; ++r)
    for (int c = 40; c < 76; ++c) mask(r, c) = 1;
  for (const Region& region :
       std::vector<Region>{kMarkedBox, OrientedBox{kMarkedBox, 20}, Polygon{{40, 30}, {76, 30}, {58, 56}},
                           std::as_const(mask).view()}) {
    ProcessTracker process(served("shift-fixed"));
    const auto tracker = Catalogue::standard().make("shift-fixed", {});
    EXPECT_EQ(process.seed(test::frame_of(picture, 0), region).box,
              tracker->seed(test::frame_of(picture, 0), region).box);
  }
}

TEST(ProcessTracker, HandsOverItsSettings) {
  const Image<Byte> picture = picture_of(0);
  ProcessSpec spec = served("corr-plain");
  spec.set = {{"padding", 3.0}, {"window_samples", 32}};
  ProcessTracker tracker(spec);
  (void)tracker.seed(test::frame_of(picture, 0), kMarkedBox);
  spec.set = {{"padding", 99.0}};
  ProcessTracker wrong(spec);
  test::expect_parts(
      test::message_of<Error>([&] { (void)wrong.seed(test::frame_of(picture, 0), kMarkedBox); }),
      {"begin", "padding", "99"});
}

TEST(ProcessTracker, SaysWhatAProcessDidWrong) {
  test::expect_parts(message_of_step("hangs", 200), {"follow", "did not answer in time"});
  test::expect_parts(message_of_step("crashes"), {"ended by signal 11"});
  test::expect_parts(message_of_step("ends"), {"ended with status 3"});
  test::expect_parts(message_of_step("closes"), {"closed its standard output"});
  test::expect_parts(message_of_step("garbage"), {"frame done", "log belongs on standard error"});
  test::expect_parts(message_of_step("not finite"), {"NaN"});
  test::expect_parts(message_of_step("too large"), {"1e999"});
  test::expect_parts(message_of_step("no box"), {"'box'", "four numbers"});
  test::expect_parts(message_of_step("three numbers"), {"'box'", "four numbers"});
  test::expect_parts(message_of_step("a text"), {"'result'", "an object"});
  test::expect_parts(message_of_step("confident"), {"'confidence'", "0 to 1"});
  test::expect_parts(message_of_step("wrong id"), {"another id"});
  test::expect_parts(message_of_step("wrong mask"), {"'mask'", "frame's size"});
  test::expect_parts(message_of_step("refuses"), {"the model is tired"});
}

TEST(ProcessTracker, StandsFloods) {
  test::expect_parts(message_of_step("deep"), {"a line of JSON each"});
  test::expect_parts(message_of_step("many"), {"another id"});
  test::expect_parts(message_of_step("endless line", 60'000), {"a line of more than"});
}

TEST(ProcessTracker, IsNotHeldUpByALongLog) {
  ProcessTracker tracker(odd("logs"));
  const Image<Byte> picture = picture_of(0);
  (void)tracker.seed(test::frame_of(picture, 0), kMarkedBox);
  EXPECT_EQ(tracker.follow(test::frame_of(picture, 1)).box.box, (Box{1, 2, 3, 4}));
}

// Of several processes of one run the largest counts; frames that are none are refused before one is started.
TEST(ProcessTracker, TellsTheMostMemoryOfAllItsProcesses) {
  ProcessSpec spec = odd("logs");  // which may not be seeded again
  spec.use = std::make_shared<ProcessUse>();
  spec.use->peak_bytes = 1e12;
  {
    ProcessTracker tracker(spec);
    const Image<Byte> picture = picture_of(0);
    for (int again = 0; again < 2; ++again) (void)tracker.seed(test::frame_of(picture, 0), kMarkedBox);
    EXPECT_THROW(tracker.prepare({}), CallError);
  }
  EXPECT_EQ(spec.use->peak_bytes, 1e12);
}

TEST(ProcessTracker, EndsAProcessThatIsSlowToBegin) {
  ProcessSpec spec = odd("slow to begin");
  spec.start_limit_s = 0.2;
  ProcessTracker tracker(spec);
  const Image<Byte> picture = picture_of(0);
  test::expect_parts(test::message_of<Error>([&] { tracker.prepare(test::frame_of(picture, 0)); }),
                     {"begin", "did not answer in time"});
}

TEST(ProcessTracker, SendsPixelsInTheCallWhereThatIsAskedFor) {
  ProcessTracker tracker(odd("inline"));
  const Image<Byte> picture = picture_of(0);
  (void)tracker.seed(test::frame_of(picture, 0), kMarkedBox);
  EXPECT_EQ(tracker.follow(test::frame_of(picture, 1)).box.box.w, (3 * kOddRows * kOddCols + 2) / 3 * 4);
  const ProcessFacts facts = facts_of_process(odd("inline"), {64, 48});
  EXPECT_EQ(facts.version, "7");
  EXPECT_EQ(facts.trained_on, std::vector<std::string>{"kites"});
  EXPECT_FALSE(facts.keeps);
}

// A view whose rows have gaps is sent without them.
TEST(ProcessTracker, SendsPartsOfPictures) {
  const Image<Byte> picture = picture_of(0);
  const ImageView<const Byte> part{picture.view().row(8) + 3 * 10, kOddRows - 20, kOddCols - 30, 3,
                                   picture.view().stride};
  const Image<Byte> alone = copy_of(part);
  ProcessTracker process(served("shift-fixed"));
  const auto tracker = Catalogue::standard().make("shift-fixed", {});
  const Box box{30, 22, 36, 26};
  EXPECT_EQ(process.seed({part, 0, 0}, box).box, tracker->seed({alone.view(), 0, 0}, box).box);
  EXPECT_EQ(process.follow({part, 1, 0}).box, tracker->follow({alone.view(), 1, 0}).box);
}

TEST(ProcessTracker, ServesSeveralRunsWhereItMay) {
  const Image<Byte> picture = picture_of(0);
  ProcessSpec spec = served("corr-plain");
  spec.home = std::make_shared<ProcessHome>();
  spec.use = std::make_shared<ProcessUse>();
  for (int run = 0; run < 3; ++run) {
    ProcessTracker tracker(spec);
    for (int again = 0; again < 2; ++again) {
      (void)tracker.seed(test::frame_of(picture, 0), kMarkedBox);
      EXPECT_TRUE(tracker.follow(test::frame_of(picture, 1)).present);
    }
  }
  EXPECT_GT(spec.use->peak_bytes.value_or(0), 1e5);
  // One that may not is started anew for every seed.
  ProcessTracker tracker(odd("logs"));
  for (int again = 0; again < 2; ++again) {
    (void)tracker.seed(test::frame_of(picture, 0), kMarkedBox);
    (void)tracker.follow(test::frame_of(picture, 1));
  }
}

TEST(Command, IsKnownByItsWordsAndTheFilesThatTheyName) {
  const test::TempFolder folder;
  write_file(folder / "mine.py", "one");
  const std::vector<std::string> command{"python3", "mine.py", "--fast"};
  const std::string before = fingerprint_of_command(command, folder.path());
  EXPECT_EQ(fingerprint_of_command(command, folder.path()), before);
  EXPECT_NE(fingerprint_of_command({"python3", "mine.py"}, folder.path()), before);
  write_file(folder / "mine.py", "two");
  EXPECT_NE(fingerprint_of_command(command, folder.path()), before);
}

}  // namespace mnemon
