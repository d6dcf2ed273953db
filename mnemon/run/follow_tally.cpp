// SPDX-License-Identifier: MIT
#include <mnemon/run/follow_tally.hpp>

#include <mnemon/media/frame_source.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/score/speed.hpp>

namespace mnemon {

void FollowTally::take(const TraceRow& row) {
  if (sum_.frames == 0) sum_.first_frame = row.frame;
  ++sum_.frames;
  sum_.last_frame = row.frame;
  sum_.lost_frames += row.present ? 0 : 1;
  sum_.skipped_frames += row.event == Event::skip ? 1 : 0;
  if (row.event == Event::none) {
    ++steps_;
    step_ms_ += row.step_ms.value_or(0);
  }
  if (keeps_rows_) trace_.rows.push_back(row);
}

void FollowTally::compare(const TraceRow& row, ImageView<const Byte> mask) {
  const TruthRow* const truth = sequence_->truth.find(row.frame);
  if (mask.empty() || sequence_->masks.empty() || truth == nullptr || !truth->present) return;
  const Image<Byte> right = read_mask(sequence_->folder / numbered_name(sequence_->masks, row.frame));
  if (row.present) mask_overlap_ += overlap(runs_of(mask), runs_of(right.view()));
  ++sum_.masks_compared;
}

FollowSummary FollowTally::summary() const {
  FollowSummary all = sum_;
  all.rows_kept = !trace_.rows.empty();
  if (steps_ > 0) {
    all.step_ms_mean = step_ms_ / steps_;
    if (step_ms_ > 0) all.frames_per_s = 1000 * steps_ / step_ms_;
  }
  if (all.rows_kept) {
    all.step_ms_p50 =
        summarise_speed(step_times(trace_.rows, all.first_frame).step_ms, trace_.rows.front().step_ms)
            .step_ms_p50;
    if (sequence_->has_truth()) all.score = score_run(sequence_->truth, trace_, {{}, all.last_frame});
  }
  if (all.masks_compared > 0) all.mask_overlap = mask_overlap_ / all.masks_compared;
  return all;
}

}  // namespace mnemon
