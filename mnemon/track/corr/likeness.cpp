// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/likeness.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <span>

#include <mnemon/image/arithmetic.hpp>
#include <mnemon/track/corr/target_colours.hpp>

namespace mnemon {
namespace {

constexpr double kLeastWeight = 0.05;  // of a cell at the corners of the target's box, where its middle has 1
constexpr int kBetweenMemories = 5;    // frames

}  // namespace

void Likeness::start(ImageView<const float> stack, Point share) {
  const auto range = [](int count, double part, int& first, int& end) {
    const int half = std::max(1, static_cast<int>(std::lround(0.5 * part * count)));
    first = std::max(0, count / 2 - half);
    end = std::min(count, count / 2 + half);
  };
  range(stack.cols, share.x, left_, right_);
  range(stack.rows, share.y, top_, bottom_);
  weights_.clear();
  for (int r = top_; r < bottom_; ++r)
    for (int c = left_; c < right_; ++c)
      weights_.push_back(static_cast<float>(std::sqrt(
          std::max(kLeastWeight, 1 - place_in_target(r, c, stack.rows, stack.cols, share).squared()))));
  squares_.clear();
  for (const float weight : weights_) squares_.push_back(weight * weight);
  all_ = std::accumulate(squares_.begin(), squares_.end(), 0.0f);
  means_.assign(stack.channels, 0.0f);
  now_.assign(weights_.size() * stack.channels, 0.0f);
  take(stack);
  for (std::vector<float>& remembered : memory_) remembered = now_;
  remembered_ = 1;
  next_ = 1;
  frames_since_remembered_ = 0;
  usual_ = Usual(1);
}

// use(number of a cell, its channels)
template <class Use>
void Likeness::for_each_cell(ImageView<const float> stack, Use use) noexcept {
  std::size_t i = 0;
  for (int r = top_; r < bottom_; ++r)
    for (int c = left_; c < right_; ++c, ++i)
      use(i, stack.row(r) + static_cast<std::ptrdiff_t>(c) * stack.channels);
}

void Likeness::add_up(ImageView<const float> stack) noexcept {
  std::ranges::fill(means_, 0.0f);
  if (stack.channels > 1) {
    for_each_cell(stack, [&](std::size_t i, const float* values) {
      for (int k = 0; k < stack.channels; ++k) means_[k] += squares_[i] * values[k];
    });
    return;
  }
  // A single channel lies in lines that are added up as one.
  const std::size_t length = right_ - left_;
  for (int r = top_; r < bottom_; ++r)
    means_[0] +=
        dot(std::span(squares_).subspan((r - top_) * length, length), {stack.row(r) + left_, length});
}

void Likeness::take(ImageView<const float> stack) noexcept {
  add_up(stack);
  for (float& mean : means_) mean /= all_;
  for_each_cell(stack, [&](std::size_t i, const float* values) {
    float* to = now_.data() + i * means_.size();
    for (int k = 0; k < stack.channels; ++k) to[k] = weights_[i] * (values[k] - means_[k]);
  });
  const float norm = std::sqrt(sum_of_squares(now_));
  const float scale = norm > 0 ? 1 / norm : 0;
  for (float& value : now_) value *= scale;
}

double Likeness::of(ImageView<const float> stack) noexcept {
  take(stack);
  double best = -1;
  for (int m = 0; m < remembered_; ++m) best = std::max(best, static_cast<double>(dot(now_, memory_[m])));
  return best;
}

void Likeness::learn(double likeness, double remembered_from) noexcept {
  usual_.take(likeness);
  if (likeness < remembered_from || frames_since_remembered_ < kBetweenMemories) return;
  remember();
  frames_since_remembered_ = 0;
}

void Likeness::remember() noexcept {
  std::ranges::copy(now_, memory_[next_].begin());
  remembered_ = std::max(remembered_, next_ + 1);
  next_ = next_ + 1 < kRemembered ? next_ + 1 : 1;
}

}  // namespace mnemon
