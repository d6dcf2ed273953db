// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/grey_patch.hpp>

#include <algorithm>

#include <mnemon/image/arithmetic.hpp>
#include <mnemon/signal/windows.hpp>

namespace mnemon {

GreyPatch::GreyPatch(int rows, int cols, double max_w, double max_h)
    : sampler_(rows, cols, max_w, max_h),
      taper_(cosine_window(rows, cols)),
      levels_(rows, cols),
      patch_(rows, cols) {}

ImageView<const float> GreyPatch::take(ImageView<const Byte> rgb, const OrientedBox& window) noexcept {
  sampler_.sample_into(rgb, window, levels_.view());
  log1p_in_place(levels_.elements());
  return prepare(levels());
}

ImageView<const float> GreyPatch::prepare(ImageView<const float> levels) noexcept {
  std::ranges::copy(levels.elements(), patch_.elements().begin());
  normalise_and_taper(patch_.elements(), taper_.elements());
  return patch();
}

}  // namespace mnemon
