// SPDX-License-Identifier: MIT
#pragma once
#include <deque>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/track/region.hpp>

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

/// The options of a call that mark the target, as they were written. Each may begin with `FRAME:`.
struct MarkTexts {
  std::vector<std::string> box;
  std::vector<std::string> oriented;
  std::vector<std::string> polygon;
  std::vector<std::string> mask;
  std::vector<std::string> include;
  std::vector<std::string> exclude;
};

/// Reads areas `X,Y,X,Y,X,Y,...`, of three corners and more.
/// \param what  What messages call them, such as `--keep-out`.
/// \throws CallError  where one is none.
[[nodiscard]] std::vector<Polygon> parse_areas(const std::vector<std::string>& texts,
                                               const std::string& what);

/// A mark that names its frame, as it was written.
struct NamedMark {
  int frame = 0;
  std::string text;
};

/// Where a person has the target: on the first frame, and on later ones that correct the tracker.
class Marks {
 public:
  /// \throws CallError  where a text is no region, or a frame is marked twice; DataError  where a mask cannot be read.
  explicit Marks(const MarkTexts& texts);

  [[nodiscard]] bool empty() const noexcept { return !first_ && later_.empty(); }

  /// The earliest mark, if it names its frame.
  [[nodiscard]] std::optional<NamedMark> named_first() const;

  /// \throws CallError  where a mark is not for a frame after the first, on which one without a frame is.
  void check_after(int first) const;

  /// The mark for a frame: the latest of those for it and the frames before it that was not asked for yet.
  [[nodiscard]] std::optional<Region> for_frame(int frame);

  /// The frames of marks that no frame was asked for.
  [[nodiscard]] std::vector<int> left_over() const;

 private:
  void put(const std::optional<int>& frame, Region region, const std::string& what);
  void put_points(const MarkTexts& texts);

  std::optional<Region> first_;  // on the first frame there is
  std::map<int, Region> later_;  // by frame
  std::optional<NamedMark> earliest_;
  std::deque<Image<Byte>> masks_;  // what regions are views of
};

/// Regions that somebody writes on standard input while frames come, a line each.
class RegionLines {
 public:
  /// The region for a frame, where one has been written: the first of those without a frame, for this one, or for one
  /// that has passed.
  /// \param wait  Whether to wait until there is a line.
  /// \throws CallError  where a line is no region.
  [[nodiscard]] std::optional<Marked> for_frame(int frame, bool wait);

  /// Whether the lines have ended, and all were taken.
  [[nodiscard]] bool has_ended() const noexcept { return ended_ && lines_.empty(); }

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
