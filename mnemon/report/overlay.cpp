// SPDX-License-Identifier: MIT
#include <mnemon/report/overlay.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include <mnemon/image/levels.hpp>
#include <mnemon/media/canvas.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/report/panel.hpp>

namespace mnemon {
namespace {

constexpr int kLongEnough = 256;

// The picture with the trackers' lines below it, in a band that is as high on every frame.
Image<Byte> with_panel(ImageView<const Byte> picture, const std::vector<PanelRow>& rows,
                       const std::string& title) {
  constexpr double kMargin = 6;
  constexpr double kTitle = 18;
  constexpr Ink kPaper{0.97, 0.96, 0.94};
  const double width = picture.cols - 2 * kMargin;
  const int band = static_cast<int>(kTitle + panel_height(rows.size(), width) + 2 * kMargin);
  // Films want an even number of rows.
  Canvas whole(picture.rows + band + (picture.rows + band) % 2, picture.cols, kPaper);
  whole.paste(picture, {0, 0});
  whole.write(title, {kMargin, picture.rows + kMargin}, {0.15, 0.13, 0.11}, 12);
  draw_panel(rows, {kMargin, picture.rows + kMargin + kTitle}, width, whole);
  return whole.picture();
}

}  // namespace

Image<Byte> Overlay::draw(const Frame& frame, const std::vector<Drawn>& answers, const TruthRow* truth,
                          ImageView<const Byte> mask) {
  Canvas canvas(frame.rgb);
  places_.resize(answers.size());
  if (!mask.empty()) canvas.outline(mask, kTruthInk);
  if (!answers.empty() && !answers[0].row.present) canvas.border(kWarningInk, 5);
  std::vector<PanelRow> rows;
  for (std::size_t i = 0; i < answers.size(); ++i) {
    const TraceRow& row = answers[i].row;
    const Ink ink = tracker_ink(static_cast<int>(i));
    std::vector<Point>& places = places_[i];
    rows.push_back({answers[i].label, ink, tracker_stroke(static_cast<int>(i)), row.present, row.confidence});
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
  return with_panel(canvas.picture().view(), rows, fmt::format("frame {}", frame.index));
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
  const Image<Byte> levels = bytes_between(in, levels_of(in));
  const int factor = std::max(1, (kLongEnough + std::max(in.rows, in.cols) - 1) / std::max(in.rows, in.cols));
  Image<Byte> out(factor * in.rows, factor * in.cols, in.channels);
  for (int r = 0; r < out.rows(); ++r)
    for (int c = 0; c < out.cols(); ++c)
      for (int channel = 0; channel < in.channels; ++channel)
        out(r, c, channel) = levels(r / factor, c / factor, channel);
  return out;
}

Image<Byte> with_stage_over(ImageView<const Byte> rgb, ImageView<const Byte> stage, const OrientedBox& area) {
  Image<Byte> mixed = copy_of(rgb);
  const Point middle = centre(area.box);
  for (int r = 0; r < rgb.rows; ++r)
    for (int c = 0; c < rgb.cols; ++c) {
      const Point off = turned({c + 0.5 - middle.x, r + 0.5 - middle.y}, -area.angle_deg);
      const double u = off.x / area.box.w + 0.5;
      const double v = off.y / area.box.h + 0.5;
      if (!(u >= 0 && u < 1 && v >= 0 && v < 1)) continue;
      const int row = static_cast<int>(v * stage.rows);
      const int col = static_cast<int>(u * stage.cols);
      for (int k = 0; k < 3; ++k)
        mixed(r, c, k) =
            static_cast<Byte>((mixed(r, c, k) + stage(row, col, stage.channels == 3 ? k : 0) + 1) / 2);
    }
  return mixed;
}

}  // namespace mnemon
