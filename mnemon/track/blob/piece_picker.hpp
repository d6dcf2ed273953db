// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/image/morphology.hpp>
#include <mnemon/vision/pieces.hpp>

namespace mnemon {

/// How matching pixels are cleaned, and which piece of them is the target.
struct PickRules {
  double open = 0;     ///< What is narrower goes; of the target's shorter side.
  double close = 0.1;  ///< Gaps that are narrower are filled; likewise.
  bool fill_holes = true;
  std::string pick = "alike";  ///< `alike`, `nearest`, `largest`, `smallest`, `roundest`.
  double least_area = 0.15;    ///< Of the expected area; with less the target is absent.
  double most_area = 2.5;      ///< Pieces larger than that many times the expected area are no candidates.
  double least_circularity = 0;
  double least_rectangularity = 0;
  double least_solidity = 0;
};

/// What is expected of the target, in cells.
struct ExpectedPiece {
  Box box;          ///< Where it should be.
  double area = 1;  ///< How many cells it should have.
};

/// Cleans a mask and picks the target's piece. Allocates nothing once made.
class PiecePicker {
 public:
  PiecePicker() = default;
  /// For masks of up to that shape.
  PiecePicker(int most_rows, int most_cols, PickRules rules);

  /// Goes on by other rules.
  void retune(const PickRules& rules) { rules_ = rules; }

  /// Cleans the mask in place and picks a piece of it.
  /// Pieces whose middle lies outside the gate, cells, are no candidates.
  /// \returns  The piece, or null where none will do; it holds until the next call.
  [[nodiscard]] const Piece* pick(BitMask& mask, const ExpectedPiece& expected, const Box& gate) noexcept;

  /// The matching cells within a box as one piece, or null where there is none.
  [[nodiscard]] const Piece* clip(BitMask& mask, const Box& box) noexcept;

  /// That the last pieces are of.
  [[nodiscard]] PieceFinder& finder() noexcept { return finder_; }

 private:
  void clean(BitMask& mask, const ExpectedPiece& expected) noexcept;
  [[nodiscard]] bool is_formed(const Piece& piece) noexcept;
  [[nodiscard]] double rank(const Piece& piece, const ExpectedPiece& expected) noexcept;

  PickRules rules_;
  Morphology morphology_;
  PieceFinder finder_;
  Piece clipped_;
};

}  // namespace mnemon
