// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/colour_vote.hpp>

#include <algorithm>

#include <mnemon/track/corr/target_colours.hpp>
#include <mnemon/track/hold/usual.hpp>

namespace mnemon {
namespace {

constexpr double kFull = 0.3;  // a response that tells the target as well as can be

}  // namespace

void ColourVote::learn(ImageView<const ColourIndex> colours, double rate) noexcept {
  learn_colours(colours, share_, rate, model_);
}

void ColourVote::look(ImageView<const ColourIndex> colours) noexcept {
  cell_likelihood_into(colours, model_, likelihood_.view());
  response_.find(likelihood(), share_);
}

void ColourVote::accept() noexcept {
  const double here = response_.response()(likelihood_.rows() / 2, likelihood_.cols() / 2);
  usual_ += (usual_ > 0 ? Usual::kRate : 1) * (here - usual_);
}

void ColourVote::add_to(ImageView<float> response, double weight, double usual_height) const noexcept {
  const double sure = std::clamp(usual_ / kFull, 0.0, 1.0);
  const auto by = static_cast<float>(usual_ > 0 ? weight * sure * usual_height / usual_ : 0);
  const ImageView<const float> by_colour = response_.response();
  for (int r = 0; r < by_colour.rows; ++r)
    for (int c = 0; c < by_colour.cols; ++c) response(r, c) += by * std::max(0.0f, by_colour(r, c));
}

}  // namespace mnemon
