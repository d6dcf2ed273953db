// SPDX-License-Identifier: MIT
#include <mnemon/run/process/process_detector.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/track/catalogue.hpp>

#include "run/process/odd.hpp"
#include "support/drawn_target.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

using test::odd;
using test::picture_of;

}  // namespace

// The surest place comes first; what is no list of places is told.
TEST(ProcessDetector, FindsPlacesInAWholePicture) {
  ProcessDetector detector(odd("finds"));
  const Image<Byte> picture = picture_of(0);
  for (int i = 0; i < 2; ++i) {
    const auto places = detector.find(test::frame_of(picture, i));
    ASSERT_EQ(places.size(), 2U);
    EXPECT_EQ(places[0].box, (OrientedBox{{9, 9, 3, 4}, 20}));
    EXPECT_EQ(places[0].score, 0.9);
    EXPECT_EQ(places[1].score, 0.4);
  }
  const auto message = [&](const char* text) {
    return test::message_of<Error>([&] { (void)places_of_result(Json::parse(text)); });
  };
  test::expect_parts(message("[]"), {"'places'"});
  test::expect_parts(message("{\"places\":7}"), {"'places'"});
  test::expect_parts(message("{\"places\":[{\"score\":1}]}"), {"'box'"});
  test::expect_parts(message("{\"places\":[{\"box\":[1,2,0,4]}]}"), {"'box'", "an area"});
  test::expect_parts(message("{\"places\":[{\"box\":[1,2,3,4],\"score\":3}]}"), {"'score'", "0 to 1"});
  EXPECT_TRUE(places_of_result(Json::parse("{\"places\":[]}")).empty());
}

}  // namespace mnemon
