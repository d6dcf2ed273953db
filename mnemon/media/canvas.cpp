// SPDX-License-Identifier: MIT
#include <mnemon/media/canvas.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <cstring>

#include <cairo.h>

#include <mnemon/base/plain_text.hpp>

namespace mnemon {
namespace {

constexpr double kRimOpacity = 0.65;
constexpr double kLabelPad = 0.35;  // around a label's letters, in their size

std::uint32_t packed(const Byte* rgb) noexcept {
  return 0xff000000U | (static_cast<std::uint32_t>(rgb[0]) << 16) |
         (static_cast<std::uint32_t>(rgb[1]) << 8) | rgb[2];
}

void put_rows(cairo_surface_t* surface, ImageView<const Byte> rgb) {
  cairo_surface_flush(surface);
  unsigned char* data = cairo_image_surface_get_data(surface);
  const int stride = cairo_image_surface_get_stride(surface);
  for (int r = 0; r < rgb.rows; ++r)
    for (int c = 0; c < rgb.cols; ++c) {
      const std::uint32_t pixel = packed(rgb.row(r) + 3 * c);
      std::memcpy(data + static_cast<std::ptrdiff_t>(r) * stride + 4 * c, &pixel, 4);
    }
  cairo_surface_mark_dirty(surface);
}

}  // namespace

struct Canvas::Surface {
  cairo_surface_t* pixels;
  cairo_t* pen;

  Surface(int rows, int cols)
      : pixels(cairo_image_surface_create(CAIRO_FORMAT_RGB24, cols, rows)), pen(cairo_create(pixels)) {}
  Surface(const Surface&) = delete;
  Surface& operator=(const Surface&) = delete;
  ~Surface() {
    cairo_destroy(pen);
    cairo_surface_destroy(pixels);
  }

