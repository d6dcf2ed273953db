// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/frame.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// The numbers of a chain of preparation steps.
struct PreparationRules {
  std::string chain = "grey blur background";  ///< Steps in their order, of `Preparation::step_names()`.
  double gamma = 1;                            ///< Of `gamma`: brightness to that power.
  double blur_px = 3;                          ///< Of `blur`: width that is averaged over.
  double average_rate = 0.5;                   ///< Of `average`: weight of the newest frame.
  double difference_level = 12;                ///< Of `difference`: change that counts half, of 255 levels.
  double background_rate = 0.02;  ///< Of `background`: weight of the newest frame in mean and deviation.
  double sigmas = 4;              ///< Of `background`: deviations from the mean that count half.
  double shadow_from = 0.5;  ///< Of `shadows`: shares of the mean's brightness that are taken for a shadow.
  double shadow_to = 0.95;
};

/// A chain of steps that turns whole frames into how much each pixel stands out by its motion. Numbers are kept in
/// 64ths of a level, in 16 bits, which halves what has to be read. Allocates nothing after `start`. Source: Wren,
/// Azarbayejani, Darrell and Pentland, TPAMI 1997, for the running mean and deviation; Horprasert, Harwood and Davis
/// 1999, for shadows as a like colour that is darker.
class Preparation {
 public:
  using Value = std::uint16_t;                ///< 64ths of one of 255 levels.
  static constexpr int kLevel = 64;           ///< What one of 255 levels is.
  static constexpr int kFull = 255 * kLevel;  ///< A pixel that stands out wholly; half of it matches.

  /// The steps that a chain may have.
  [[nodiscard]] static std::vector<std::string> step_names();

  /// \throws CallError  where the steps of a chain are none, or in an order that makes no sense.
  static void check(const std::string& chain) { static_cast<void>(steps_of(chain)); }

  /// Starts from a frame; what lies in the box is the target, and the background behind it is guessed. Of an empty box
  /// nothing is.
  /// \throws CallError  as `check`.
  void start(ImageView<const Byte> rgb, const Box& target, const PreparationRules& rules);

  /// Starts with the target in that box, from the background that the frames before taught. Where the background does
  /// not tell a part of the marked box from itself, it may have learnt the target: there it is guessed, as `start` does.
  void start_from_watched(ImageView<const Byte> rgb, const Box& target);

  /// Goes on by other numbers; the chain stays.
  void retune(const PreparationRules& rules);

  /// The next frame through all steps.
  /// Where the target should be, px, the background learns nothing.
  /// \returns  How much each pixel stands out, 0 to kFull; it holds until the next call.
  ImageView<const Value> prepare(ImageView<const Byte> rgb, const Box& target) noexcept;

  /// Of the frames that it was started for.
  [[nodiscard]] FrameSize size() const noexcept { return {value_.cols(), value_.rows()}; }

  /// What came of the last frame: rows x columns.
  [[nodiscard]] ImageView<const Value> result() const noexcept { return value_.view(); }
  /// Its mean over the frames so far: rows x columns.
  [[nodiscard]] ImageView<const Value> background() const noexcept { return mean_.view(); }

 private:
  enum class Step { grey, gamma, blur, average, difference, background, shadows };

  [[nodiscard]] static std::vector<Step> steps_of(const std::string& chain);
  void run(Step step, ImageView<const Byte> rgb, const Box& target) noexcept;
  void blur() noexcept;
  void subtract_background(const Box& target) noexcept;
  void mend_background(int left, int top, int right, int bottom);
  void fill_behind(int left, int top, int right, int bottom) noexcept;

  PreparationRules rules_;
  std::vector<Step> steps_;
  bool drops_shadows_ = false;
  bool started_ = false;
  bool mends_ = false;              // the background, as the target is marked only now
  std::vector<Value> gamma_table_;  // for each level
  Image<Value> value_;
  Image<Value> before_;   // of `difference`
  Image<Value> average_;  // of `average`
  Image<Value> mean_;     // of `background`
  Image<Value> deviation_;
  Image<Value> input_;                                     // of `background`, for `shadows`
  std::vector<std::uint32_t> sums_, spare_, window_sums_;  // of a row, with what is beyond its edges
  Image<Value> lines_;
};

}  // namespace mnemon
