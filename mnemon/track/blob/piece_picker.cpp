// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/piece_picker.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

namespace mnemon {

PiecePicker::PiecePicker(int most_rows, int most_cols, PickRules rules)
    : rules_(std::move(rules)), morphology_(most_rows, most_cols), finder_(most_rows, most_cols) {}

void PiecePicker::clean(BitMask& mask, const ExpectedPiece& expected) noexcept {
  const double shorter = std::min(expected.box.w, expected.box.h);
  const auto radius = [&](double share) { return static_cast<int>(std::lround(0.5 * share * shorter)); };
  if (radius(rules_.open) > 0) morphology_.open(mask, radius(rules_.open));
  if (radius(rules_.close) > 0) morphology_.close(mask, radius(rules_.close));
  if (rules_.fill_holes) finder_.fill_holes(mask);
}

bool PiecePicker::is_formed(const Piece& piece) noexcept {
  if (rules_.least_circularity <= 0 && rules_.least_rectangularity <= 0 && rules_.least_solidity <= 0)
    return true;
  const PieceForm form = finder_.form_of(piece);
  return form.circularity >= rules_.least_circularity && form.rectangularity >= rules_.least_rectangularity &&
         form.solidity >= rules_.least_solidity;
}

// The higher, the sooner it is the target.
double PiecePicker::rank(const Piece& piece, const ExpectedPiece& expected) noexcept {
  const Point middle = centre(expected.box);
  const double away = std::hypot(piece.middle.x - middle.x, piece.middle.y - middle.y);
  if (rules_.pick == "nearest") return -away;
  if (rules_.pick == "largest") return piece.area;
  if (rules_.pick == "smallest") return -piece.area;
  if (rules_.pick == "roundest") return finder_.form_of(piece).circularity;
  // Alike: as large, as near and as broad as expected.
  const double size = std::sqrt(expected.box.w * expected.box.h);
  const double broad = overlap(box_around({0, 0}, piece.box().w, piece.box().h),
                               box_around({0, 0}, expected.box.w, expected.box.h));
  return -std::abs(std::log(piece.area / expected.area)) - away / size + broad;
}

const Piece* PiecePicker::pick(BitMask& mask, const ExpectedPiece& expected, const Box& gate) noexcept {
  clean(mask, expected);
  const Piece* best = nullptr;
  double highest = 0;
  for (const Piece& piece : finder_.find(mask)) {
    if (piece.area < rules_.least_area * expected.area || piece.area > rules_.most_area * expected.area)
      continue;
    if (piece.middle.x < gate.x || piece.middle.y < gate.y || piece.middle.x > gate.x + gate.w ||
        piece.middle.y > gate.y + gate.h)
      continue;
    if (!is_formed(piece)) continue;
    const double score = rank(piece, expected);
    if (best != nullptr && score <= highest) continue;
    best = &piece;
    highest = score;
  }
  return best;
}

const Piece* PiecePicker::clip(BitMask& mask, const Box& box) noexcept {
  const int left = std::clamp(static_cast<int>(std::lround(box.x)), 0, mask.cols());
  const int right = std::clamp(static_cast<int>(std::lround(box.x + box.w)), left, mask.cols());
  for (int r = 0; r < mask.rows(); ++r) {
    const bool within = r + 0.5 >= box.y && r + 0.5 < box.y + box.h;
    const auto line = mask.row(r);
    for (int w = 0; w < mask.words(); ++w) {
      const int first = std::clamp(left - w * BitMask::kWordBits, 0, BitMask::kWordBits);
      const int end = std::clamp(right - w * BitMask::kWordBits, 0, BitMask::kWordBits);
      const auto below = [](int bits) {
        return bits == BitMask::kWordBits ? ~BitMask::Word{0} : (BitMask::Word{1} << bits) - 1;
      };
      line[w] &= within ? below(end) & ~below(first) : BitMask::Word{0};
    }
  }
  const Piece* largest = nullptr;
  for (const Piece& piece : finder_.find(mask))
    if (largest == nullptr || piece.area > largest->area) largest = &piece;
  return largest;
}

}  // namespace mnemon
