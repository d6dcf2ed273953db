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

// A desk on three small frames, in a folder of its own that goes with the program.
struct Served {
  Served() {
    std::string name = (std::filesystem::temp_directory_path() / "mnemon-fuzz-XXXXXX").string();
    folder = ::mkdtemp(name.data());
    Image<Byte> picture(24, 32, 3);
    for (int i = 0; i < 3; ++i) {
      for (std::size_t k = 0; k < picture.elements().size(); ++k)
        picture.elements()[k] = static_cast<Byte>(k * 37 + k * k * 11 + static_cast<std::size_t>(i) * 5);
      write_png(folder / (std::to_string(i) + ".png"), picture.view());
    }
    desk = std::make_unique<Desk>(catalogue, DeskSetup{folder.string(), folder / "kept", {"corr-plain", {}}});
  }
  ~Served() {
    desk.reset();
    std::error_code ignored;
    std::filesystem::remove_all(folder, ignored);
  }
  Served(const Served&) = delete;
  Served& operator=(const Served&) = delete;

  std::filesystem::path folder;
  const Catalogue catalogue = Catalogue::standard();
  std::unique_ptr<Desk> desk;
};

}  // namespace

// Whatever a message says, the desk does it or says why not, and can be looked at afterwards.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static Served served;
  const Json message = Json::parse(fuzz::text_of(data, size), nullptr, false);
  if (message.is_discarded()) return 0;
  try {
    fuzz::require(served.desk->act(message).is_object());
  } catch (const Error&) {
  }
  const Json state = served.desk->state();
  fuzz::require(state["input"]["frames"] == 3);
  fuzz::require(!state["lanes"].empty());
  return 0;
}
