// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/colour.hpp>

namespace mnemon {

Estimate BlobColour::do_seed(const Frame& frame, const Region& region, const Box& box) {
  const BlobColourParams& p = params_;
  ColourEvidence::Rules rules{p.target_rate, p.around_rate, p.level, colour_parts(p.space)};
  if (p.colour == "given") rules.picked = {{p.red, p.green, p.blue}, p.distance};
  follower_.evidence().start(frame, region, box, rules);
  return follower_.start(frame, region, box, p);
}

std::vector<SeedChoice> BlobColour::do_choices() const {
  if (params_.colour == "given") return {};
  return {{"space", kColourParts[static_cast<std::size_t>(follower_.evidence().space())]},
          {"level", follower_.evidence().level()}};
}

}  // namespace mnemon
