// SPDX-License-Identifier: MIT
#include <mnemon/study/follow.hpp>

#include <cmath>
#include <cstdint>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/stopwatch.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/track/marked/marked_mask.hpp>

namespace mnemon {
namespace {

constexpr int kLeastWidth = 8;  // px
constexpr int kMostWidth = 8192;

void check_finite(const Estimate& estimate, int frame) {
  const Box& box = estimate.box.box;
  for (const double number : {box.x, box.y, box.w, box.h, estimate.box.angle_deg, estimate.confidence})
    if (!std::isfinite(number))
      throw Error(
          fmt::format("the tracker's estimate for frame {} holds a number that is not finite", frame));
}

void check_range(const FollowRange& range) {
  const int first = range.from.value_or(0);
  if (range.to && *range.to < first)
    throw CallError(fmt::format("the frames end at {} before they begin at {}", *range.to, first));
  if (range.step < 1) throw CallError(fmt::format("frames cannot be taken by steps of {}", range.step));
  if (range.width && (*range.width < kLeastWidth || *range.width > kMostWidth))
    throw CallError(fmt::format("frames cannot be scaled to a width of {} px; {} to {} px can be",
                                *range.width, kLeastWidth, kMostWidth));
}

// Shows a tracker the frames at another width.
class Scaling {
 public:
  explicit Scaling(std::optional<int> width) : width_(width) {}

  Frame shown(const Frame& frame) {
    if (!width_ || *width_ == frame.rgb.cols) return frame;
    const std::int64_t rows = std::int64_t{frame.rgb.rows} * *width_ / frame.rgb.cols;
    if (rows > kMostWidth)
      throw CallError(fmt::format(
          "frames of {} x {} px scaled to a width of {} px would have {} rows; at most {} are possible",
          frame.rgb.cols, frame.rgb.rows, *width_, rows, kMostWidth));
    small_ = resized_to_width(frame.rgb, *width_);
    across_ = static_cast<double>(small_.cols()) / frame.rgb.cols;
    down_ = static_cast<double>(small_.rows()) / frame.rgb.rows;
    return {small_.view(), frame.index, frame.time_s};
  }

  // A mask is this object's, and holds until the next call.
  [[nodiscard]] Region to_shown(const Region& region) {
    if (small_.empty()) return region;
    return std::visit([this](const auto& form) { return Region(shown_form(form)); }, region);
  }

  [[nodiscard]] double to_original(double length_px) const { return length_px / across_; }

  [[nodiscard]] OrientedBox to_original(const OrientedBox& box) const {
    return small_.empty() ? box : stretched(box, 1 / across_, 1 / down_);
  }

 private:
  [[nodiscard]] Point shown_form(Point point) const { return {point.x * across_, point.y * down_}; }
  [[nodiscard]] Box shown_form(const Box& box) const { return stretched({box, 0}, across_, down_).box; }
  [[nodiscard]] OrientedBox shown_form(const OrientedBox& box) const {
    return stretched(box, across_, down_);
  }
  [[nodiscard]] Polygon shown_form(Polygon corners) const {
    for (Point& corner : corners) corner = shown_form(corner);
    return corners;
  }
  [[nodiscard]] PointMarks shown_form(const PointMarks& marks) const {
    PointMarks shown{shown_form(marks.include), shown_form(marks.exclude)};
    if (marks.box) shown.box = shown_form(*marks.box);
    return shown;
  }
  // Each pixel is that of the mask which its middle lies in.
  [[nodiscard]] ImageView<const Byte> shown_form(ImageView<const Byte> mask) {
    mask_ = Image<Byte>(small_.rows(), small_.cols());
    for (int r = 0; r < mask_.rows(); ++r)
      for (int c = 0; c < mask_.cols(); ++c)
        mask_(r, c) =
            mask((2 * r + 1) * mask.rows / (2 * mask_.rows()), (2 * c + 1) * mask.cols / (2 * mask_.cols()));
    return std::as_const(mask_).view();
  }

  std::optional<int> width_;
  double across_ = 1;
  double down_ = 1;
  Image<Byte> small_;
  Image<Byte> mask_;
};

TraceRow scaled_step(Tracker& tracker, Scaling& scaling, const Frame& frame, std::optional<Region> seed,
                     StepLimit limit) {
  const Frame shown = scaling.shown(frame);
  if (seed) seed = scaling.to_shown(*seed);
  TraceRow row = timed_step(tracker, shown, seed, limit);
  row.box = scaling.to_original(row.box);
  if (row.minor_px) row.minor_px = scaling.to_original(*row.minor_px);
  return row;
}

// Hands rows on, and before each those of the frames that are missing.
class Rows {
 public:
  Rows(const OnRow& on_row, Tracker& tracker) : on_row_(on_row), tracker_(tracker) {}

