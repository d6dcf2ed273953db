// SPDX-License-Identifier: MIT
#include <mnemon/study/database.hpp>

#include <cmath>
#include <limits>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

class OneTable : public ::testing::Test {
 protected:
  void SetUp() override { database_.run("CREATE TABLE rows (a, b)"); }
  [[nodiscard]] std::int64_t count() {
    Statement statement = database_.prepare("SELECT count(*) FROM rows");
    statement.next();
    return statement.whole(0);
  }

  test::TempFolder folder_;
  Database database_{folder_ / "one.sqlite", Database::Mode::create};
};

}  // namespace

TEST_F(OneTable, GivesBackWhatWasPutIn) {
  Statement& insert = database_.prepare_once("INSERT INTO rows VALUES (?, ?)");
  insert.bind(7).bind(std::string("O'Hara; DROP TABLE rows")).run();
  insert.bind(0.1).bind_bytes(std::string_view("\0x", 2)).run();
  insert.bind(std::nan("")).bind(std::optional<double>()).run();
  Statement rows = database_.prepare("SELECT a, b FROM rows ORDER BY rowid");
  ASSERT_TRUE(rows.next());
  EXPECT_EQ(rows.whole(0), 7);
  EXPECT_EQ(rows.text(1), "O'Hara; DROP TABLE rows");
  ASSERT_TRUE(rows.next());
  EXPECT_EQ(rows.real(0), 0.1);
  EXPECT_EQ(rows.text(1), std::string("\0x", 2));
  ASSERT_TRUE(rows.next());
  EXPECT_TRUE(std::isnan(rows.real(0)));
  EXPECT_FALSE(rows.maybe_real(1).has_value());
  EXPECT_FALSE(rows.next());
}

TEST_F(OneTable, UndoesWhatIsNotCommitted) {
  {
    const Transaction dropped(database_);
    database_.run("INSERT INTO rows VALUES (1, 2)");
  }
  EXPECT_EQ(count(), 0);
  Transaction kept(database_);
  database_.run("INSERT INTO rows VALUES (1, 2)");
  kept.commit();
  EXPECT_EQ(count(), 1);
}

TEST_F(OneTable, NamesItsFileInErrors) {
  test::expect_parts(test::message_of<DataError>([&] { database_.run("SELECT nonsense FROM rows"); }),
                     {"one.sqlite", "nonsense"});
}

TEST(Database, RefusesWhatIsNone) {
  const test::TempFolder folder;
  const auto opened = [&](const char* name) {
    return test::message_of<DataError>([&] {
      Database database(folder / name, Database::Mode::read);
      Statement statement = database.prepare("SELECT count(*) FROM sqlite_master");
      (void)statement.next();
    });
  };
  test::expect_parts(opened("missing.sqlite"), {"missing.sqlite"});
  write_file(folder / "text.sqlite", std::string(5000, 'x'));
  test::expect_parts(opened("text.sqlite"), {"text.sqlite"});
}

}  // namespace mnemon
