// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/blob/piece_picker.hpp>
#include <mnemon/track/blob/weighed_window.hpp>

namespace mnemon {

/// The piece of a window's matching cells that is the target: picked near where it is expected, and cut off where it
/// runs beyond. Allocates nothing once made.
class BlobPieces {
 public:
  BlobPieces() = default;
  /// For windows of up to kMostEvidenceSide cells a side.
  explicit BlobPieces(const PickRules& rules);

  /// Goes on by other rules.
  void retune(const PickRules& rules) { picker_.retune(rules); }

  /// The piece near an expected box, in cells, or null where nothing matches there; it holds until the next call. One that
  /// runs beyond the box is cut off a little outside it.
  /// \param window    That was taken last.
  /// \param expected  Where the target should be.
  /// \param gate      Pieces whose middle lies outside the box scaled by this are not taken.
  [[nodiscard]] const Piece* match(const WeighedWindow& window, const Box& expected, double gate) noexcept;

  /// Draws the piece that was matched last as the target's; null for none.
  void draw(const Piece* piece) noexcept;

  /// Takes the seed's piece for the share of its box that matches.
  void take_fill(const WeighedWindow& window, const Piece& piece, const Box& seeded) noexcept;

  /// The cells that should match of a target in a box: of its share that lies in the picture.
  [[nodiscard]] double expected_area(const WeighedWindow& window, const Box& box) const noexcept;

  /// Whether a piece was cut off neither at the box that it was expected in nor at the picture's edge.
  [[nodiscard]] static bool is_whole(const WeighedWindow& window, const Piece& piece,
                                     const Box& expected) noexcept;

  /// The cells that matched, cleaned.
  [[nodiscard]] const BitMask& matches() const noexcept { return matches_; }
  /// The cells that were drawn last.
  [[nodiscard]] const BitMask& piece() const noexcept { return piece_; }

 private:
  PiecePicker picker_;
  BitMask matches_;
  BitMask piece_;
  double fill_ = 0.6;  // matching cells over the box's
};

}  // namespace mnemon
