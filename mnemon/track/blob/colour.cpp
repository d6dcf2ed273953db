// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/colour.hpp>

namespace mnemon {

ColourEvidence::Rules BlobColour::evidence_rules() const {
  const BlobColourParams& p = params_;
  ColourEvidence::Rules rules{p.target_rate, p.around_rate, p.level, colour_parts(p.space)};
  if (p.colour == "given") rules.picked = {{p.red, p.green, p.blue}, p.distance};
  return rules;
}

void BlobColour::retune(const BlobColourParams& params) {
  params_ = params;
  follower_.evidence().retune(evidence_rules());
  follower_.retune(params_);
}

Estimate BlobColour::do_seed(const Frame& frame, const Region& region, const Box& box) {
  follower_.evidence().start(frame, region, box, evidence_rules());
  return follower_.start(frame, region, box, params_);
}

std::vector<SeedChoice> BlobColour::do_choices() const {
  if (params_.colour == "given") return {};
  return {{"space", kColourParts[static_cast<std::size_t>(follower_.evidence().space())]},
          {"level", follower_.evidence().level()}};
}

}  // namespace mnemon
