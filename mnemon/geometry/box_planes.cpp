// SPDX-License-Identifier: MIT
#include <mnemon/geometry/box_planes.hpp>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

struct Plane {
  const double* x;
  const double* y;
  const double* w;
  const double* h;
};

// Choices are made by masks, not branches, so that the loop is one of vectors.
MNEMON_CLONES void overlap_kernel(Plane a, Plane b, double* __restrict out, std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const Box one{a.x[i], a.y[i], a.w[i], a.h[i]};
    const Box other{b.x[i], b.y[i], b.w[i], b.h[i]};
    const int proper = static_cast<int>(is_proper(one)) & static_cast<int>(is_proper(other));
    const double shared = detail::shared_length(one.w, other.x - one.x, other.w) *
                          detail::shared_length(one.h, other.y - one.y, other.h);
    const double share = std::min(1.0, shared / (one.w * one.h + other.w * other.h - shared));
    out[i] = proper != 0 ? share : 0;
  }
}

Plane pointers(const BoxPlanes& boxes) noexcept {
  return {boxes.x.data(), boxes.y.data(), boxes.w.data(), boxes.h.data()};
}

}  // namespace

void overlaps_into(const BoxPlanes& a, const BoxPlanes& b, std::span<double> out) noexcept {
  MNEMON_ASSERT(a.size() == b.size() && a.size() == out.size());
  overlap_kernel(pointers(a), pointers(b), out.data(), out.size());
}

}  // namespace mnemon
