// SPDX-License-Identifier: MIT
// The order of the house: rooms stand on those below, every header stands alone in what it says, and the
// library neither prints nor ends the program.
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <sstream>
#include <string>
#include <vector>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

namespace fs = std::filesystem;

const std::map<std::string, int> kFloors{
    {"base", 0},  {"geometry", 1}, {"image", 1}, {"signal", 1}, {"media", 2}, {"vision", 2}, {"sequence", 3},
    {"scene", 4}, {"track", 5},    {"score", 5}, {"run", 6},    {"study", 7}, {"report", 8}, {"desk", 9}};

// Rooms of one floor that may use each other, in this direction only.
const std::set<std::pair<std::string, std::string>> kSameFloor{
    {"image", "geometry"}, {"signal", "image"}, {"signal", "geometry"}};

const fs::path kHouse = fs::path(MNEMON_SOURCE_DIR) / "mnemon";

std::string contents(const fs::path& file) {
  std::ostringstream text;
  text << std::ifstream(file).rdbuf();
  return text.str();
}

std::vector<fs::path> sources(const fs::path& folder) {
  std::vector<fs::path> files;
  for (const auto& entry : fs::recursive_directory_iterator(folder))
    if (entry.path().extension() == ".hpp" || entry.path().extension() == ".cpp")
      files.push_back(entry.path());
  return files;
}

std::string room_of(const fs::path& file) { return fs::relative(file, kHouse).begin()->string(); }

std::set<std::string> rooms_included(const std::string& text) {
  static const std::regex kInclude("#include <mnemon/([a-z]+)/");
  std::set<std::string> rooms;
  for (std::sregex_iterator at(text.begin(), text.end(), kInclude), end; at != end; ++at)
    rooms.insert((*at)[1]);
  return rooms;
}

bool may_use(const std::string& room, const std::string& other) {
  return room == other || kFloors.at(other) < kFloors.at(room) || kSameFloor.contains({room, other});
}

}  // namespace

TEST(Floors, AreOnlyLookedAtFromAbove) {
  int checked = 0;
  for (const fs::path& file : sources(kHouse)) {
    const std::string room = room_of(file);
    ASSERT_TRUE(kFloors.contains(room)) << room << " has no floor";
    for (const std::string& other : rooms_included(contents(file))) {
      EXPECT_TRUE(may_use(room, other)) << file << " of floor " << kFloors.at(room) << " includes " << other;
      ++checked;
    }
  }
  EXPECT_GT(checked, 100);
}

namespace {

// Inside `track` every family is a room: it uses what they share, and knows no other family.
const std::map<std::string, int> kRoomsOfTrack{{"", 0},       {"hold", 1},  {"corr", 2},
                                               {"shift", 2},  {"blob", 2},  {"mask", 2},
                                               {"marked", 3}, {"joint", 3}, {"standard", 4}};

std::string inner_room_of(const std::string& file) {
  const auto slash = file.find('/');
  return slash == std::string::npos ? "" : file.substr(0, slash);
}

}  // namespace

TEST(Floors, OfTrackAreOnlyLookedAtFromAboveToo) {
  static const std::regex kInclude("#include <mnemon/track/([a-z_./]+)>");
  int checked = 0;
  for (const fs::path& file : sources(kHouse / "track")) {
    const std::string room = inner_room_of(fs::relative(file, kHouse / "track").string());
    ASSERT_TRUE(kRoomsOfTrack.contains(room)) << room << " has no floor";
    const std::string text = contents(file);
    for (std::sregex_iterator at(text.begin(), text.end(), kInclude), end; at != end; ++at) {
      const std::string other = inner_room_of((*at)[1]);
      EXPECT_TRUE(other == room || kRoomsOfTrack.at(other) < kRoomsOfTrack.at(room))
          << file << " includes something of " << other;
      ++checked;
    }
  }
  EXPECT_GT(checked, 50);
}

TEST(Floors, ScoresKnowNoTrackersAndTrackersNoScores) {
  for (const char* room : {"track", "score"})
    for (const fs::path& file : sources(kHouse / room))
      EXPECT_FALSE(rooms_included(contents(file)).contains(room == std::string("track") ? "score" : "track"))
          << file;
}

TEST(Sources, SayTheirLicenceFirst) {
  for (const char* part : {"mnemon", "apps", "examples", "tests", "bench"})
    for (const fs::path& file : sources(fs::path(MNEMON_SOURCE_DIR) / part))
      EXPECT_EQ(contents(file).rfind("// SPDX-License-Identifier: MIT\n", 0), 0U) << file;
}

TEST(Headers, AreIncludedByTheirSourceFirst) {
  for (const fs::path& file : sources(kHouse)) {
    const fs::path header = fs::path(file).replace_extension(".hpp");
    if (file.extension() != ".cpp" || !fs::exists(header)) continue;
    const std::string text = contents(file);
    const std::string own = "#include <mnemon/" + fs::relative(header, kHouse).string() + ">";
    EXPECT_EQ(text.find("#include"), text.find(own)) << file;
  }
}

// Two types of one name in one program are taken for the same by the linker, which says nothing.
TEST(Headers, GiveEachTypeANameOfItsOwn) {
  static const std::regex kType(R"(\n(?:struct|class|enum class) (\w+)(?: final)?(?: :[^;{]*)? \{)");
  std::map<std::string, fs::path> places;
  for (const fs::path& file : sources(kHouse)) {
    if (file.extension() != ".hpp") continue;
    const std::string text = contents(file);
    for (std::sregex_iterator at(text.begin(), text.end(), kType), end; at != end; ++at) {
      const auto [place, is_new] = places.try_emplace((*at)[1], file);
      EXPECT_TRUE(is_new) << (*at)[1] << " is in " << place->second << " and in " << file;
    }
  }
  EXPECT_GT(places.size(), 150U);
}

TEST(Transforms, AreKnownToOneFileAPackage) {
  for (const fs::path& file : sources(kHouse)) {
    const std::string text = contents(file);
    const bool is_one = file.filename() == "transform_plan.cpp";
    EXPECT_EQ(text.find("fftw3.h") != std::string::npos, is_one && file.parent_path().filename() == "fftw")
        << file;
    EXPECT_EQ(text.find("kiss_fft.h") != std::string::npos,
              is_one && file.parent_path().filename() == "kissfft")
        << file;
  }
}

TEST(Library, NeitherPrintsNorEndsTheProgram) {
  static const std::regex kForbidden(
      R"(std::(cout|cerr|clog|exit|abort|terminate|puts|printf)|[^:\w](printf|puts|exit|abort)\(|fmt::print)");
  for (const fs::path& file : sources(kHouse)) {
    const std::string text = contents(file);
    std::smatch found;
    EXPECT_FALSE(std::regex_search(text, found, kForbidden)) << file << ": " << found.str();
  }
}

TEST(Packages, EachHaveAReason) {
  std::ifstream list(fs::path(MNEMON_SOURCE_DIR) / "tools/packages.txt");
  int packages = 0;
  for (std::string line; std::getline(list, line);) {
    if (line.empty() || line[0] == '#') continue;
    static const std::regex kLine("[a-z0-9][a-z0-9+.-]+ +# .{10,}");
    EXPECT_TRUE(std::regex_match(line, kLine)) << line;
    ++packages;
  }
  EXPECT_GT(packages, 15);
}

}  // namespace mnemon
