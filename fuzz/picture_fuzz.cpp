// SPDX-License-Identifier: MIT
#include <mnemon/media/picture_file.hpp>

#include <algorithm>
#include <utility>

#include "target.hpp"

// A picture that can be read survives being written as PNG and read again to the last bit.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  try {
    const Image<Byte> picture = parse_picture(fuzz::text_of(data, size), "picture");
    fuzz::require(picture.channels() == 3 && !picture.empty());
    if (picture.elements().size() > 300'000) return 0;
    const Image<Byte> again = parse_picture(png_bytes(picture.view()), "again");
    fuzz::require(std::ranges::equal(picture.elements(), again.elements()));
  } catch (const Error&) {
  }
  return 0;
}
