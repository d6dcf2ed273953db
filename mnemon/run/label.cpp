// SPDX-License-Identifier: MIT
#include <mnemon/run/label.hpp>

#include <algorithm>
#include <cmath>
#include <optional>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/run/region_json.hpp>
#include <mnemon/run/timed_step.hpp>

namespace mnemon {
namespace {

constexpr int kPiece = 64;            // frames in memory while going backwards
constexpr double kApart = 0.3;        // less overlap: two answers are not of one thing
constexpr double kOfStraight = 0.03;  // weight of the straight way between key frames
constexpr double kEndsWell = 0.5;     // overlap with the key frame at the end
constexpr double kUnsure = 0.5;
constexpr double kDisagree = 0.5;

// What one direction says of a frame.
struct Answer {
  OrientedBox box;
  bool present = false;
  double confidence = 0;
  MaskRuns mask;
};

// By frame, of a stretch.
class Answers {
 public:
  Answers(int first, int last) : first_(first), answers_(static_cast<std::size_t>(last - first + 1)) {}
  std::optional<Answer>& operator[](int frame) { return answers_[static_cast<std::size_t>(frame - first_)]; }

 private:
  int first_;
  std::vector<std::optional<Answer>> answers_;
};

// Seeds a tracker where a person marked the target, by the region that was marked.
void seed(Tracker& tracker, const Frame& frame, const Mark& mark) {
  Region region = mark.box;
  Image<Byte> room(frame.rgb.rows, frame.rgb.cols);
  if (!mark.region.empty()) {
    const Json json = Json::parse(mark.region, nullptr, false);
    if (json.is_discarded())
      throw CallError(fmt::format("the region of the mark on frame {} is no JSON", mark.frame));
    region = parse_region(json, room.view());
  } else if (is_upright(mark.box)) {
    region = mark.box.box;
  }
  static_cast<void>(timed_step(tracker, frame, region));
}

// From a mark to a frame before or after it, that one included.
void follow(const Mark& from, int to, const MakeTracker& make, const VisitFrames& visit, Answers& answers,
            const std::function<void()>& step) {
  const std::unique_ptr<Tracker> tracker = make();
  bool is_seeded = false;
  visit(from.frame, to, [&](const Frame& frame) {
    step();
    if (!is_seeded) {
      seed(*tracker, frame, from);
      is_seeded = true;
      if (!tracker->mask().empty())
        answers[frame.index] = Answer{from.box, true, 1, runs_of(tracker->mask())};
      return;
    }
    const Estimate estimate = tracker->follow(frame);
    Answer answer{estimate.box, estimate.present && is_proper(estimate.box.box), estimate.confidence, {}};
    if (answer.present && !tracker->mask().empty()) answer.mask = runs_of(tracker->mask());
    answers[frame.index] = std::move(answer);
  });
}

// How well a direction ends on the key frame that it was not started from.
double end_of(const std::optional<Answer>& answer, const Mark& key) {
  if (!answer) return 1;
  if (!key.present) return answer->present ? 0.25 : 1;
  return answer->present ? overlap(answer->box, key.box) : 0;
}

// One direction on a frame: its answer and how much it counts.
struct Voice {
  const Answer* answer = nullptr;
  double weight = 0;
};

// \param share  Of the way from the key frame that it began at; \param end  As end_of has it.
Voice voice_of(const std::optional<Answer>& answer, double share, double end) {
  if (!answer || !answer->present) return {};
  const double trust = std::pow(std::max(end, 0.01), 2 * share);
  return {&*answer, (1 - share) * std::clamp(answer->confidence, 0.0, 1.0) * trust};
}

// Nobody sees the target: it is away where a direction that says so ended on its key frame, and else somewhere on the way.
Label unseen(Label label, const std::optional<OrientedBox>& straight, bool is_away) {
  label.mark.present = straight && !is_away;
  label.mark.box = label.mark.present ? *straight : OrientedBox{};
  label.mark.by = label.mark.present ? "between" : "tracker";
  label.sure = is_away ? 0.5 : 0.25;
  label.why = label.mark.present ? "interpolated" : is_away ? "away" : "not found";
  return label;
}

Label joined(int frame, Voice forward, Voice backward, const std::optional<OrientedBox>& straight,
             bool is_away) {
  Label label;
  label.mark.frame = frame;
  label.mark.by = "tracker";
  if (backward.weight > forward.weight) std::swap(forward, backward);
  const Voice& first = forward;  // the weightier one
  if (first.answer == nullptr || (straight && first.weight < kOfStraight))
    return unseen(std::move(label), straight, is_away && first.answer == nullptr);
  label.mark.box = first.answer->box;
  label.mask = first.answer->mask;
  label.sure = std::min(1.0, first.answer->confidence);
  if (backward.answer != nullptr) {
    const double shared = overlap(first.answer->box, backward.answer->box);
    if (shared >= kApart)
      label.mark.box = box_between(first.answer->box, backward.answer->box,
                                   backward.weight / (first.weight + backward.weight));
    if (shared < kDisagree) label.why = "the two directions disagree";
    label.sure *= std::max(shared, first.weight / (first.weight + backward.weight) - 0.5);
  }
  if (label.why.empty() && label.sure < kUnsure) label.why = "unsure";
  return label;
}

class Labeller {
 public:
  Labeller(const std::vector<Mark>& marks, int count, const MakeTracker& make, const VisitFrames& visit,
           const std::function<void(int, int)>& progress)
      : marks_(marks), count_(count), make_(make), visit_(visit), progress_(progress) {
    for (std::size_t i = 0; i < marks.size(); ++i) {
      if (!marks[i].present) continue;
      total_ += (i + 1 < marks.size() ? marks[i + 1].frame : count - 1) - marks[i].frame + 1;
      total_ += marks[i].frame - (i > 0 ? marks[i - 1].frame : 0) + 1;
    }
  }

