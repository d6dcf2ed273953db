// SPDX-License-Identifier: MIT
#include <mnemon/report/panel.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace mnemon {
namespace {

constexpr double kRow = 19;
constexpr double kColumn = 300;  // the least that a line needs
constexpr double kLetters = 12;
constexpr double kSample = 26;  // of the box's line
constexpr double kBar = 40;
constexpr double kNumber = 30;
constexpr double kAside = 100;
constexpr Ink kLetterInk{0.15, 0.13, 0.11};
constexpr Ink kSoftInk{0.80, 0.77, 0.72};

std::size_t columns_in(double width_px) {
  return std::max<std::size_t>(1, static_cast<std::size_t>(width_px / kColumn));
}

// As much of the text as there is room for.
std::string shortened(const std::string& text, double room, const Canvas& canvas) {
  if (canvas.text_width(text, kLetters) <= room) return text;
  std::string cut = text;
  while (!cut.empty() && canvas.text_width(cut + "…", kLetters) > room) {
    cut.pop_back();
    while (!cut.empty() && (static_cast<unsigned char>(cut.back()) & 0xc0) == 0x80) cut.pop_back();
  }
  return cut + "…";
}

void draw_row(const PanelRow& row, Point at, double width_px, double aside_px, Canvas& canvas) {
  const double middle = at.y + kRow / 2;
  const std::array sample{Point{at.x, middle}, Point{at.x + kSample, middle}};
  canvas.line(sample, row.ink, row.present ? 3 : 1.5, row.present ? row.stroke : Stroke::dotted);
  const double bar_left = at.x + width_px - kBar - kNumber - aside_px;
  const double text = at.y + 2;
  canvas.write(shortened(row.label, bar_left - at.x - kSample - 14, canvas), {at.x + kSample + 6, text},
               kLetterInk, kLetters);
  const double share = std::isfinite(row.confidence) ? std::clamp(row.confidence, 0.0, 1.0) : 0;
  canvas.fill({bar_left, middle - 4, kBar, 8}, kSoftInk);
  canvas.fill({bar_left, middle - 4, kBar * share, 8}, row.ink);
  canvas.write(row.present ? fmt::format("{:.2f}", row.confidence) : "lost", {bar_left + kBar + 5, text},
               row.present ? kLetterInk : kWarningInk, kLetters);
  if (!row.aside.empty())
    canvas.write(row.aside, {bar_left + kBar + kNumber + 8, text}, kLetterInk, kLetters);
}

}  // namespace

double panel_height(std::size_t rows, double width_px) {
  const std::size_t columns = columns_in(width_px);
  return kRow * static_cast<double>((rows + columns - 1) / columns);
}

void draw_panel(const std::vector<PanelRow>& rows, Point at, double width_px, Canvas& canvas) {
  const std::size_t columns = columns_in(width_px);
  const std::size_t lines = (rows.size() + columns - 1) / columns;
  const double column = width_px / static_cast<double>(columns);
  const bool has_asides = std::ranges::any_of(rows, [](const PanelRow& row) { return !row.aside.empty(); });
  for (std::size_t i = 0; i < rows.size(); ++i)
    draw_row(rows[i],
             {at.x + column * static_cast<double>(i / lines), at.y + kRow * static_cast<double>(i % lines)},
             column - 10, has_asides ? kAside : 0, canvas);
}

}  // namespace mnemon
