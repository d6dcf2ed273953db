// SPDX-License-Identifier: MIT
#include <mnemon/sequence/marks.hpp>

#include "target.hpp"

// Marks that can be read are written and read back equal.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  try {
    const std::string text = marks_text(parse_marks(fuzz::text_of(data, size), "marks.csv"));
    fuzz::require(marks_text(parse_marks(text, "again.csv")) == text);
  } catch (const Error&) {
  }
  return 0;
}
