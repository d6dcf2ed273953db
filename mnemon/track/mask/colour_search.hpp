// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/vision/colour_model.hpp>
#include <mnemon/vision/light_change.hpp>
#include <mnemon/vision/picture_search.hpp>

namespace mnemon {

/// Looks for a target's colours in the whole picture, in whatever light it is in now: for the target itself while it is
/// lost, and for what is like it while it is held. Allocates nothing once made.
class ColourSearch {
 public:
  ColourSearch() = default;
  /// \param size  Of the frames.
  explicit ColourSearch(FrameSize size) : search_(size), table_(kColours) {}

  /// Looks through the picture afresh for what is lost.
  void start() noexcept { search_.start(); }
  /// Does not come to that place again soon.
  void leave_out(Point place) noexcept { search_.leave_out(place); }

  /// Where something of the colours and of that size is most likely, px.
  /// \param frame    That is looked through.
  /// \param light    Since the colours were learnt.
  /// \param colours  Of the target.
  /// \param box      Whose size it has.
  [[nodiscard]] Point find(const Frame& frame, const LightChange& light, const ColourModel& colours,
                           const Box& box) noexcept {
    light.bring_in(colours.table(), table_.data());
    return search_.find(frame.rgb, table_.data(), box.w, box.h).middle;
  }

  /// The same, but for what lies where the box is.
  [[nodiscard]] Point find_beside(const Frame& frame, const LightChange& light, const ColourModel& colours,
                                  const Box& box) noexcept {
    light.bring_in(colours.table(), table_.data());
    return search_.find_beside(frame.rgb, table_.data(), centre(box), box.w, box.h);
  }

 private:
  PictureSearch search_;
  std::vector<float> table_;
};

}  // namespace mnemon
