// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/geometry/box.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>

namespace mnemon {

/// Where a ball is that is seen so large, by the sequence's camera and the ball's diameter: as far as its diameter is
/// times the focal length over the size seen. Nothing where the sequence does not tell these, or the size is not above 0.
/// \param middle       Of what is seen, px.
/// \param diameter_px  Of what is seen; of a blurred one the axis across the blur.
[[nodiscard]] std::optional<PositionMm> position_of(const Sequence& sequence, Point middle,
                                                    double diameter_px);

/// Puts in where the target was found by how far it was measured to reach, in rows that say that.
void add_position(const Sequence& sequence, TraceRow& row);

}  // namespace mnemon
