// SPDX-License-Identifier: MIT
#include <mnemon/desk/desk.hpp>

#include <filesystem>
#include <string>

#include <nlohmann/json.hpp>
#include <stdlib.h>

#include <mnemon/media/picture_file.hpp>
#include <mnemon/track/catalogue.hpp>

#include "target.hpp"

namespace {

using namespace mnemon;

// Three small frames, in a folder that goes with the program.
struct Frames {
  Frames() {
    std::string name = (std::filesystem::temp_directory_path() / "mnemon-fuzz-XXXXXX").string();
    folder = ::mkdtemp(name.data());
    Image<Byte> picture(24, 32, 3);
    for (int i = 0; i < 3; ++i) {
      for (std::size_t k = 0; k < picture.elements().size(); ++k)
        picture.elements()[k] = static_cast<Byte>(k * 37 + k * k * 11 + static_cast<std::size_t>(i) * 5);
      write_png(folder / (std::to_string(i) + ".png"), picture.view());
    }
  }
  ~Frames() {
    std::error_code ignored;
    std::filesystem::remove_all(folder, ignored);
  }
  Frames(const Frames&) = delete;
  Frames& operator=(const Frames&) = delete;

  std::filesystem::path folder;
};

}  // namespace

// Whatever a message says to a desk with a marked target, it does it or says why not, and can be looked at afterwards.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const Frames frames;
  const Json message = Json::parse(fuzz::text_of(data, size), nullptr, false);
  if (!message.is_object()) return 0;
  // A desk of its own, which is gone before the program ends: its thread runs trackers.
  const Catalogue catalogue = Catalogue::standard();
  mnemon::Desk desk(catalogue, {frames.folder.string(), frames.folder / "kept", {"corr-plain", {}}});
  desk.act({{"do", "mark"}, {"frame", 0}, {"region", {{"box", {5, 5, 12, 10}}}}});
  try {
    fuzz::require(desk.act(message).is_object());
  } catch (const Error&) {
  }
  const Json state = desk.state();
  fuzz::require(state["input"]["frames"] == 3);
  fuzz::require(!state["lanes"].empty());
  return 0;
}
