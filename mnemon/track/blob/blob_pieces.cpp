// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/blob_pieces.hpp>

#include <algorithm>

namespace mnemon {
namespace {

constexpr double kClip = 1.25;  // of the expected box, what a piece is cut down to

}  // namespace

BlobPieces::BlobPieces(const PickRules& rules)
    : picker_(kMostEvidenceSide, kMostEvidenceSide, rules),
      matches_(kMostEvidenceSide, kMostEvidenceSide),
      piece_(kMostEvidenceSide, kMostEvidenceSide) {}

const Piece* BlobPieces::match(const WeighedWindow& window, const Box& expected, double gate) noexcept {
  set_above(window.weights(), window.grid().level, matches_);
  const ExpectedPiece target{expected, expected_area(window, expected)};
  const Piece* const piece = picker_.pick(matches_, target, scaled(expected, gate));
  const Box most = scaled(expected, kClip);
  if (piece != nullptr && piece->left >= most.x - 1 && piece->top >= most.y - 1 &&
      piece->right <= most.x + most.w + 1 && piece->bottom <= most.y + most.h + 1)
    return piece;
  return picker_.clip(matches_, most);
}

void BlobPieces::draw(const Piece* piece) noexcept {
  piece_.start(matches_.rows(), matches_.cols());
  if (piece != nullptr) picker_.finder().draw_into(*piece, piece_);
}

void BlobPieces::take_fill(const WeighedWindow& window, const Piece& piece, const Box& seeded) noexcept {
  fill_ = std::clamp(piece.area / std::max(1.0, window.seen_area(seeded)), 0.1, 1.0);
}

double BlobPieces::expected_area(const WeighedWindow& window, const Box& box) const noexcept {
  return fill_ * std::max(1.0, window.seen_area(box));
}

bool BlobPieces::is_whole(const WeighedWindow& window, const Piece& piece, const Box& expected) noexcept {
  const Box most = scaled(expected, kClip);
  const Box picture = window.picture();
  return piece.left > std::max(most.x, picture.x) + 1 && piece.top > std::max(most.y, picture.y) + 1 &&
         piece.right < std::min(most.x + most.w, picture.x + picture.w) - 1 &&
         piece.bottom < std::min(most.y + most.h, picture.y + picture.h) - 1;
}

}  // namespace mnemon
