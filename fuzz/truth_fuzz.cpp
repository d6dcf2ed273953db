// SPDX-License-Identifier: MIT
#include <mnemon/sequence/truth.hpp>

#include "target.hpp"

// Truth that can be read is written and read back equal.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  try {
    const std::string text = truth_text(parse_truth(fuzz::text_of(data, size), "truth.csv"));
    fuzz::require(truth_text(parse_truth(text, "again.csv")) == text);
  } catch (const Error&) {
  }
  return 0;
}
