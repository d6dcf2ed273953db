// SPDX-License-Identifier: MIT
#include <mnemon/run/region_json.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/random.hpp>

#include "support/messages.hpp"

namespace mnemon {

TEST(RegionJson, ReadsBackWhatItWrites) {
  Image<Byte> room(40, 60);
  const auto read = [&room](const Region& region) {
    return parse_region(Json::parse(json_text(region_json(region))), room.view());
  };
  const Box box{0.1, 2.0 / 3, 5, 1e-3};
  EXPECT_EQ(std::get<Box>(read(box)), box);
  const OrientedBox turned{box, -30.25};
  EXPECT_EQ(std::get<OrientedBox>(read(turned)), turned);
  const Polygon outline{{1, 2}, {3.5, 4}, {5, 6}, {7, 8}};
  EXPECT_EQ(std::get<Polygon>(read(outline)), outline);
  Image<Byte> mask(40, 60);
  Random random(3);
  for (Byte& pixel : mask.elements()) pixel = random.uniform(0, 1) < 0.3 ? 1 : 0;
  const auto seen = std::get<ImageView<const Byte>>(read(std::as_const(mask).view()));
  EXPECT_TRUE(std::ranges::equal(seen.elements(), mask.elements()));
}

TEST(RegionJson, RefusesWhatIsNone) {
  Image<Byte> room(4, 6);
  for (const char* text : {"[]", "{}", "{\"box\":[1,2,3]}", "{\"box\":[1,2,3,\"4\"]}", "{\"oval\":[1,2,3,4]}",
                           "{\"box\":[1,2,3,4],\"angle\":3}", "{\"polygon\":[1,2]}", "{\"polygon\":7}",
                           "{\"mask\":\"!!!!\"}", "{\"mask\":\"\"}", "{\"mask\":[1]}"})
    test::expect_parts(
        test::message_of<DataError>([&] { (void)parse_region(Json::parse(text), room.view()); }),
        {"region", "one key of box, oriented, polygon, mask or points"});
}

TEST(Base64, ReadsBackWhatItWrites) {
  Random random(5);
  for (std::size_t length = 0; length < 50; ++length) {
    std::string bytes;
    for (std::size_t i = 0; i < length; ++i) bytes += static_cast<char>(random.uniform(0, 256));
    EXPECT_EQ(bytes_of_base64(base64(bytes)), bytes);
  }
  EXPECT_EQ(bytes_of_base64("a25pZmU="), "knife");
  for (const char* wrong : {"a", "ab=c", "a===", "ab c", "a25p Zg="})
    EXPECT_FALSE(bytes_of_base64(wrong)) << wrong;
}

}  // namespace mnemon
