// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/track/blob/blob_pieces.hpp>
#include <mnemon/track/blob/blob_rules.hpp>
#include <mnemon/track/blob/seeded_box.hpp>
#include <mnemon/track/blob/usual_contrast.hpp>
#include <mnemon/track/blob/weighed_window.hpp>
#include <mnemon/track/hold/hold_loop.hpp>
#include <mnemon/track/hold/usual.hpp>
#include <mnemon/track/tracker.hpp>
#include <mnemon/vision/frame_mask.hpp>

namespace mnemon {

/// The round that the trackers by blobs go: weigh a window around the forecast, find the place of the box there, keep
/// what matches, clean it, pick its piece, and read off place and size. The place that stands out most is left for the
/// forecast's where that is about as sure, and for the next where neither is sure. With too few matching cells the
/// target is reported as not present, and nothing is learnt. A piece that runs into something like it is cut off at
/// the box. What is weighed is particular to its evidence, a class `E` with
///
///     void take(frame)                   takes the next frame, which lasts until the one after it; once a frame
///     BlobEvidence look(window, block)   a window of it in cells of `block` x `block` pixels, cut down to
///                                        kMostEvidenceSide of them; holds until the next call
///     void learn(target, box)            takes what is in the last window into what is known; `target` are its cells
///                                        that are the target, and what lies outside `box`, px, is not
///     optional<Point> search(box, first) the most promising place of the whole picture for a lost target, where it
///                                        can tell
///
/// and, of evidence that can tell how alike a place is to the seed,
///
///     bool tells_likeness() const        whether it can, with its rules
///     double likeness(box)               of what the last look saw in a box, px, in [0, 1]
///     optional<Point> search_beside(box) the most promising place beside where the target is
template <class E>
class BlobFollower {
 public:
  /// Starts afresh, with evidence that was started on the same frame.
  Estimate start(const Frame& frame, const Region& region, const Box& box, const BlobRules& rules);
  /// The estimate for the next frame. Allocates nothing.
  Estimate follow(const Frame& frame);

  /// Goes on by other rules.
  void retune(const BlobRules& rules);

  /// The inner pictures of the last step: `weights`, `matches` as they were, `piece` as it was picked.
  [[nodiscard]] std::vector<Stage> stages();
  /// What the last step looked at.
  [[nodiscard]] std::vector<Candidate> candidates() const { return candidates_of(loop_); }

  /// What it weighs by.
  [[nodiscard]] E& evidence() noexcept { return evidence_; }
  /// What it weighs by.
  [[nodiscard]] const E& evidence() const noexcept { return evidence_; }

  /// Of the last estimate.
  [[nodiscard]] ImageView<const Byte> mask() const noexcept { return frame_mask_.pixels(); }

 private:
  friend class HoldLoop;
  struct Seen : Sighting {
    Ellipse ellipse = {};
    double contrast = 0;
    double likeness = 0;
    double area = 0;  // px²
  };
  [[nodiscard]] bool tells_likeness() const noexcept;
  [[nodiscard]] std::optional<RivalRules> rival_rules() const noexcept {
    return tells_likeness() ? std::optional<RivalRules>(rules_) : std::nullopt;
  }
  [[nodiscard]] double likeness(const Box& box);
  [[nodiscard]] std::optional<Point> promising_beside();
  void weigh(Point middle) noexcept;
  [[nodiscard]] Box forecast_box(Point forecast) const noexcept;
  [[nodiscard]] Box find_box(Point forecast, const std::optional<Box>& other) const noexcept;
  [[nodiscard]] Box box_around_most(Point middle) noexcept;
  [[nodiscard]] Point forecast() const noexcept { return loop_.forecast().of(centre(box_), box_.w, box_.h); }
  [[nodiscard]] Seen nothing() const noexcept;
  [[nodiscard]] Seen look(const Frame& /*frame*/) { return look_near(forecast()); }
  [[nodiscard]] Seen look_near(Point place);
  [[nodiscard]] Seen look_at(const Box& expected);
  [[nodiscard]] Seen look_beside(const Frame& frame);
  void search(const Frame& frame, Seen& seen);
  [[nodiscard]] bool accept(const Frame& frame, const Seen& seen) const noexcept;
  void hold(const Frame& frame, const Seen& seen, bool learns);
  void miss(const Frame& frame);
  [[nodiscard]] Seen sighting(const Piece& piece, const Box& expected);
  void keep_size_if_more_alike(const Box& expected, Seen& seen);
  [[nodiscard]] double confidence_in(const Seen& seen, double filled) const noexcept;
  void learn(const Seen& seen);
  [[nodiscard]] Estimate estimate(const Held& held);

  HoldLoop loop_;
  BlobRules rules_;
  E evidence_;
  WeighedWindow window_;
  BlobPieces pieces_;
  SeededBox seeded_;
  UsualContrast usual_contrast_;
  Usual usual_likeness_;
  Box box_;
  double most_w_ = 0;
  double most_h_ = 0;
  Ellipse ellipse_;
  double ellipse_over_ = 1;  // the seeded box's shorter side over the piece's shorter axis
  FrameMask frame_mask_;
  std::vector<Image<float>> pictures_;
};

}  // namespace mnemon
