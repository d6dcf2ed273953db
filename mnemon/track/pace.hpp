// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/base/params.hpp>

namespace mnemon {

/// Describes the member `pace` of a tracker's parameters, which trades accuracy for speed the same way in every tracker
/// that has something to set: what it sets are defaults, and a parameter that is given itself keeps its value.
template <class P>
void describe_pace(auto& schema, const ParamSet& quick, const ParamSet& careful) {
  schema.presets("pace", &P::pace, {"quick", "usual", "careful"}, {{"quick", quick}, {"careful", careful}},
                 "Speed against accuracy: sets the defaults of other parameters together.");
}

}  // namespace mnemon
