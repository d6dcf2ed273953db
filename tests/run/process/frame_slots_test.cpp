// SPDX-License-Identifier: MIT
#include <mnemon/run/process/frame_slots.hpp>

#include <string>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/run/process/process_tracker.hpp>

#include "support/drawn_target.hpp"
#include "support/messages.hpp"

namespace mnemon {
TEST(FrameSlots, LeaveNoNameBehind) {
  std::string name;
  {
    FrameSlots slots({64, 48});
    name = "/dev/shm" + slots.name();
    EXPECT_TRUE(std::filesystem::exists(name));
    FrameSlots joined(slots.name(), {64, 48}, slots.slot_bytes(), FrameSlots::kSlots);
    Image<Byte> picture(48, 64, 3);
    picture(7, 9, 1) = 200;
    const int slot = slots.put(std::as_const(picture).view());
    EXPECT_EQ(joined.picture(slot)(7, 9, 1), 200);
    EXPECT_NE(slots.put(std::as_const(picture).view()), slot);
    test::expect_parts(test::message_of<Error>([&] {
                         (void)FrameSlots(slots.name(), {640, 480}, 921600, 3);
                       }),
                       {"smaller than its slots"});
    test::expect_parts(test::message_of<Error>([&] {
                         (void)FrameSlots(slots.name(), {640, 480}, 100, 3);
                       }),
                       {"hold no frames"});
  }
  EXPECT_FALSE(std::filesystem::exists(name));
  test::expect_parts(test::message_of<Error>([&] {
                       (void)FrameSlots("/mnemon-none", {64, 48}, 9216, 3);
                     }),
                     {"/mnemon-none"});
}

}  // namespace mnemon
