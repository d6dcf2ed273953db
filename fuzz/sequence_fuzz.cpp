// SPDX-License-Identifier: MIT
#include <mnemon/sequence/sequence.hpp>

#include "target.hpp"

// A description that can be read, and whose text can be written, is read back equal in what it says.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  static const fuzz::Desk desk;
  try {
    Sequence sequence = read_sequence(desk.put("sequence.toml", data, size));
    sequence.truth_file.clear();
    write_sequence(sequence, desk.folder());
    const Sequence again = read_sequence(desk.folder());
    fuzz::require(again.title == sequence.title && again.frames == sequence.frames);
    fuzz::require(again.tags == sequence.tags && again.spans == sequence.spans);
  } catch (const Error&) {
  }
  return 0;
}
