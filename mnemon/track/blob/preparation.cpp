// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/preparation.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>

namespace mnemon {
namespace {

using Value = Preparation::Value;
constexpr std::array<std::string_view, 7> kNames{"grey",       "gamma",      "blur",   "average",
                                                 "difference", "background", "shadows"};
constexpr Value kFirstDeviation = 6 * Preparation::kLevel;
constexpr Value kLeastDeviation = 2 * Preparation::kLevel;
constexpr float kMost = Preparation::kFull;
constexpr int kShare = 256;  // rates in 256ths
constexpr int kFineShare = 1 << 15;
constexpr int kFarSlower = 10;  // times slower learns what differs from the background: it may be the target
constexpr int kParts = 4;  // of a marked box along each side, which are told from the background one by one
constexpr double kToldShare = 0.7;  // of a part's pixels

MNEMON_CLONES void grey_of(const Byte* __restrict rgb, int count, Value* __restrict out) noexcept {
  for (int i = 0; i < count; ++i)
    out[i] = static_cast<Value>((19 * rgb[3 * i] + 38 * rgb[3 * i + 1] + 7 * rgb[3 * i + 2]));
}

MNEMON_CLONES void add_to(const std::uint32_t* __restrict values, int count,
                          std::uint32_t* __restrict sums) noexcept {
  for (int i = 0; i < count; ++i) sums[i] += values[i];
}

MNEMON_CLONES void add_neighbours(const std::uint32_t* __restrict values, int away, int count,
                                  std::uint32_t* __restrict out) noexcept {
  for (int i = 0; i < count; ++i) out[i] = values[i] + values[i + away];
}

// `share` is 2^16 over how many values each sum is of. Values are below 2^14, so that 32 bits hold the product.
MNEMON_CLONES void take_share(const std::uint32_t* __restrict sums, std::uint32_t share, int count,
                              Value* __restrict out) noexcept {
  for (int i = 0; i < count; ++i) out[i] = static_cast<Value>(sums[i] * share >> 16);
}

MNEMON_CLONES void move_sums(const Value* __restrict next, const Value* __restrict last, int count,
                             std::uint32_t* __restrict sums) noexcept {
  for (int i = 0; i < count; ++i) sums[i] += std::uint32_t{next[i]} - last[i];
}

MNEMON_CLONES void blend_values(Value* __restrict value, Value* __restrict average, int rate,
                                int count) noexcept {
  for (int i = 0; i < count; ++i) {
    const int known = average[i];
    average[i] = static_cast<Value>(known + (rate * (value[i] - known)) / kShare);
    value[i] = average[i];
  }
}

MNEMON_CLONES void differences(Value* __restrict value, Value* __restrict before, int scale,
                               int count) noexcept {
  for (int i = 0; i < count; ++i) {
    const int now = value[i];
    const int apart = now > before[i] ? now - before[i] : before[i] - now;
    const int scaled = apart * scale / 16;
    before[i] = static_cast<Value>(now);
    value[i] = static_cast<Value>(scaled < Preparation::kFull ? scaled : Preparation::kFull);
  }
}

// A value times a share, in 2^15ths, rounded. In 16 bits this is one instruction.
inline std::int16_t share_of(std::int16_t value, std::int16_t share) noexcept {
  return static_cast<std::int16_t>(((value * share >> 14) + 1) >> 1);
}

// Deviations are of the mean absolute kind, and learn a tenth as much from what is far off. Values are below 2^14, so
// that all but the ratio is worked out in 16 bits.
MNEMON_CLONES void stand_out(Value* __restrict value, Value* __restrict mean, Value* __restrict deviation,
                             int rate, float scale, int count) noexcept {
  using Signed = std::int16_t;
  const auto near_rate = static_cast<Signed>(rate);
  const auto far_rate = static_cast<Signed>(rate / kFarSlower);
  for (int i = 0; i < count; ++i) {
    const auto known = static_cast<Signed>(mean[i]);
    const auto spread = static_cast<Signed>(deviation[i]);
    const auto off = static_cast<Signed>(value[i] - known);
    const auto apart = static_cast<Signed>(off < 0 ? -off : off);
    const Signed at_least = spread > kLeastDeviation ? spread : Signed{kLeastDeviation};
    const float ratio = scale * static_cast<float>(apart) / static_cast<float>(at_least);
    const auto stands = static_cast<Signed>(static_cast<int>(ratio < kMost ? ratio : kMost));
    const Signed learns = stands > Preparation::kFull / 2 ? far_rate : near_rate;
    mean[i] = static_cast<Value>(known + share_of(off, learns));
    deviation[i] = static_cast<Value>(spread + share_of(static_cast<Signed>(apart - spread), learns));
    value[i] = static_cast<Value>(stands);
  }
}

// What an offset over the mean deviation is multiplied by, so that so many deviations count half.
float standing_scale(double sigmas) noexcept {
  return static_cast<float>(0.5 * Preparation::kFull /
                            (sigmas * 0.8));  // a mean one is 0.8 of a standard one
}

// Ratios in 256ths.
MNEMON_CLONES void drop_shadows(const Value* __restrict input, const Value* __restrict mean, int from, int to,
                                int count, Value* __restrict value) noexcept {
  for (int i = 0; i < count; ++i) {
    const int now = kShare * input[i];
    const bool is_shadow = now >= from * mean[i] && now <= to * mean[i];
    value[i] = is_shadow ? Value{0} : value[i];
  }
}

}  // namespace

std::vector<std::string> Preparation::step_names() { return {kNames.begin(), kNames.end()}; }

std::vector<Preparation::Step> Preparation::steps_of(const std::string& chain) {
  std::vector<Step> steps;
  for (const std::string_view word : parts_of(chain, ' ')) {
    const auto at = std::ranges::find(kNames, word);
    const auto step = static_cast<Step>(at - kNames.begin());
    if (steps.empty() != (step == Step::grey))
      throw CallError(fmt::format("chain '{}': 'grey' is the first step, and only that", chain));
    if (step == Step::shadows && std::ranges::find(steps, Step::background) == steps.end())
      throw CallError(fmt::format("chain '{}': 'shadows' needs a 'background' before it", chain));
    if (std::ranges::find(steps, step) != steps.end())
      throw CallError(fmt::format("chain '{}': the step '{}' is there twice", chain, word));
    steps.push_back(step);
  }
  return steps;
}

void Preparation::start(ImageView<const Byte> rgb, const Box& target, const PreparationRules& rules) {
  steps_ = steps_of(rules.chain);
  drops_shadows_ = std::ranges::find(steps_, Step::shadows) != steps_.end();
  value_ = Image<Value>(rgb.rows, rgb.cols);
  before_ = Image<Value>(rgb.rows, rgb.cols);
  average_ = Image<Value>(rgb.rows, rgb.cols);
  mean_ = Image<Value>(rgb.rows, rgb.cols);
  deviation_ = Image<Value>(rgb.rows, rgb.cols);
  input_ = Image<Value>(rgb.rows, rgb.cols);
  lines_ = Image<Value>(rgb.rows, rgb.cols);
  retune(rules);
  started_ = false;
  prepare(rgb, target);
  started_ = true;
}

void Preparation::retune(const PreparationRules& rules) {
  rules_ = rules;
  gamma_table_.resize(256);
  for (int i = 0; i < 256; ++i)
    gamma_table_[i] = static_cast<Value>(std::lround(kFull * std::pow(i / 255.0, rules.gamma)));
  const auto most = static_cast<std::size_t>(value_.cols() + std::ceil(rules.blur_px) + 1);
  for (auto* sums : {&sums_, &spare_, &window_sums_}) sums->assign(most, 0U);
}

void Preparation::start_from_watched(ImageView<const Byte> rgb, const Box& target) {
  mends_ = true;
  prepare(rgb, target);
  mends_ = false;
}

ImageView<const Value> Preparation::prepare(ImageView<const Byte> rgb, const Box& target) noexcept {
  for (const Step step : steps_) run(step, rgb, target);
  return value_.view();
}

void Preparation::run(Step step, ImageView<const Byte> rgb, const Box& target) noexcept {
  const std::span<Value> values = value_.elements();
  const int count = static_cast<int>(values.size());
  switch (step) {
    case Step::grey:
      for (int r = 0; r < rgb.rows; ++r) grey_of(rgb.row(r), rgb.cols, value_.view().row(r));
      break;
    case Step::gamma:
      for (Value& value : values) value = gamma_table_[value / kLevel];
      break;
    case Step::blur:
      blur();
      break;
    case Step::average:
      if (!started_) std::ranges::copy(values, average_.elements().begin());
      blend_values(values.data(), average_.elements().data(),
                   static_cast<int>(std::lround(kShare * rules_.average_rate)), count);
      break;
    case Step::difference:
      if (!started_) std::ranges::copy(values, before_.elements().begin());
      differences(values.data(), before_.elements().data(),
                  static_cast<int>(std::lround(16 * 127.5 / rules_.difference_level)), count);
      break;
    case Step::background:
      subtract_background(target);
      break;
    case Step::shadows:
      drop_shadows(input_.elements().data(), mean_.elements().data(),
                   static_cast<int>(std::lround(kShare * rules_.shadow_from)),
                   static_cast<int>(std::lround(kShare * rules_.shadow_to)), count, values.data());
      break;
  }
}

// Beyond the edge the edge again. Down the columns by a running sum; along a row by sums of 1, 2, 4 and so on
// neighbours, those that make up the width put together: a running sum there would have each pixel wait for the one
// before.
void Preparation::blur() noexcept {
  const int radius = static_cast<int>(std::lround(0.5 * (rules_.blur_px - 1)));
  if (radius <= 0) return;
  const int rows = value_.rows();
  const int cols = value_.cols();
  const int width = 2 * radius + 1;
  const std::uint32_t share = (1U << 16) / static_cast<std::uint32_t>(width);
  for (int r = 0; r < rows; ++r) {
    const Value* const in = value_.view().row(r);
    std::fill_n(sums_.begin(), radius, in[0]);
    std::copy_n(in, cols, sums_.begin() + radius);
    std::fill_n(sums_.begin() + radius + cols, radius, in[cols - 1]);
    std::fill_n(window_sums_.begin(), cols, 0U);
    int from = 0;
    for (int length = 1; length <= width; length *= 2) {  // `sums_` are of so many neighbours
      if ((width & length) != 0) {
        add_to(sums_.data() + from, cols, window_sums_.data());
        from += length;
      }
      if (2 * length > width) break;
      add_neighbours(sums_.data(), length, cols + width - 2 * length, spare_.data());
      std::swap(sums_, spare_);
    }
    take_share(window_sums_.data(), share, cols, lines_.view().row(r));
  }
  std::ranges::fill(sums_, 0U);
  for (int r = -radius; r <= radius; ++r)
    for (int c = 0; c < cols; ++c) sums_[c] += lines_(std::clamp(r, 0, rows - 1), c);
  for (int r = 0; r < rows; ++r) {
    take_share(sums_.data(), share, cols, value_.view().row(r));
    move_sums(lines_.view().row(std::min(r + radius + 1, rows - 1)),
              lines_.view().row(std::max(r - radius, 0)), cols, sums_.data());
  }
}

// What the target covers on the seed frame is guessed from the pixels at the ends of each row and column of its box,
// the nearer ones counting more.
void Preparation::fill_behind(int left, int top, int right, int bottom) noexcept {
  const int rows = mean_.rows();
  const int cols = mean_.cols();
  for (int r = top; r < bottom; ++r)
    for (int c = left; c < right; ++c) {
      double sum = 0;
      double weights = 0;
      const auto add = [&](int row, int col, int away) {
        if (row < 0 || col < 0 || row >= rows || col >= cols) return;
        const double weight = 1.0 / away;
        sum += weight * value_(row, col);
        weights += weight;
      };
      add(r, left - 1, c - left + 1);
      add(r, right, right - c);
      add(top - 1, c, r - top + 1);
      add(bottom, c, bottom - r);
      if (weights > 0) mean_(r, c) = static_cast<Value>(sum / weights);
    }
}

void Preparation::mend_background(int left, int top, int right, int bottom) {
  const Image<Value> watched(mean_);
  Image<Value> stands(value_);
  stand_out(stands.elements().data(), mean_.elements().data(), deviation_.elements().data(), 0,
            standing_scale(rules_.sigmas), static_cast<int>(stands.elements().size()));
  fill_behind(left, top, right, bottom);
  for (int i = 0; i < kParts; ++i)
    for (int j = 0; j < kParts; ++j) {
      const int from_r = top + (bottom - top) * i / kParts;
      const int to_r = top + (bottom - top) * (i + 1) / kParts;
      const int from_c = left + (right - left) * j / kParts;
      const int to_c = left + (right - left) * (j + 1) / kParts;
      int standing = 0;
      for (int r = from_r; r < to_r; ++r)
        for (int c = from_c; c < to_c; ++c) standing += stands(r, c) > kFull / 2 ? 1 : 0;
      if (standing < kToldShare * (to_r - from_r) * (to_c - from_c)) continue;
      for (int r = from_r; r < to_r; ++r) std::copy_n(&watched(r, from_c), to_c - from_c, &mean_(r, from_c));
    }
}

void Preparation::subtract_background(const Box& target) noexcept {
  const int rows = value_.rows();
  const int cols = value_.cols();
  const int left = std::clamp(static_cast<int>(std::floor(target.x)), 0, cols);
  const int right = std::clamp(static_cast<int>(std::ceil(target.x + target.w)), left, cols);
  const int top = std::clamp(static_cast<int>(std::floor(target.y)), 0, rows);
  const int bottom = std::clamp(static_cast<int>(std::ceil(target.y + target.h)), top, rows);
  const int rate =
      std::min(static_cast<int>(std::lround(kFineShare * rules_.background_rate * 2)), kFineShare - 1);
  const float scale = standing_scale(rules_.sigmas);
  if (drops_shadows_) std::ranges::copy(value_.elements(), input_.elements().begin());
  if (!started_) {
    std::ranges::copy(value_.elements(), mean_.elements().begin());
    std::ranges::fill(deviation_.elements(), kFirstDeviation);
    fill_behind(left, top, right, bottom);
  }
  if (mends_) mend_background(left, top, right, bottom);
  for (int r = 0; r < rows; ++r) {
    Value* const value = value_.view().row(r);
    Value* const mean = mean_.view().row(r);
    Value* const deviation = deviation_.view().row(r);
    const bool crosses = r >= top && r < bottom && right > left;
    const int first = crosses ? left : cols;
    stand_out(value, mean, deviation, rate, scale, first);
    if (!crosses) continue;
    // In the target's box the background is compared and not learnt.
    stand_out(value + left, mean + left, deviation + left, 0, scale, right - left);
    stand_out(value + right, mean + right, deviation + right, rate, scale, cols - right);
  }
}

}  // namespace mnemon
