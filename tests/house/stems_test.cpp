// SPDX-License-Identifier: MIT
// A listing shows what has no test: a source's test has its name, in the folder of the same name.
#include <filesystem>
#include <string>

#include <gtest/gtest.h>

namespace mnemon {

TEST(Stems, NineInTenSourcesHaveATestOfTheirName) {
  namespace fs = std::filesystem;
  const fs::path top = MNEMON_SOURCE_DIR;
  int sources = 0;
  int tested = 0;
  std::string without;
  for (const char* room : {"track", "run", "study", "score"})
    for (const auto& entry : fs::recursive_directory_iterator(top / "mnemon" / room)) {
      if (entry.path().extension() != ".cpp") continue;
      ++sources;
      const fs::path source = fs::relative(entry.path(), top / "mnemon");
      const fs::path test = source.parent_path() / (source.stem().string() + "_test.cpp");
      if (fs::exists(top / "tests" / test))
        ++tested;
      else
        without += " " + source.string();
    }
  EXPECT_GT(sources, 100);
  EXPECT_GE(10 * tested, 9 * sources) << "without:" << without;
}

}  // namespace mnemon
