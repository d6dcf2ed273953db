// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <string>
#include <vector>

#include <mnemon/geometry/box.hpp>

namespace mnemon::app {

/// Where the target is, and on which frame.
struct Marked {
  Box box;
  std::optional<int> frame;  ///< Left out: the first there is.
};

/// Reads `X,Y,W,H` or `FRAME:X,Y,W,H`.
/// \param what  What messages call it, such as `--box`.
/// \throws CallError  where it is neither.
[[nodiscard]] Marked parse_marked(const std::string& text, const std::string& what);

/// Reads a place as `X,Y`.
/// \param what  As above.
/// \throws CallError  where it is none.
[[nodiscard]] Point parse_point(const std::string& text, const std::string& what);

/// Regions that somebody writes on standard input while frames come, a line each.
class RegionLines {
 public:
  /// The region for a frame, where one has been written: the first of those without a frame, for this one, or for one
  /// that has passed.
  /// \param wait  Whether to wait until there is a line.
  /// \throws CallError  where a line is no region, or the lines end without one.
  [[nodiscard]] std::optional<Marked> for_frame(int frame, bool wait);

  /// The lines that have come and were not taken; each is told once. Does not wait.
  [[nodiscard]] std::vector<std::string> left_over();

 private:
  bool read(bool wait);
  void take_lines();

  std::string text_;
  bool ended_ = false;
  std::vector<std::string> lines_;
};

}  // namespace mnemon::app
