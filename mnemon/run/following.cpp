// SPDX-License-Identifier: MIT
#include <mnemon/run/following.hpp>

#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {

void FollowOptions::check() const {
  if (last && *last < first)
    throw CallError(fmt::format("the frames end at {} before they begin at {}", *last, first));
  if (step < 1) throw CallError(fmt::format("frames cannot be taken by steps of {}", step));
}

Following::Following(Tracker& tracker, FrameSource& frames, const FollowOptions& options, MarkOnFrame marks)
    : tracker_(tracker),
      frames_(frames),
      options_(options),
      marks_(std::move(marks)),
      steps_(options.smooth_s, options.limit) {
  options.check();
}

std::optional<FollowStep> Following::step() {
  if (!is_taken_ && !is_over_) {
    is_taken_ = take_frame();
    is_over_ = !is_taken_;
  }
  if (last_row_ && last_row_->frame + 1 < end_) return skipped_row();
  if (!is_taken_) return std::nullopt;
  is_taken_ = false;
  last_row_ = follow();
  return FollowStep{*last_row_, &*frame_};
}

// Goes on to the next frame that is to be followed; false where there is none.
bool Following::take_frame() {
  while ((frame_ = frames_.next())) {
    if (options_.last && frame_->index > *options_.last) {
      // Frames that nobody had time for count, too; those that `step` leaves out at the end were not asked for.
      if (options_.step == 1 && last_row_) end_ = *options_.last + 1;
      return false;
    }
    if (frame_->index < options_.first) continue;
    if (seed_frame_ && (frame_->index - *seed_frame_) % options_.step != 0) continue;
    mark_ = marks_(*frame_, seed_frame_.has_value());
    if (!seed_frame_ && !mark_) {
      if (tracker_.watches()) tracker_.watch(*frame_);
      continue;
    }
    if (!seed_frame_) seed_frame_ = frame_->index;
    end_ = frame_->index;
    return true;
  }
  return false;
}

FollowStep Following::skipped_row() {
  ++last_row_->frame;
  last_row_->step_ms.reset();
  last_row_->event = Event::skip;
  return {*last_row_, nullptr};
}

TraceRow Following::follow() {
  const std::optional<Region> mark = std::exchange(mark_, std::nullopt);
  const bool is_first = !last_row_;
  TraceRow row = steps_.take(tracker_, *frame_, mark);
  if (mark && !is_first) row.event = Event::mark;
  return row;
}

void skip_to(FrameSource& frames, int first, const std::string& name) {
  for (int i = 0; i < first; ++i)
    if (!frames.skip()) throw CallError(fmt::format("'{}' has {} frames, so no frame {}", name, i, first));
}

int first_true_frame(const Sequence& sequence, int from, std::optional<int> last) {
  for (const TruthRow& row : sequence.truth.rows)
    if (row.present && row.frame >= from) {
      if (last && row.frame > *last) break;
      return row.frame;
    }
  throw CallError(
      fmt::format("'{}' has no truth box on those frames to start from; give one as x,y,w,h", sequence.name));
}

MarkOnFrame marked_by_truth(const Truth& truth) {
  return [&truth](const Frame& frame, bool has_target) -> std::optional<Region> {
    if (has_target) return std::nullopt;
    const TruthRow* row = truth.find(frame.index);
    if (row == nullptr || !row->present) return std::nullopt;
    return upright_around(row->box);
  };
}

}  // namespace mnemon
