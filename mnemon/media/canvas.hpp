// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <span>
#include <string>

#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// A colour to draw with; each part in [0, 1].
struct Ink {
  double red = 0;    ///< In [0, 1].
  double green = 0;  ///< In [0, 1].
  double blue = 0;   ///< In [0, 1].
};

/// Told apart in every kind of colour vision, and on light and dark ground by their dark rim: truth is white
/// and dashed, estimates take the others in turn. Source: Okabe and Ito 2008, colour universal design.
inline constexpr Ink kTruthInk{1, 1, 1};
inline constexpr Ink kEstimateInk{0.90, 0.62, 0.0};
inline constexpr Ink kWarningInk{0.84, 0.37, 0.0};

/// How an outline is drawn: told apart without regard to colour.
enum class Stroke { solid, dashed, dotted, dash_dotted };

/// An RGB picture to draw on, with smooth edges. Not to be shared by threads.
class Canvas {
 public:
  /// Starts from a copy of an RGB picture.
  explicit Canvas(ImageView<const Byte> rgb);
  /// Starts from an even ground.
  Canvas(int rows, int cols, Ink ground);
  Canvas(Canvas&&) noexcept;
  Canvas& operator=(Canvas&&) noexcept;
  ~Canvas();

  /// Outlines a box, with a dark rim so that it shows on any ground.
  void outline(const OrientedBox& oriented, Ink ink, Stroke stroke = Stroke::solid, double width_px = 2);

  /// Outlines the pixels of a mask that are not 0, along their edges. It has one channel, and its pixel (0, 0) lies
  /// on the picture's.
  void outline(ImageView<const Byte> mask, Ink ink, double width_px = 1.5);

  /// Draws the way through the points, from faint at the first to full at the last.
  void trail(std::span<const Point> points, Ink ink, double width_px = 2);

  /// Writes text on a plate, dark for light ink and light for dark. Its top-left corner is at `at`, but moved as far as
  /// needed to lie inside.
  void label(const std::string& text, Point at, Ink ink, double size_px = 14);

  /// How broad a label's plate is, px.
  [[nodiscard]] double label_width(const std::string& text, double size_px = 14) const;

  /// Writes text without a plate, its top-left corner at `at`.
  void write(const std::string& text, Point at, Ink ink, double size_px = 13);

  /// How broad such text is, px.
  [[nodiscard]] double text_width(const std::string& text, double size_px = 13) const;

  /// Fills an upright box evenly.
  void fill(const Box& box, Ink ink);

  /// Draws lines from point to point, without a rim; a point that is not finite ends one line and begins another.
  void line(std::span<const Point> points, Ink ink, double width_px = 1.5, Stroke stroke = Stroke::solid);

  /// Draws a thick frame along the picture's edge.
  void border(Ink ink, double width_px);

  /// Lays a picture with its top-left corner at `at`.
  void paste(ImageView<const Byte> rgb, Point at);

  /// What has been drawn, as an RGB picture.
  [[nodiscard]] Image<Byte> picture() const;

 private:
  struct Surface;
  std::unique_ptr<Surface> surface_;
};

}  // namespace mnemon