  bool put(const TraceRow& row, const Frame& frame) {
    if (!skip_before(row.frame)) return false;
    last_ = row;
    return !on_row_ || on_row_(row, &frame, tracker_);
  }

  // Those before a frame, once there has been one; false where no more are wanted.
  bool skip_before(int frame) {
    if (!last_) return true;
    for (int missing = last_->frame + 1; missing < frame; ++missing) {
      TraceRow skipped = *last_;
      skipped.frame = missing;
      skipped.step_ms.reset();
      skipped.event = Event::skip;
      if (on_row_ && !on_row_(skipped, nullptr, tracker_)) return false;
    }
    return true;
  }

 private:
  const OnRow& on_row_;
  Tracker& tracker_;
  std::optional<TraceRow> last_;
};

}  // namespace

TraceRow timed_step(Tracker& tracker, const Frame& frame, const std::optional<Region>& seed,
                    StepLimit limit) {
  // Cutting the target out where points mark it takes time that is not the tracker's.
  Image<Byte> cut;
  if (const auto* marks = seed ? std::get_if<PointMarks>(&*seed) : nullptr) cut = marked_mask(frame, *marks);
  const std::optional<Region> region = cut.empty() ? seed : Region(std::as_const(cut).view());
  const Stopwatch stopwatch;
  const Estimate estimate = region ? tracker.seed(frame, *region) : tracker.follow(frame);
  const double step_ms = stopwatch.elapsed_ms();
  check_finite(estimate, frame.index);
  if (!seed && step_ms > limit.ms)
    throw Error(fmt::format("the step on frame {} took {:.1f} ms; step_limit_ms is {:g}", frame.index,
                            step_ms, limit.ms));
  TraceRow row{frame.index,      estimate.box, estimate.confidence,
               estimate.present, step_ms,      seed ? Event::seed : Event::none};
  row.minor_px = estimate.minor_px;
  return row;
}

void skip_to(FrameSource& frames, int first, const std::string& name) {
  for (int i = 0; i < first; ++i)
    if (!frames.skip()) throw CallError(fmt::format("'{}' has {} frames, so no frame {}", name, i, first));
}

int start_of(const Sequence& sequence, const FollowRange& range) {
  check_range(range);
  const int first = range.from.value_or(0);
  if (range.region) return first;
  for (const TruthRow& row : sequence.truth.rows)
    if (row.present && row.frame >= first) {
      if (range.to && row.frame > *range.to) break;
      return row.frame;
    }
  throw CallError(
      fmt::format("'{}' has no truth box on those frames to start from; give one as x,y,w,h", sequence.name));
}

WhereOnFrame known_place(const Sequence& sequence, const FollowRange& range) {
  if (range.region) return [region = *range.region](const Frame&) { return std::optional(region); };
  return [&sequence](const Frame& frame) -> std::optional<Region> {
    const TruthRow* row = sequence.truth.find(frame.index);
    if (row == nullptr || !row->present) return std::nullopt;
    return upright_around(row->box);
  };
}

void follow_frames(Tracker& tracker, FrameSource& frames, const FollowRange& range, const WhereOnFrame& where,
                   const OnRow& on_row) {
  check_range(range);
  const int first = range.from.value_or(0);
  Scaling scaling(range.width);
  Rows rows(on_row, tracker);
  std::optional<int> seed_frame;
  while (const auto frame = frames.next()) {
    if (range.to && frame->index > *range.to) {
      // Frames that nobody had time for count, too; those that `step` leaves out at the end were not asked for.
      if (range.step == 1) rows.skip_before(*range.to + 1);
      break;
    }
    if (frame->index < first) continue;
    if (seed_frame && (frame->index - *seed_frame) % range.step != 0) continue;
    const std::optional<Region> seed = seed_frame ? std::nullopt : where(*frame);
    if (!seed_frame && !seed) continue;
    if (seed) seed_frame = frame->index;
    if (!rows.put(scaled_step(tracker, scaling, *frame, seed, range.limit), *frame)) break;
  }
}

Trace follow_sequence(Tracker& tracker, const Sequence& sequence, const FollowRange& range) {
  const int start = start_of(sequence, range);
  const auto frames = open_frames(sequence);
  skip_to(*frames, start, sequence.name);
  FollowRange rest = range;
  rest.from = start;
  Trace trace;
  follow_frames(tracker, *frames, rest, known_place(sequence, range),
                [&](const TraceRow& row, const Frame*, Tracker&) {
                  trace.rows.push_back(row);
                  return true;
                });
  if (trace.rows.empty())
    throw CallError(fmt::format("'{}' has {} frames, so no frame {}", sequence.name, start, start));
  return trace;
}

}  // namespace mnemon
