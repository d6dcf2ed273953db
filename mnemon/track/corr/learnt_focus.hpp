// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/patch_window.hpp>
#include <mnemon/track/corr/window_features.hpp>

namespace mnemon {

/// How much of a window a filter learns: the target and what is close around it, where that is asked for. It falls off
/// softly, as a hard edge would be learnt. Allocates nothing after its first stack.
class LearntFocus {
 public:
  /// All of the window.
  LearntFocus() = default;
  /// \param window  That is learnt from.
  /// \param size    Of what is learnt, in target sizes; 0 for all of the window.
  LearntFocus(const PatchWindow& window, double size);

  /// Tells features how many cells about the middle are learnt at all: the others need not be worked out for it.
  void keep_to_middle(WindowFeatures& features) const;

  /// A stack as it is learnt: with what lies beyond the focus faded out. It holds until the next call.
  /// \param stack  Of the window's cells, with the same number of channels each time.
  [[nodiscard]] ImageView<const float> of(ImageView<const float> stack);

 private:
  Image<float> weights_;  // of the cells; empty where all of them count
  Image<float> faded_;
  int rows_ = 0, cols_ = 0;  // about the middle, that are learnt at all
};

}  // namespace mnemon
