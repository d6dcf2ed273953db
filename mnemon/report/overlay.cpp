// SPDX-License-Identifier: MIT
#include <mnemon/report/overlay.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include <mnemon/media/canvas.hpp>
#include <mnemon/report/legend.hpp>
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

// The picture with the legend below it, in a band that is as high on every frame.
Image<Byte> with_legend(ImageView<const Byte> picture, const std::vector<Drawn>& answers,
                        const std::vector<LegendEntry>& legend) {
  constexpr double kMargin = 3;
  constexpr Ink kPaper{0.97, 0.96, 0.94};
  std::vector<LegendEntry> broadest{{"frame 000000", kTruthInk}};
  for (const Drawn& answer : answers) broadest.push_back({answer.label + " lost 0.00", kTruthInk});
  const double width = picture.cols - 2 * kMargin;
  const int band = static_cast<int>(legend_height(broadest, width) + 2 * kMargin);
  // Films want an even number of rows.
  Canvas whole(picture.rows + band + (picture.rows + band) % 2, picture.cols, kPaper);
  whole.paste(picture, {0, 0});
  draw_legend(legend, {kMargin, picture.rows + kMargin}, width, whole);
  return whole.picture();
}

}  // namespace

Image<Byte> Overlay::draw(const Frame& frame, const std::vector<Drawn>& answers, const TruthRow* truth,
                          ImageView<const Byte> mask) {
  Canvas canvas(frame.rgb);
  places_.resize(answers.size());
  if (!mask.empty()) canvas.outline(mask, kTruthInk);
  if (!answers.empty() && !answers[0].row.present) canvas.border(kWarningInk, 5);
  std::vector<LegendEntry> legend{{fmt::format("frame {}", frame.index), kTruthInk}};
  for (std::size_t i = 0; i < answers.size(); ++i) {
    const TraceRow& row = answers[i].row;
    const Ink ink = tracker_ink(static_cast<int>(i));
    std::vector<Point>& places = places_[i];
    legend.push_back(
        {fmt::format("{} {}{:.2f}", answers[i].label, row.present ? "" : "lost ", row.confidence), ink});
    if (!row.present) {
      places.clear();
      continue;
    }
    places.push_back(centre(row.box.box));
    if (places.size() > static_cast<std::size_t>(trail_) + 1) places.erase(places.begin());
    canvas.trail(places, ink, 1.5);
    canvas.outline(row.box, ink, tracker_stroke(static_cast<int>(i)));
  }
  if (truth != nullptr && truth->present) canvas.outline(truth->box, kTruthInk, Stroke::dashed, 1.5);
  return with_legend(canvas.picture().view(), answers, legend);
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
