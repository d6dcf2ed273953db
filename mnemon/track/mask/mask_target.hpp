// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <optional>
#include <span>
#include <vector>

#include <mnemon/track/hold/hold_loop.hpp>
#include <mnemon/track/marked_margins.hpp>
#include <mnemon/track/mask/agreement.hpp>
#include <mnemon/track/mask/colour_search.hpp>
#include <mnemon/track/mask/mask_rules.hpp>
#include <mnemon/track/mask/pose_fit.hpp>
#include <mnemon/track/mask/usual_mask.hpp>
#include <mnemon/track/mask/visible_cells.hpp>
#include <mnemon/track/tracker.hpp>
#include <mnemon/vision/frame_mask.hpp>

namespace mnemon {

/// A target as found in a frame. Its box is as large against that of the mask and what is hidden as the seeded box was.
struct MaskSighting : Sighting {
  TargetPose pose;        ///< Of the target's cells in the frame.
  OrientedBox turned;     ///< A turned box that fits the mask, or `box` where that is not asked for.
  double likeness = 0;    ///< To what it looked like, in [0, 1].
  double contrast = 0;    ///< Of its colours to those around it.
  double area = 0;        ///< px².
  double visible = 1;     ///< Share of the target that nothing is before.
  double minor_px = 0;    ///< The shorter axis of its ellipse.
  bool is_known = false;  ///< By its pose, which is all that is told of it then.

  /// Gives it the size and turn of another, where it is.
  void take_size(const MaskSighting& other) noexcept {
    pose = other.pose.moved_to(pose.middle);
    box = box_around(centre(box), other.box.w, other.box.h);
  }
};

/// A target known by what it looks like, its shape and its colours: where it is, which cells are its own, how sure that
/// is, and what of it is learnt. Allocates nothing after `start`.
class MaskTarget {
 public:
  /// Learns the target that the region marks. Of a box only part is the target: which, is cut out of it.
  MaskSighting start(const Frame& frame, const Region& region, const Box& box, const MaskRules& rules);

  /// Goes on by other rules.
  void retune(const MaskRules& rules) {
    rules_ = rules;
    cutter_.retune(rules);
  }

  /// Knows no more of the seed from now on than the latest appearance does, which is not pulled back to it any more.
  void forget_seed() noexcept { seed_appearance_.reset(); }

  /// Takes a frame to look at, once each. Afterwards it is looked at in the light of the seed's.
  void take(const Frame& frame) noexcept { light_.follow(frame.rgb); }

  /// Finds the target near a forecast, and how sure that is.
  MaskSighting look(const Frame& frame, const TargetPose& forecast) noexcept;
  /// Only finds it, by what it looked like and which colours it had at some time, as far from the forecast as `reach`
  /// of how far the rules let it. At a pose that is as good as one of those known it is not cut out.
  MaskSighting look(const Frame& frame, const TargetPose& forecast, const Appearance& appearance,
                    const ColourModel& colours, double reach = 1,
                    std::span<const TargetPose> known = {}) noexcept;

  /// Keeps the last sighting, with all that can be learnt from it, while the next look is had.
  void keep() noexcept { at_ ^= 1; }
  /// Makes the sighting that was kept the last one again.
  void recall() noexcept { at_ ^= 1; }

  /// How alike what the last look found is to an appearance, in [0, 1].
  [[nodiscard]] double likeness(const Appearance& appearance) const noexcept {
    return agreement(last().fit.seen(), appearance, counted()).likeness;
  }

  /// Takes the last sighting alone into an appearance, forgetting what that was.
  void remember(const MaskSighting& seen, Appearance& appearance) const noexcept {
    appearance.learn(last().fit.seen(), last().patch, last().labels(), seen.pose, 1, 1);
  }

  /// How good the last sighting is against what is usual, given how alike it is against what is usual: about 1 on the
  /// target.
  [[nodiscard]] double quality(const MaskSighting& seen, double alike) const noexcept;

  /// How sure that is, in [0, 1].
  [[nodiscard]] double confidence(double quality) const noexcept {
    return confidence_of(quality, rules_.confidence_half, rules_.confidence_steepness);
  }

  /// Says that the last sighting is the target: what is hidden of it is not held against it in the next looks.
  void found() noexcept {
    expect_whole(false);
    visible_before_.copy_from(last().visible);
  }
  /// Whether what the next looks are at has to be seen whole, as has a target that was lost.
  void expect_whole(bool whole) noexcept { may_be_hidden_ = !whole; }

  /// Takes the last sighting into what is known, but for what is hidden.
  void learn(const MaskSighting& seen) noexcept;

