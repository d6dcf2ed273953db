// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/colour_response.hpp>
#include <mnemon/vision/colour_model.hpp>

namespace mnemon {

/// What a target's colours say of where it is, beside what a filter says: a model of them, learnt as the filter is, and
/// the response of a window by it. Allocates nothing once made.
class ColourVote {
 public:
  ColourVote() = default;
  /// Knows no colours yet.
  /// \param rows, cols  Cells of the windows that it looks at.
  /// \param share       Of a window's sides that the target takes.
  ColourVote(int rows, int cols, Point share)
      : share_(share), likelihood_(rows, cols), response_(rows, cols) {}

  /// Takes the colours of a window with the target in its middle, at a rate from 0 to 1.
  void learn(ImageView<const ColourIndex> colours, double rate) noexcept;

  /// Looks at a window: its likelihood and its response are those of the last one.
  void look(ImageView<const ColourIndex> colours) noexcept;

  /// Takes the window that was looked at last for one with the target in its middle: what is usual there.
  void accept() noexcept;

  /// Adds the response of the last window to a filter's, rows x cols, each in units of what it usually is on the target.
  /// Colours that hardly tell the target count less, and those of which nothing is usual yet, nothing.
  /// \param response      Of the filter, to which the other is added.
  /// \param weight        Of the response by colour, over that of the filter.
  /// \param usual_height  Of the filter's peaks on the target.
  void add_to(ImageView<float> response, double weight, double usual_height) const noexcept;

  /// Of the cells of the last window, each in [0, 1].
  [[nodiscard]] ImageView<const float> likelihood() const noexcept { return likelihood_.view(); }

  /// The likelihood of each colour number, by what is known of them.
  [[nodiscard]] const float* table() const noexcept { return model_.table(); }

 private:
  Point share_;
  ColourModel model_;
  Image<float> likelihood_;
  ColourResponse response_;
  double usual_ = 0;  // response where the target is
};

}  // namespace mnemon
