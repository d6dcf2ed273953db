// SPDX-License-Identifier: MIT
#include <mnemon/report/overlay.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/media/canvas.hpp>

namespace mnemon {
namespace {

constexpr int kLongEnough = 256;

struct Levels {
  float low;
  float high;
};

Levels levels_of(ImageView<const float> picture) {
  Levels levels{picture(0, 0), picture(0, 0)};
  for (int r = 0; r < picture.rows; ++r)
    for (int c = 0; c < picture.row_length(); ++c) {
      levels.low = std::min(levels.low, picture.row(r)[c]);
      levels.high = std::max(levels.high, picture.row(r)[c]);
    }
  return levels;
}

}  // namespace

Image<Byte> overlay_picture(const Frame& frame, const std::string& tracker, const TraceRow& row,
                            const TruthRow* truth) {
  Canvas canvas(frame.rgb);
  if (row.present) {
    canvas.outline(row.box, kEstimateInk);
    const Point below{row.box.box.x, row.box.box.y + row.box.box.h + 4};
    canvas.label(fmt::format("{} {:.2f}", tracker, row.confidence), below, kEstimateInk);
  } else {
    canvas.border(kWarningInk, 5);
    canvas.label(fmt::format("{}: target lost ({:.2f})", tracker, row.confidence), {12, 12}, kEstimateInk,
                 18);
  }
  if (truth != nullptr && truth->present) canvas.outline(truth->box, kTruthInk, Stroke::dashed, 1.5);
  canvas.label(fmt::format("frame {}", frame.index), {8, frame.rgb.rows - 30.0}, kTruthInk, 12);
  return canvas.picture();
}

Image<Byte> stage_picture(const Stage& stage) {
  const ImageView<const float>& in = stage.picture;
  if (in.empty()) return {};
  const Levels levels = levels_of(in);
  const float range = levels.high > levels.low ? levels.high - levels.low : 1.0f;
  const int factor = std::max(1, (kLongEnough + std::max(in.rows, in.cols) - 1) / std::max(in.rows, in.cols));
  Image<Byte> out(factor * in.rows, factor * in.cols, in.channels);
  for (int r = 0; r < out.rows(); ++r)
    for (int c = 0; c < out.cols(); ++c)
      for (int channel = 0; channel < in.channels; ++channel) {
        const float share = (in(r / factor, c / factor, channel) - levels.low) / range;
        out(r, c, channel) = static_cast<Byte>(std::lround(255 * share));
      }
  return out;
}

}  // namespace mnemon
