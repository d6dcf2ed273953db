// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol.hpp>

#include <set>
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"

namespace mnemon {
TEST(Protocols, AreNamedAndDescribed) {
  std::set<std::string> names;
  for (const ProtocolEntry& entry : protocol_entries()) {
    EXPECT_TRUE(names.insert(entry.name).second) << "two are named " << entry.name;
    EXPECT_FALSE(entry.summary.empty());
    EXPECT_EQ(make_protocol(entry.name).params.size(), entry.schema.fields.size());
  }
  EXPECT_EQ(protocol_names().front(), "single") << "the one that plans have by default";
  test::expect_parts(test::message_of<CallError>([] { (void)make_protocol("nudge"); }),
                     {"did you mean 'nudges'"});
  test::expect_parts(test::message_of<CallError>([] {
                       (void)make_protocol("starts", {{"count", 0}});
                     }),
                     {"count = 0 for 'starts'", "1 to 1000"});
}

TEST(Protocols, AreTimedWhereTheyMeasureTime) {
  EXPECT_TRUE(make_protocol("single").is_timed());
  EXPECT_FALSE(make_protocol("single", {{"timed", false}}).is_timed());
  EXPECT_TRUE(make_protocol("live").is_timed());
  for (const char* name : {"starts", "nudges", "restart"})
    EXPECT_FALSE(make_protocol(name).is_timed()) << name;
}

TEST(Protocols, ScoreRestartByItsOwnRule) {
  const Protocol protocol = make_protocol("restart", {{"loss_patience", 3}, {"restart_settle", 2}});
  EXPECT_EQ(protocol.score_options().help, Help::restart);
  EXPECT_EQ(protocol.score_options().rule.loss_patience, 3);
  EXPECT_EQ(protocol.score_options().rule.settle, 2);
  EXPECT_EQ(make_protocol("starts").score_options().help, Help::unaided);
}

}  // namespace mnemon
