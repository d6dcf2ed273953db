// SPDX-License-Identifier: MIT
#include <mnemon/sequence/others.hpp>

#include "target.hpp"

// Others that can be read are written and read back equal.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  try {
    const std::string text = others_text(parse_others(fuzz::text_of(data, size), "others.csv"));
    fuzz::require(others_text(parse_others(text, "again.csv")) == text);
  } catch (const Error&) {
  }
  return 0;
}