  std::vector<Label> labels() {
    std::vector<Label> all(static_cast<std::size_t>(count_));
    for (const Mark& mark : marks_) all[static_cast<std::size_t>(mark.frame)].mark = mark;
    label_stretch(nullptr, &marks_.front(), all);
    for (std::size_t i = 0; i + 1 < marks_.size(); ++i) label_stretch(&marks_[i], &marks_[i + 1], all);
    label_stretch(&marks_.back(), nullptr, all);
    return all;
  }

 private:
  // The frames between two key frames; either may be missing.
  void label_stretch(const Mark* before, const Mark* after, std::vector<Label>& all) {
    const int first = before != nullptr ? before->frame : 0;
    const int last = after != nullptr ? after->frame : count_ - 1;
    Answers forward(first, last);
    Answers backward(first, last);
    const auto step = [this] {
      if (progress_) progress_(++done_, total_);
    };
    if (before != nullptr && before->present) follow(*before, last, make_, visit_, forward, step);
    if (after != nullptr && after->present) follow(*after, first, make_, visit_, backward, step);
    const double forward_end = after != nullptr ? end_of(forward[last], *after) : 1;
    const double backward_end = before != nullptr ? end_of(backward[first], *before) : 1;
    // What was cut out on key frames.
    if (before != nullptr && before->present && forward[first])
      all[static_cast<std::size_t>(first)].mask = forward[first]->mask;
    if (after != nullptr && after->present && backward[last])
      all[static_cast<std::size_t>(last)].mask = backward[last]->mask;
    for (int frame = first; frame <= last; ++frame) {
      if ((before != nullptr && frame == first) || (after != nullptr && frame == last)) continue;
      // With one key frame alone all of the way is near it.
      const double share = before == nullptr  ? 1
                           : after == nullptr ? 0
                                              : double(frame - first) / (last - first);
      const auto at = static_cast<std::size_t>(frame);
      std::optional<OrientedBox> straight;
      if (before != nullptr && after != nullptr && before->present && after->present)
        straight = box_between(before->box, after->box, share);
      const bool is_away =
          (forward[frame] && forward_end >= kEndsWell) || (backward[frame] && backward_end >= kEndsWell);
      all[at] = joined(frame, voice_of(forward[frame], share, forward_end),
                       voice_of(backward[frame], 1 - share, backward_end), straight, is_away);
    }
  }

