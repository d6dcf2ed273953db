// SPDX-License-Identifier: MIT
#include <mnemon/signal/transform_plan.hpp>

#include <gtest/gtest.h>

namespace mnemon {

// It names the package, so that what was made with another is never taken for the same.
TEST(TransformPlan, SaysWhatItsLastBitsDependOn) {
  const std::string says = transform_arithmetic();
  EXPECT_TRUE(says.starts_with("fftw-") || says == "kissfft") << says;
  EXPECT_EQ(transform_arithmetic(), says);
}

}  // namespace mnemon
