// SPDX-License-Identifier: MIT
#include <mnemon/study/build_facts.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(BuildFacts, AreTheSameWheneverTheyAreAsked) {
  const BuildFacts facts = build_facts();
  EXPECT_EQ(facts, build_facts());
  EXPECT_EQ(facts.version, MNEMON_VERSION);
  EXPECT_GE(facts.cores, 1);
  for (const std::string& told : {facts.code, facts.compiler, facts.processor, facts.arithmetic})
    EXPECT_FALSE(told.empty());
}

// Of a program's own trackers the program's file counts as well, and nothing is known of their arithmetic.
TEST(BuildFacts, OfAProgramsOwnNameItsFilesAndItsProcessor) {
  const BuildFacts facts = build_facts();
  const BuildFacts own = build_facts_of_own();
  EXPECT_TRUE(own.code.starts_with(facts.code + "+")) << own.code;
  EXPECT_TRUE(own.arithmetic.starts_with(facts.arithmetic + " on ")) << own.arithmetic;
  EXPECT_EQ(own.processor, facts.processor);
}

}  // namespace mnemon
