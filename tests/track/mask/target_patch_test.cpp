// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/target_patch.hpp>

#include <vector>

#include <gtest/gtest.h>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::frame_of;

}  // namespace

// What is shown later than what was mixed is mixed as well, and with other colours all of it anew.
TEST(TargetPatch, MixesWhateverPartIsShown) {
  const Image<Byte> picture = test::picture_of({{{{100, 84}, 40, 25, 0}}}, 4);
  TargetPatch patch;
  ColourModel colours;
  patch.look(frame_of(picture, 0), {100, 84}, 100, 80, 2, colours);
  const auto check = [&] {
    patch.mix();
    for (int r = 0; r < patch.rows(); ++r)
      for (int c = 0; c < patch.cols(); ++c) {
        const Byte* const rgb = &patch.cells()(r, c);
        const Opponents here = opponents_of(rgb[0], rgb[1], rgb[2]);
        const float channels[] = {here.light, here.red, here.yellow,
                                  kLikelihoodUnit * colours.table()[patch.colour(r, c)]};
        for (int k = 0; k < kPatchChannels; ++k) {
          ASSERT_FLOAT_EQ(patch.plane(k)(r, c), channels[k]) << k << ": " << r << " " << c;
          ASSERT_EQ(patch.mixed()(r, c, k), patch.plane(k)(r, c)) << k << ": " << r << " " << c;
        }
      }
  };
  patch.narrow({70, 60, 30, 24});
  check();
  patch.narrow({76, 66, 20, 18});
  check();
  patch.narrow({72, 48, 40, 50});
  check();
  const std::vector<Byte> labels(patch.cols(), 1);
  colours.count(&patch.cells()(3, 0), labels.data(), patch.cols());
  colours.learn(1);
  patch.weigh(colours);
  check();
  patch.widen();
  check();
}

}  // namespace mnemon
