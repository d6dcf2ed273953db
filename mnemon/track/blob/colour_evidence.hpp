// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <optional>

#include <mnemon/image/bit_mask.hpp>
#include <mnemon/image/frame.hpp>
#include <mnemon/track/blob/blob_evidence.hpp>
#include <mnemon/track/blob/colour_memory.hpp>
#include <mnemon/track/region.hpp>
#include <mnemon/vision/block_window.hpp>
#include <mnemon/vision/colour_distribution.hpp>
#include <mnemon/vision/light_change.hpp>
#include <mnemon/vision/picture_search.hpp>

namespace mnemon {

/// A colour picked by hand and how far from it still matches.
struct PickedColour {
  std::array<int, 3> rgb{};  ///< Each from 0 to 255.
  double distance = 40;      ///< In levels of red against green and yellow against blue, light counting half.
};

/// Evidence by colour: learnt from a region against its surroundings, in the space that tells them best apart, with
/// the level chosen between the two; or the nearness to a picked colour. Allocates nothing once started.
class ColourEvidence {
 public:
  /// What learning goes by.
  struct Rules {
    double target_rate = 0.05;                ///< Weight of the newest frame in the target's colours.
    double around_rate = 0.05;                ///< And in those around it.
    double level = 0;                         ///< Of the weights that match, in (0, 1); 0 to choose it.
    std::optional<ColourParts> space = {};    ///< Left out: chosen by the target.
    std::optional<PickedColour> picked = {};  ///< Left out: the colours are learnt.
  };

  /// Starts afresh from a region of a frame.
  void start(const Frame& frame, const Region& region, const Box& box, const Rules& rules);

  /// Goes on by other rules: a picked colour stays a picked one, and colours that were learnt keep their space.
  void retune(const Rules& rules);

  /// Takes the next frame, which lasts until the one after it.
  void take(const Frame& frame) {
    rgb_ = frame.rgb;
    if (!rules_.picked) light_.follow(rgb_);  // a picked colour is meant as it is
  }
  /// What a window weighs, in cells of `block` x `block` pixels; holds until the next call.
  BlobEvidence look(const Box& window, int block);
  /// Takes what is in the last window into what is known: the cells of the target, and what lies outside the box, px.
  void learn(const BitMask& target, const Box& box);
  /// Whether it can tell how alike a place is.
  [[nodiscard]] bool tells_likeness() const noexcept { return !rules_.picked; }
  /// How like the seed the last look is within a box, px, in [0, 1].
  double likeness(const Box& box);
  /// The most promising place of the picture for a lost target.
  std::optional<Point> search(const Box& box, bool first);
  /// The most promising place beside the target.
  std::optional<Point> search_beside(const Box& box);

  /// In which colours are told apart.
  [[nodiscard]] ColourParts space() const noexcept { return colours_.space().parts(); }
  /// Of the weights, above which they match.
  [[nodiscard]] double level() const noexcept { return rules_.level > 0 ? rules_.level : level_; }

 private:
  template <class Use>
  void for_each_cell(const Region& region, const Box& box, Use use) const;
  void learn_seed(const Region& region, const Box& box);
  void choose_level(const Region& region, const Box& box);
  void take_weights() noexcept;
  [[nodiscard]] const float* table_in_this_light() noexcept;
  void remember(const Box& box) noexcept;
  void weigh() noexcept;
  void weigh_by_nearness(const PickedColour& picked);

  Rules rules_;
  ImageView<const Byte> rgb_;  // of the frame at hand
  LightChange light_;          // of the frame against what the colours were learnt from
  ColourDistribution colours_;
  ColourMemory memory_;
  std::vector<float> table_;  // what each colour weighs
  std::vector<float> spare_;
  BlockWindow window_;
  Image<float> weights_;
  PictureSearch search_;
  float level_ = 0.5f;
};

}  // namespace mnemon
