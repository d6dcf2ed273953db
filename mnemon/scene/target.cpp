// SPDX-License-Identifier: MIT
#include <mnemon/scene/target.hpp>

#include <array>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/balloon.hpp>
#include <mnemon/scene/beacon.hpp>
#include <mnemon/scene/kite.hpp>
#include <mnemon/scene/streamer.hpp>

namespace mnemon {
namespace {

constexpr std::array<std::array<Tint, 4>, 4> kColours{{
    {{{206, 44, 40}, {244, 196, 48}, {30, 74, 150}, {240, 236, 224}}},
    {{{236, 120, 28}, {46, 60, 130}, {250, 226, 120}, {190, 36, 60}}},
    {{{150, 32, 98}, {248, 210, 70}, {20, 120, 110}, {244, 240, 232}}},
    {{{24, 96, 66}, {238, 88, 44}, {246, 222, 150}, {70, 40, 110}}},
}};

}  // namespace

std::vector<Tint> cloth_colours(std::uint64_t key, double strangeness) {
  Random random(key);
  const std::size_t set = random.bits() % kColours.size();
  const std::size_t turn = random.bits() % 4;
  std::vector<Tint> cloth;
  for (std::size_t i = 0; i < 4; ++i)
    cloth.push_back(mixed(kColours[set][(i + turn) % 4],
                          kColours[(set + 2) % kColours.size()][(i + turn + 1) % 4],
                          static_cast<float>(strangeness)));
  return cloth;
}

std::unique_ptr<const Target> make_target(TargetKind kind, std::uint64_t key, double strangeness) {
  const std::vector<Tint> cloth = cloth_colours(key, strangeness);
  switch (kind) {
    case TargetKind::kite:
      return std::make_unique<Kite>(cloth, key);
    case TargetKind::streamer:
      return std::make_unique<Streamer>(cloth);
    case TargetKind::balloon:
      return std::make_unique<Balloon>(cloth);
    case TargetKind::beacon:
      return std::make_unique<Beacon>(cloth);
  }
  return nullptr;
}

const char* target_label(TargetKind kind) noexcept {
  constexpr std::array kLabels{"diamond kite", "streamer", "weather balloon", "beacon"};
  return kLabels[static_cast<std::size_t>(kind)];
}

Point tail_place(TargetKind kind) noexcept { return kind == TargetKind::kite ? kKiteLowerTip : Point{}; }

}  // namespace mnemon
