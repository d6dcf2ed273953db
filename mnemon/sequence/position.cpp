// SPDX-License-Identifier: MIT
#include <mnemon/sequence/position.hpp>

namespace mnemon {

std::optional<PositionMm> position_of(const Sequence& sequence, Point middle, double diameter_px) {
  if (!sequence.camera || !sequence.target || !sequence.target->diameter_mm || !(diameter_px > 0))
    return std::nullopt;
  const double z = sequence.camera->focal_px * *sequence.target->diameter_mm / diameter_px;
  const double per_px = z / sequence.camera->focal_px;
  return PositionMm{(middle.x - sequence.camera->centre_px.x) * per_px,
                    (middle.y - sequence.camera->centre_px.y) * per_px, z};
}

void add_position(const Sequence& sequence, TraceRow& row) {
  if (!row.position && row.minor_px && row.present)
    row.position = position_of(sequence, centre(row.box.box), *row.minor_px);
}

}  // namespace mnemon
