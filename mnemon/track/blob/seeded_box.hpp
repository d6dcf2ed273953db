// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/marked_margins.hpp>

namespace mnemon {

/// How a box was marked around what stands out in it: people leave room, or mark a part. It keeps the box's relation to
/// the one that was fitted there, and to the piece that matched, so that later ones are as it was marked.
class SeededBox {
 public:
  /// As it was fitted.
  SeededBox() = default;
  /// \param seeded  The box as marked.
  /// \param fitted  The one that is fitted to what stands out in it, in the same unit.
  SeededBox(const Box& seeded, const Box& fitted) noexcept
      : over_fit_{(centre(seeded).x - centre(fitted).x) / seeded.w,
                  (centre(seeded).y - centre(fitted).y) / seeded.h, seeded.w / fitted.w,
                  seeded.h / fitted.h} {}

  /// Goes by pieces as well, if that of the seed, in the same unit, is much like the marked box.
  void take_piece(const Box& seeded, const Box& piece) noexcept {
    over_piece_ = {seeded, piece};
    goes_by_piece_ = overlap(seeded, piece) >= kLikeBox;
  }

  /// What is fitted where a box of sides w and h is about `middle`.
  [[nodiscard]] Box fit_at(Point middle, double w, double h) const noexcept {
    return box_around({middle.x - over_fit_.x * w, middle.y - over_fit_.y * h}, w / over_fit_.w,
                      h / over_fit_.h);
  }

  /// The box of sides w and h where what was fitted is about `middle`.
  [[nodiscard]] Box over_fit(Point middle, double w, double h) const noexcept {
    return box_around({middle.x + over_fit_.x * w, middle.y + over_fit_.y * h}, w, h);
  }

  /// Whether a piece says more than the fit does.
  [[nodiscard]] bool goes_by_piece() const noexcept { return goes_by_piece_; }

  /// The box that a piece says.
  [[nodiscard]] Box over_piece(const Box& piece) const noexcept { return over_piece_.around(piece); }

  /// The box by the fit, drawn some way towards the one that a piece says.
  [[nodiscard]] static Box drawn(const Box& by_fit, const Box& by_piece) noexcept {
    return between(by_fit, by_piece, kByPiece);
  }

 private:
  static constexpr double kByPiece = 0.3;  // a piece tells turns that the fit does not
  static constexpr double kLikeBox = 0.5;  // overlap of a piece with the marked box

  Box over_fit_{0, 0, 1, 1};  // offset of the middles, in sizes of the box, and sizes over the fit's
  MarkedMargins over_piece_;
  bool goes_by_piece_ = false;
};

}  // namespace mnemon
