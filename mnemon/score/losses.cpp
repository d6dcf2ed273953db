// SPDX-License-Identifier: MIT
#include <mnemon/score/losses.hpp>

#include <algorithm>

namespace mnemon {
namespace {

bool restarts_between(std::span<const int> restarts, int before, int after) {
  return std::ranges::any_of(restarts, [=](int frame) { return frame >= before && frame < after; });
}

double present_frames(std::span<const FrameScore> frames) {
  return static_cast<double>(std::ranges::count_if(frames, &FrameScore::present));
}

// The frames from the beginning of a loss to before its end.
std::span<const FrameScore> stretch_of(std::span<const FrameScore> frames, const Loss& loss) {
  const auto begin = std::ranges::lower_bound(frames, loss.begin, {}, &FrameScore::frame);
  const auto end =
      loss.end ? std::ranges::lower_bound(frames, *loss.end, {}, &FrameScore::frame) : frames.end();
  return {begin, end};
}

}  // namespace

bool is_off(const FrameScore& frame, double loss_overlap) noexcept {
  return frame.present && !reaches(frame.overlap, loss_overlap);
}

std::vector<Loss> find_losses(std::span<const FrameScore> frames) {
  std::vector<Loss> losses;
  int off_in_a_row = 0;
  int first_off = 0;
  for (const FrameScore& frame : frames) {
    if (!frame.present) continue;
    const bool lost = !losses.empty() && !losses.back().end;
    if (lost) {
      if (reaches(frame.overlap, kRecoveryOverlap)) losses.back().end = frame.frame;
      continue;
    }
    if (!is_off(frame)) {
      off_in_a_row = 0;
      continue;
    }
    if (off_in_a_row++ == 0) first_off = frame.frame;
    if (off_in_a_row == kLossPatience) {
      losses.push_back({first_off, {}});
      off_in_a_row = 0;
    }
  }
  return losses;
}

LossSummary summarise_losses(std::span<const FrameScore> frames, int seed_frame) {
  const std::vector<Loss> losses = find_losses(frames);
  std::vector<double> waits;
  for (const Loss& loss : losses)
    if (loss.end) waits.push_back(*loss.end - loss.begin);
  double inside = 0;
  for (const Loss& loss : losses) inside += present_frames(stretch_of(frames, loss));
  LossSummary summary;
  summary.losses = static_cast<int>(losses.size());
  summary.recovered_share = ratio(static_cast<double>(waits.size()), summary.losses);
  summary.frames_to_recover = median(waits);
  summary.time_off_target = ratio(inside, present_frames(frames));
  if (!losses.empty()) summary.frames_to_first_loss = losses.front().begin - seed_frame;
  return summary;
}

std::vector<Return> find_returns(std::span<const FrameScore> frames, std::span<const int> restarts) {
  std::vector<Return> returns;
  int place = 0;  // among the present frames since the absence; 0 while nothing is awaited
  for (std::size_t i = 0; i < frames.size(); ++i) {
    const FrameScore& frame = frames[i];
    if (i > 0 && restarts_between(restarts, frames[i - 1].frame, frame.frame)) {
      place = 0;
    } else if (i > 0 && frame.present && !frames[i - 1].present) {
      returns.push_back({frame.frame, {}, false});
      place = 1;
    }
    if (!frame.present) place = 0;
    if (place == 0) continue;
    if (reaches(frame.overlap, kRecoveryOverlap)) {
      returns.back().frames = place;
      returns.back().returned = place <= kReturnLimit;
      place = 0;
    } else {
      ++place;
    }
  }
  return returns;
}

}  // namespace mnemon
