// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/single.hpp>

#include <mnemon/run/protocol/unaided.hpp>

namespace mnemon {
ProtocolEntry single_protocol() {
  return {
      .name = "single",
      .summary = "Once, from the first truth box to the end.",
      .schema = schema_of<SingleParams>(),
      .is_timed = [](const ParamSet& set) { return bound_params<SingleParams>(set, "single").timed; },
      .starts = [](const ParamSet&, const Truth& truth) { return first_start(truth); },
      .run = [](const ParamSet&, const ProtocolGround& ground) { return run_unaided(ground); },
      .score_options = [](const ParamSet&) { return unaided_scores(); },
      .columns = {"success_area", "success_at_0.5", "hit_rate_20", "median_centre_error", "hold_f",
                  "absence_rate", "losses", "recovered_share", "returned_share", "frames_per_s",
                  "step_ms_p50", "step_ms_p95"},
      .figures = {"step-time"},
  };
}

}  // namespace mnemon