  void use(Ink ink) const { cairo_set_source_rgb(pen, ink.red, ink.green, ink.blue); }
  void stroke(Ink ink, Stroke stroke, double width_px) const;
  void dash(Stroke stroke, double unit) const;
  void set_font(double size_px, cairo_font_weight_t weight) const {
    cairo_select_font_face(pen, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, weight);
    cairo_set_font_size(pen, size_px);
  }
};

Canvas::Canvas(ImageView<const Byte> rgb) : surface_(std::make_unique<Surface>(rgb.rows, rgb.cols)) {
  put_rows(surface_->pixels, rgb);
}

Canvas::Canvas(int rows, int cols, Ink ground) : surface_(std::make_unique<Surface>(rows, cols)) {
  surface_->use(ground);
  cairo_paint(surface_->pen);
}

Canvas::Canvas(Canvas&&) noexcept = default;
Canvas& Canvas::operator=(Canvas&&) noexcept = default;
Canvas::~Canvas() = default;

void Canvas::Surface::dash(Stroke stroke, double unit) const {
  const std::array<double, 4> dashes = stroke == Stroke::dotted ? std::array{unit, 2 * unit, unit, 2 * unit}
                                       : stroke == Stroke::dash_dotted
                                           ? std::array{5 * unit, 2 * unit, unit, 2 * unit}
                                           : std::array{3 * unit, 2.5 * unit, 3 * unit, 2.5 * unit};
  if (stroke != Stroke::solid) cairo_set_dash(pen, dashes.data(), dashes.size(), 0);
}

// The path is drawn twice: a dark rim beneath, which is dashed too, so that a box below shows through the gaps.
void Canvas::Surface::stroke(Ink ink, Stroke stroke, double width_px) const {
  cairo_set_line_join(pen, CAIRO_LINE_JOIN_ROUND);
  dash(stroke, width_px);
  cairo_set_source_rgba(pen, 0, 0, 0, kRimOpacity);
  cairo_set_line_width(pen, width_px + 2);
  cairo_stroke_preserve(pen);
  use(ink);
  cairo_set_line_width(pen, width_px);
  cairo_stroke(pen);
  cairo_set_dash(pen, nullptr, 0, 0);
}

void Canvas::outline(const OrientedBox& oriented, Ink ink, Stroke stroke, double width_px) {
  if (!is_proper(oriented.box)) return;
  cairo_t* pen = surface_->pen;
  cairo_new_path(pen);
  for (const Point& corner : corners(oriented)) cairo_line_to(pen, corner.x, corner.y);
  cairo_close_path(pen);
  surface_->stroke(ink, stroke, width_px);
}

void Canvas::outline(ImageView<const Byte> mask, Ink ink, double width_px) {
  cairo_t* pen = surface_->pen;
  const auto inside = [&](int r, int c) {
    return r >= 0 && c >= 0 && r < mask.rows && c < mask.cols && mask(r, c) != 0;
  };
  // Whole runs of sides become one line each.
  cairo_new_path(pen);
  for (int r = 0; r <= mask.rows; ++r)
    for (int c = 0; c < mask.cols; ++c) {
      const int begin = c;
      while (c < mask.cols && inside(r - 1, c) != inside(r, c)) ++c;
      if (c == begin) continue;
      cairo_move_to(pen, begin, r);
      cairo_line_to(pen, c, r);
    }
  for (int c = 0; c <= mask.cols; ++c)
    for (int r = 0; r < mask.rows; ++r) {
      const int begin = r;
      while (r < mask.rows && inside(r, c - 1) != inside(r, c)) ++r;
      if (r == begin) continue;
      cairo_move_to(pen, c, begin);
      cairo_line_to(pen, c, r);
    }
  surface_->stroke(ink, Stroke::solid, width_px);
}

void Canvas::trail(std::span<const Point> points, Ink ink, double width_px) {
  cairo_t* pen = surface_->pen;
  cairo_set_line_cap(pen, CAIRO_LINE_CAP_ROUND);
  for (std::size_t i = 1; i < points.size(); ++i) {
    const double share = static_cast<double>(i) / static_cast<double>(points.size() - 1);
    cairo_move_to(pen, points[i - 1].x, points[i - 1].y);
    cairo_line_to(pen, points[i].x, points[i].y);
    cairo_set_source_rgba(pen, 0, 0, 0, kRimOpacity * share);
    cairo_set_line_width(pen, width_px + 2);
    cairo_stroke_preserve(pen);
    cairo_set_source_rgba(pen, ink.red, ink.green, ink.blue, share);
    cairo_set_line_width(pen, width_px);
    cairo_stroke(pen);
  }
  cairo_set_line_cap(pen, CAIRO_LINE_CAP_BUTT);
}

double Canvas::label_width(const std::string& text, double size_px) const {
  cairo_t* pen = surface_->pen;
  surface_->set_font(size_px, CAIRO_FONT_WEIGHT_BOLD);
  cairo_text_extents_t extents;
  cairo_text_extents(pen, plain_line(text).c_str(), &extents);
  return extents.x_advance + 2 * kLabelPad * size_px;
}

void Canvas::label(const std::string& words, Point at, Ink ink, double size_px) {
  cairo_t* pen = surface_->pen;
  const std::string text = plain_line(words);  // the package draws nothing more after text that is none
  const double w = label_width(text, size_px);
  const double pad = kLabelPad * size_px;
  const double h = size_px + 2 * pad;
  const double x = std::clamp(at.x, 0.0, std::max(0.0, cairo_image_surface_get_width(surface_->pixels) - w));
  const double y = std::clamp(at.y, 0.0, std::max(0.0, cairo_image_surface_get_height(surface_->pixels) - h));
  // Dark letters stand on a light plate, so that every colour can be read on any ground.
  const bool is_dark = 0.299 * ink.red + 0.587 * ink.green + 0.114 * ink.blue < 0.45;
  const double plate = is_dark ? 1 : 0;
  cairo_set_source_rgba(pen, plate, plate, plate, is_dark ? 0.85 : kRimOpacity);
  cairo_rectangle(pen, x, y, w, h);
  cairo_fill(pen);
  surface_->use(ink);
  cairo_move_to(pen, x + pad, y + pad + 0.82 * size_px);
  cairo_show_text(pen, text.c_str());
}

double Canvas::text_width(const std::string& text, double size_px) const {
  surface_->set_font(size_px, CAIRO_FONT_WEIGHT_NORMAL);
  cairo_text_extents_t extents;
  cairo_text_extents(surface_->pen, plain_line(text).c_str(), &extents);
  return extents.x_advance;
}

void Canvas::write(const std::string& text, Point at, Ink ink, double size_px) {
  surface_->set_font(size_px, CAIRO_FONT_WEIGHT_NORMAL);
  surface_->use(ink);
  cairo_move_to(surface_->pen, at.x, at.y + 0.95 * size_px);
  cairo_show_text(surface_->pen, plain_line(text).c_str());
}

void Canvas::fill(const Box& box, Ink ink) {
  surface_->use(ink);
  cairo_rectangle(surface_->pen, box.x, box.y, box.w, box.h);
  cairo_fill(surface_->pen);
}

void Canvas::line(std::span<const Point> points, Ink ink, double width_px, Stroke stroke) {
  cairo_t* pen = surface_->pen;
  cairo_new_path(pen);
  bool is_down = false;
  for (const Point& point : points) {
    const bool is_known = std::isfinite(point.x) && std::isfinite(point.y);
    if (is_known && is_down)
      cairo_line_to(pen, point.x, point.y);
    else if (is_known)
      cairo_move_to(pen, point.x, point.y);
    is_down = is_known;
  }
  surface_->dash(stroke, width_px);
  surface_->use(ink);
  cairo_set_line_width(pen, width_px);
  cairo_stroke(pen);
  cairo_set_dash(pen, nullptr, 0, 0);
}

void Canvas::border(Ink ink, double width_px) {
  cairo_t* pen = surface_->pen;
  surface_->use(ink);
  cairo_set_line_width(pen, 2 * width_px);
  cairo_rectangle(pen, 0, 0, cairo_image_surface_get_width(surface_->pixels),
                  cairo_image_surface_get_height(surface_->pixels));
  cairo_stroke(pen);
}

void Canvas::paste(ImageView<const Byte> rgb, Point at) {
  const Surface other(rgb.rows, rgb.cols);
  put_rows(other.pixels, rgb);
  cairo_set_source_surface(surface_->pen, other.pixels, at.x, at.y);
  cairo_paint(surface_->pen);
}

Image<Byte> Canvas::picture() const {
  cairo_surface_flush(surface_->pixels);
  const unsigned char* data = cairo_image_surface_get_data(surface_->pixels);
  const int stride = cairo_image_surface_get_stride(surface_->pixels);
  Image<Byte> rgb(cairo_image_surface_get_height(surface_->pixels),
                  cairo_image_surface_get_width(surface_->pixels), 3);
  for (int r = 0; r < rgb.rows(); ++r)
    for (int c = 0; c < rgb.cols(); ++c) {
      std::uint32_t pixel = 0;
      std::memcpy(&pixel, data + static_cast<std::ptrdiff_t>(r) * stride + 4 * c, 4);
      for (int channel = 0; channel < 3; ++channel)
        rgb(r, c, channel) = static_cast<Byte>(pixel >> (16 - 8 * channel));
    }
  return rgb;
}

}  // namespace mnemon
