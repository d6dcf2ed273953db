// SPDX-License-Identifier: MIT
#include <mnemon/report/palette.hpp>

#include <array>
#include <cmath>

#include <fmt/format.h>

namespace mnemon {
namespace {

constexpr std::array<Ink, 7> kInks{{{0.90, 0.62, 0.00},
                                    {0.00, 0.45, 0.70},
                                    {0.00, 0.62, 0.45},
                                    {0.84, 0.37, 0.00},
                                    {0.80, 0.47, 0.65},
                                    {0.34, 0.71, 0.91},
                                    {0.35, 0.35, 0.35}}};

int level(double part) { return static_cast<int>(std::lround(255 * part)); }

}  // namespace

Ink tracker_ink(int n) noexcept { return kInks[static_cast<std::size_t>(n) % kInks.size()]; }

bool is_tracker_dashed(int n) noexcept { return static_cast<std::size_t>(n) / kInks.size() % 2 == 1; }

Stroke tracker_stroke(int n) noexcept {
  constexpr std::array kStrokes{Stroke::solid, Stroke::dotted, Stroke::dash_dotted};
  return kStrokes[static_cast<std::size_t>(n) % kStrokes.size()];
}

std::string tracker_colour(int n) {
  const Ink ink = tracker_ink(n);
  return fmt::format("#{:02x}{:02x}{:02x}", level(ink.red), level(ink.green), level(ink.blue));
}

}  // namespace mnemon
