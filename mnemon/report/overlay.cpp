// SPDX-License-Identifier: MIT
#include <mnemon/report/overlay.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include <fmt/format.h>

#include <mnemon/media/canvas.hpp>
#include <mnemon/report/palette.hpp>

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

Image<Byte> Overlay::draw(const Frame& frame, const std::vector<Drawn>& answers, const TruthRow* truth,
                          ImageView<const Byte> mask) {
  Canvas canvas(frame.rgb);
  places_.resize(answers.size());
  if (!mask.empty()) canvas.outline(mask, kTruthInk);
  double lost_y = 12;
  std::optional<Point> labels;  // all stand below the first box, so that none hides another
  if (!answers.empty() && !answers[0].row.present) canvas.border(kWarningInk, 5);
  for (std::size_t i = 0; i < answers.size(); ++i) {
    const TraceRow& row = answers[i].row;
    const Ink ink = tracker_ink(static_cast<int>(i));
    std::vector<Point>& places = places_[i];
    if (!row.present) {
      places.clear();
      canvas.label(fmt::format("{}: target lost ({:.2f})", answers[i].label, row.confidence), {12, lost_y},
                   ink, 18);
      lost_y += 34;
      continue;
    }
    places.push_back(centre(row.box.box));
    if (places.size() > static_cast<std::size_t>(trail_) + 1) places.erase(places.begin());
    canvas.trail(places, ink, 1.5);
    canvas.outline(row.box, ink, tracker_stroke(static_cast<int>(i)));
    if (!labels) labels = Point{row.box.box.x, row.box.box.y + row.box.box.h + 4};
    canvas.label(fmt::format("{} {:.2f}", answers[i].label, row.confidence), *labels, ink);
    labels->y += 26;
  }
  if (truth != nullptr && truth->present) canvas.outline(truth->box, kTruthInk, Stroke::dashed, 1.5);
  canvas.label(fmt::format("frame {}", frame.index), {8, frame.rgb.rows - 30.0}, kTruthInk, 12);
  return canvas.picture();
}

Image<Byte> box_mask(const TraceRow& row, FrameSize size) {
  Image<Byte> mask(size.height, size.width);
  if (!row.present || !is_proper(row.box.box)) return mask;
  const double radians = row.box.angle_deg * std::numbers::pi / 180;
  const double cosine = std::cos(radians);
  const double sine = std::sin(radians);
  const Point middle = centre(row.box.box);
  for (int r = 0; r < size.height; ++r)
    for (int c = 0; c < size.width; ++c) {
      const Point from{c + 0.5 - middle.x, r + 0.5 - middle.y};
      const double along = std::abs(cosine * from.x + sine * from.y);
      const double across = std::abs(cosine * from.y - sine * from.x);
      if (2 * along <= row.box.box.w && 2 * across <= row.box.box.h) mask(r, c) = 255;
    }
  return mask;
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
