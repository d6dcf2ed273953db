// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/sequence/frame_files.hpp>

namespace mnemon::test {

/// The fingerprint of a sequence with the files that are there now.
inline std::string fingerprint_of(const Sequence& sequence) {
  return fingerprint(sequence, FrameFiles(sequence));
}

}  // namespace mnemon::test