  const std::vector<Mark>& marks_;
  int count_;
  const MakeTracker& make_;
  const VisitFrames& visit_;
  const std::function<void(int, int)>& progress_;
  int done_ = 0;
  int total_ = 0;
};

}  // namespace

OrientedBox box_between(const OrientedBox& a, const OrientedBox& b, double share) noexcept {
  const Point from = centre(a.box);
  const Point to = centre(b.box);
  const auto even = [share](double x, double y) { return x + share * (y - x); };
  const auto by_ratio = [share](double x, double y) { return x * std::pow(y / x, share); };
  const double turn = std::remainder(b.angle_deg - a.angle_deg, 180.0);
  return {box_around({even(from.x, to.x), even(from.y, to.y)}, by_ratio(a.box.w, b.box.w),
                     by_ratio(a.box.h, b.box.h)),
          a.angle_deg + share * turn};
}

VisitFrames visits_of(OpenFrames open) {
  return [open = std::move(open)](int from, int to, const std::function<void(const Frame&)>& use) {
    const auto forwards = [&](int first, int last, const std::function<void(const Frame&)>& take) {
      auto frames = open();
      if (!frames->seek(first)) {
        frames = open();  // what could not go there may stand anywhere
        for (int i = 0; i < first; ++i)
          if (!frames->skip()) throw CallError(fmt::format("there is no frame {}", first));
      }
      for (int i = first; i <= last; ++i) {
        const auto frame = frames->next();
        if (!frame) throw CallError(fmt::format("there is no frame {}", i));
        take(*frame);
      }
    };
    if (from <= to) {
      forwards(from, to, use);
      return;
    }
    for (int last = from; last >= to; last -= kPiece) {
      const int first = std::max(to, last - kPiece + 1);
      std::vector<Image<Byte>> pictures;
      std::vector<double> times;
      forwards(first, last, [&](const Frame& frame) {
        pictures.push_back(copy_of(frame.rgb));
        times.push_back(frame.time_s);
      });
      // Time runs forwards for a tracker, whichever way it goes.
      for (int i = last; i >= first; --i) {
        const auto at = static_cast<std::size_t>(i - first);
        use({std::as_const(pictures[at]).view(), i, -times[at]});
      }
    }
  };
}

std::vector<Label> label_frames(const std::vector<Mark>& marks, int count, const MakeTracker& make,
                                const VisitFrames& visit, const std::function<void(int, int)>& progress) {
  if (std::ranges::none_of(marks, &Mark::present))
    throw CallError("no mark has the target: mark it on one frame at least");
  if (marks.back().frame >= count)
    throw CallError(
        fmt::format("there is a mark on frame {}, and the last frame is {}", marks.back().frame, count - 1));
  return Labeller(marks, count, make, visit, progress).labels();
}

std::vector<Label> cut_masks(const Truth& truth, const MakeTracker& make, const VisitFrames& visit,
                             const std::function<void(int, int)>& progress) {
  std::vector<Label> labels;
  const int total = static_cast<int>(truth.rows.size());
  if (total == 0) throw CallError("there is no box to cut a mask in: the sequence has no truth");
  const std::unique_ptr<Tracker> tracker = make();
  visit(0, truth.rows.back().frame, [&](const Frame& frame) {
    const TruthRow* const row = truth.find(frame.index);
    if (row == nullptr) return;
    if (progress) progress(static_cast<int>(labels.size()), total);
    Label label;
    label.mark = {frame.index, row->present ? row->box : OrientedBox{}, "", row->present, "person"};
    if (row->present) {
      seed(*tracker, frame, label.mark);
      if (tracker->mask().empty())
        throw CallError("this tracker answers no masks; 'mnemon trackers NAME' says which do");
      label.mask = runs_of(tracker->mask());
      if (!bounds(label.mask)) label.why = "nothing was cut out";
    }
    labels.push_back(std::move(label));
  });
  return labels;
}

}  // namespace mnemon