  /// What it looks like lately.
  [[nodiscard]] const Appearance& appearance() const noexcept { return appearance_; }
  /// Of the target and what is around it.
  [[nodiscard]] const ColourModel& colours() const noexcept { return colours_; }
  /// Of what it looks like, while it is surely held.
  [[nodiscard]] double usual_likeness() const noexcept { return usual_.likeness(); }

  /// The most promising place of the whole picture for a lost target.
  [[nodiscard]] Point search(const Frame& frame, const Box& box) noexcept {
    return search_.find(frame, light_, colours_, box);
  }
  /// The picture is looked through afresh.
  void start_search() noexcept { search_.start(); }
  /// The search does not come to that place again soon.
  void leave_out(Point place) noexcept { search_.leave_out(place); }

  /// The pose of what the last look found, if its mask is all of the target: where that is, in the size that it has.
  [[nodiscard]] TargetPose pose_of_mask(const MaskSighting& seen) const noexcept;

  /// The place outside a box, px, whose colours are most like the target's; another one in each of the next calls.
  [[nodiscard]] Point search_beside(const Frame& frame, const Box& box) noexcept {
    return search_.find_beside(frame, light_, colours_, box);
  }

  /// The last sighting's mask as a mask of the frame, 1 for the target, with none in it where that is not present. The
  /// target has moved so far, px, since it was seen.
  void draw_mask(bool present, Point moved = {}) noexcept;

  /// The mask that was drawn last.
  [[nodiscard]] ImageView<const Byte> mask() const noexcept { return frame_mask_.pixels(); }

  /// What was cut last, be it kept or not; holds until the next look.
  [[nodiscard]] CutProblem problem() const noexcept { return cutter_.problem(); }

  /// The inner pictures of the last look: `patch`, `likelihood`, `shape`, `mask`, `match`.
  [[nodiscard]] std::vector<Stage> stages();

 private:
  // What a look goes through, and what it found.
  struct Look {
    TargetPatch patch;
    PoseFit fit;
    VisibleCells visible;
    Piece piece;  // of the mask
    int area = 0;
    double contrast = 0;
    Image<Byte> room{TargetPatch::kMostSide, TargetPatch::kMostSide};
    int rows = 0, cols = 0;  // of the mask
    [[nodiscard]] ImageView<const Byte> labels() const noexcept {
      return {room.view().data, rows, cols, 1, cols};
    }
  };
  [[nodiscard]] Look& last() noexcept { return looks_[at_]; }
  [[nodiscard]] const Look& last() const noexcept { return looks_[at_]; }

  [[nodiscard]] int block_for(double scale) const noexcept;
  [[nodiscard]] bool is_same(const TargetPose& one, const TargetPose& other) const noexcept;
  // An upright box around the grid of cells at a pose, and so much larger.
  [[nodiscard]] Box grid_around(const TargetPose& pose, double margin) const noexcept;
  void look_around(const Frame& frame, const TargetPose& pose, double reach_px,
                   const ColourModel& colours) noexcept;
  void start_from_box(const Region& region, const Box& box);
  [[nodiscard]] bool fills(const Box& box) const noexcept;
  void start_from_outline(const Region& region, const Box& box);
  [[nodiscard]] bool is_in_pieces(ImageView<const Byte> labels) noexcept;
  void count_colours() noexcept;
  [[nodiscard]] ImageView<Byte> start_labels() noexcept;
  void take_mask(const CutMask& cut) noexcept;
  [[nodiscard]] MaskSighting sighting(const FittedPose& fitted, const Appearance& appearance) noexcept;
  // The cells that count where likeness is asked for.
  [[nodiscard]] const CellPlane* counted() const noexcept {
    return may_be_hidden_ ? &last().visible.cells() : nullptr;
  }
  [[nodiscard]] Box box_of_mask() const noexcept;
  [[nodiscard]] OrientedBox turned_box() noexcept;

  MaskRules rules_;
  double w_ = 1, h_ = 1;  // of the seeded box
  LightChange light_;     // since the seed
  ColourModel colours_;
  std::array<Look, 2> looks_;
  int at_ = 0;  // which of them was looked with last
  MaskCutter cutter_;
  Appearance appearance_;
  std::optional<Appearance> seed_appearance_;  // until that is forgotten
  ColourSearch search_;
  VisibleCells visible_before_;  // when it was last found
  bool may_be_hidden_ = true;
  MarkedMargins margins_;
  UsualMask usual_;
  FrameMask frame_mask_;
  BitMask mask_bits_;
  std::vector<Image<float>> pictures_;
};

}  // namespace mnemon
