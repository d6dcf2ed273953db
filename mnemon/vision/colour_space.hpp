// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include <mnemon/vision/colour_index.hpp>

namespace mnemon {

/// What of a colour is looked at.
enum class ColourParts {
  hue,             ///< 24 bins around the colour circle: what shading leaves alone.
  hue_saturation,  ///< 18 hues x 4 saturations.
  lightness_chroma  ///< 8 levels of light x 8 x 8 of red against green and yellow against blue: for dull targets.
};

/// A way to sort colours into the bins of a histogram. By hue, colours that are too dull or too dark to have one are
/// in no bin.
class ColourSpace {
 public:
  static constexpr int kNone = -1;       ///< The bin of colours that have none.
  static constexpr int kMostBins = 512;  ///< More than any space has.

  /// The space `lightness_chroma`, whose bins hold every colour.
  ColourSpace() : ColourSpace(ColourParts::lightness_chroma, 0, 0) {}
  /// \param parts  What is looked at.
  /// \param least_saturation, least_value  Below them a colour has no hue; each in [0, 1].
  ColourSpace(ColourParts parts, float least_saturation, float least_value);

  /// What of colours counts.
  [[nodiscard]] ColourParts parts() const noexcept { return parts_; }
  /// How many there are.
  [[nodiscard]] int bins() const noexcept { return bins_; }
  /// Of a colour; kNone where it has none.
  [[nodiscard]] int bin_of(ColourIndex colour) const noexcept { return bin_of_[colour]; }

 private:
  ColourParts parts_;
  int bins_ = 0;
  std::vector<std::int16_t> bin_of_;
};

/// The words for them in parameters, in their order: `hue`, `hue-saturation`, `lightness-chroma`.
inline constexpr std::array<const char*, 3> kColourParts{"hue", "hue-saturation", "lightness-chroma"};
/// The word for having them chosen.
inline constexpr const char* kPartsByTarget = "by-target";

/// What the word stands for; nothing for `by-target`.
[[nodiscard]] std::optional<ColourParts> colour_parts(std::string_view word) noexcept;

/// The space, with its limits, in which a target's colours differ most from those around it. A space of few parts is
/// taken where it is nearly as good, as it stands more changes of light.
/// \param target, around  How often each of the 4096 colours is found there; the target's sum above 0.
/// \param parts  To choose the limits alone.
[[nodiscard]] ColourSpace choose_space(std::span<const float> target, std::span<const float> around,
                                       std::optional<ColourParts> parts = {});

/// Describes the member `space` of a parameter struct.
template <class P>
void describe_space(auto& schema) {
  schema.field("space", &P::space, {kPartsByTarget, kColourParts[0], kColourParts[1], kColourParts[2]},
               "What of colours counts: hue stands shading, the others tell dull targets; by-target takes "
               "what tells the target "
               "best.");
}

/// How well bins tell the target: the mean weight of a pixel of the target less that of one around it, in [-1, 1],
/// where a weight is the share of the target in a bin.
[[nodiscard]] double separation(const ColourSpace& space, std::span<const float> target,
                                std::span<const float> around);

}  // namespace mnemon
