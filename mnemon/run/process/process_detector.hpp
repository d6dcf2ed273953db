// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <optional>
#include <vector>

#include <mnemon/run/process/process_tracker.hpp>

namespace mnemon {

/// Where a detector sees the target in a whole picture.
struct FoundPlace {
  OrientedBox box;   ///< Where it found the target, px.
  double score = 0;  ///< How sure that is, in [0, 1].
};

/// A detector in another process: it finds the target without knowing where it was. It is spoken to like a tracker, by the
/// method `find`.
class ProcessDetector {
 public:
  /// Starts no process yet.
  explicit ProcessDetector(ProcessSpec spec);
  ~ProcessDetector();
  ProcessDetector(const ProcessDetector&) = delete;
  ProcessDetector& operator=(const ProcessDetector&) = delete;

  /// The places it sees in a frame, the surest first.
  /// \throws Error  as a tracker in another process does.
  [[nodiscard]] std::vector<FoundPlace> find(const Frame& frame);

 private:
  ProcessSpec spec_;
  std::unique_ptr<ProcessLink> link_;
};

/// The places of an answer to `find`, the surest first.
/// \throws Error  where it is none.
[[nodiscard]] std::vector<FoundPlace> places_of_result(const Json& result);

}  // namespace mnemon
