// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <span>
#include <vector>

#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/image/bit_mask.hpp>

namespace mnemon {

/// Set bits of a mask that hang together, in its columns and rows.
struct Piece {
  int area = 0;                   ///< Bits.
  int left = 0, top = 0;          ///< First column and row.
  int right = 0, bottom = 0;      ///< One past the last.
  Point middle;                   ///< Mean place of its bits, each taken as a unit square.
  double xx = 0, xy = 0, yy = 0;  ///< Second moments about it, per bit.
  std::int32_t first_run = -1;    ///< Of its runs.
  /// Around all of its bits.
  [[nodiscard]] Box box() const noexcept {
    return {double(left), double(top), double(right - left), double(bottom - top)};
  }
};

/// How a piece is formed, each number in [0, 1] and 1 for the form it is named for.
struct PieceForm {
  double circularity = 0;     ///< How near its second moments are to a disc's of its area.
  double rectangularity = 0;  ///< Its area over that of the tightest turned box.
  double solidity = 0;        ///< Its area over that of its hull.
  OrientedBox tightest;       ///< That box, in columns and rows.
};

/// The ellipse of a piece's second moments, the longer half axis first. A filled ellipse gives back itself.
[[nodiscard]] Ellipse ellipse_of(const Piece& piece) noexcept;

/// Finds the pieces of masks: runs of set bits row by row, joined where they touch, corners too. Allocates nothing once
/// made. Not to be shared by threads.
/// Source: Rosenfeld and Pfaltz 1966 for joining in one pass; circularity after Žunić, Hirota and Rosin, Pattern
/// Recognition 2010.
class PieceFinder {
 public:
  /// Bits `first` to `end` (one past) of a row, and the next run of the same piece, -1 for none.
  struct Run {
    std::int32_t row, first, end, next;  ///< As above.
  };

  PieceFinder() = default;
  /// \param most_rows, most_cols  Of any mask.
  PieceFinder(int most_rows, int most_cols);

  /// The pieces, in the order of their first run; they hold until the next call.
  std::span<const Piece> find(const BitMask& mask) noexcept;

  /// All pieces of the last mask, at least one, as a single one; it holds until the next call, and they no longer.
  const Piece& join() noexcept;

  /// use(run) for each run of a piece, from its top row down.
  template <class Use>
  void for_each_run(const Piece& piece, Use use) const {
    for (std::int32_t at = piece.first_run; at >= 0; at = runs_[at].next) use(runs_[at]);
  }

  /// Works out a piece's form; costs more than finding it.
  [[nodiscard]] PieceForm form_of(const Piece& piece) noexcept;

  /// A turned box around a piece: along its ellipse where that is clearly longer than broad, as whole cells leave the
  /// tightest box's turn undecided by many degrees; else the tightest.
  [[nodiscard]] OrientedBox turned_box(const Piece& piece) noexcept;

  /// Sets the bits of a piece in a mask of the shape of the one that it was found in.
  void draw_into(const Piece& piece, BitMask& mask) const noexcept;

  /// Sets the clear bits that no way of clear bits joins to the mask's border.
  void fill_holes(BitMask& mask) noexcept;

 private:
  [[nodiscard]] std::span<const Point> hull_of(const Piece& piece) noexcept;
  void gather_runs(const BitMask& mask, bool corners_touch) noexcept;
  void add_run(Run run, bool corners_touch) noexcept;
  [[nodiscard]] std::int32_t root_of(std::int32_t run) noexcept;
  void sum_pieces() noexcept;

  std::vector<Run> runs_;
  std::vector<std::int32_t> root_;
  std::vector<std::int32_t> piece_of_;  // of a root run
  std::vector<std::int32_t> last_run_;  // of a piece
  std::vector<Piece> pieces_;
  std::size_t above_ = 0;  // the run of the row above that is at hand
  std::size_t row_first_ = 0;
  std::vector<Point> points_;
  std::vector<Point> hull_;
};

}  // namespace mnemon
