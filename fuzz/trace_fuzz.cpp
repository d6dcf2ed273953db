// SPDX-License-Identifier: MIT
#include <mnemon/sequence/trace.hpp>

#include "target.hpp"

// A trace that can be read is written and read back equal, but for boxes that are not finite, which are left empty.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  try {
    const std::string text = trace_text(parse_trace(fuzz::text_of(data, size), "trace.csv"));
    fuzz::require(trace_text(parse_trace(text, "again.csv")) == text);
  } catch (const Error&) {
  }
  return 0;
}
