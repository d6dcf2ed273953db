// SPDX-License-Identifier: MIT
#include <mnemon/study/follow_json.hpp>

#include <nlohmann/json.hpp>

#include <mnemon/study/score_record.hpp>

namespace mnemon {

Json row_json(const TraceRow& row) {
  const Box& box = row.box.box;
  return {{"frame", row.frame},
          {"x", box.x},
          {"y", box.y},
          {"w", box.w},
          {"h", box.h},
          {"angle", row.box.angle_deg},
          {"confidence", row.confidence},
          {"present", row.present},
          {"step_ms", figure_json(row.step_ms)},
          {"event", event_name(row.event)}};
}

Json follow_json(const FollowSummary& summary, std::span<const SeedChoice> choices) {
  Json json = {{"first_frame", summary.first_frame},
               {"last_frame", summary.last_frame},
               {"frames", summary.frames},
               {"lost_frames", summary.lost_frames}};
  if (summary.skipped_frames > 0) json["skipped_frames"] = summary.skipped_frames;
  for (const SeedChoice& choice : choices) json["by_seed"][choice.name] = param_json(choice.value);
  if (summary.rows_kept)
    json["step_ms_p50"] = figure_json(summary.step_ms_p50);
  else
    json["step_ms_mean"] = figure_json(summary.step_ms_mean);
  json["frames_per_s"] = figure_json(summary.frames_per_s);
  if (summary.score) {
    json["success_area"] = figure_json(summary.score->success_area);
    json["absence_rate"] = figure_json(summary.score->absence_rate);
    if (summary.score->position_frames > 0)
      json["position_error_median"] = figure_json(summary.score->position_error_median);
  }
  if (summary.mask_overlap) json["mean_mask_overlap"] = *summary.mask_overlap;
  return json;
}

}  // namespace mnemon
