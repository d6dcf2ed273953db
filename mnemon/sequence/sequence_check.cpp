// SPDX-License-Identifier: MIT
#include <mnemon/sequence/sequence_check.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/sequence/truth_tags.hpp>

namespace mnemon {
namespace {

constexpr double kJumpSizes = 2;   // of the target, that its middle moves from one frame to the next
constexpr double kJumpFactor = 2;  // that its size changes by meanwhile
constexpr double kMaskBeside =
    0.1;  // overlap of a mask's box with the true one, below which one is elsewhere
constexpr double kMaskMuchSeen =
    0.5;  // visible share from which they are compared: the box is that of all of it

void add(std::vector<Finding>& findings, bool is_wrong, std::string text, int from = -1, int to = -1) {
  Finding& finding = findings.emplace_back();
  finding.is_wrong = is_wrong;
  finding.text = std::move(text);
  finding.from = from;
  finding.to = to;
}

// Findings of one kind, those of neighbouring frames as one.
class Stretches {
 public:
  Stretches(std::vector<Finding>& findings, bool is_wrong, std::string text)
      : findings_(findings), is_wrong_(is_wrong), text_(std::move(text)) {}

  void take(int frame) {
    if (at_ && findings_[*at_].to + 1 == frame)
      findings_[*at_].to = frame;
    else {
      at_ = findings_.size();
      add(findings_, is_wrong_, text_, frame, frame);
    }
  }

 private:
  std::vector<Finding>& findings_;
  bool is_wrong_;
  std::string text_;
  std::optional<std::size_t> at_;  // its last one
};

bool is_same(ImageView<const Byte> one, const Image<Byte>& other) {
  for (int r = 0; r < one.rows; ++r)
    if (!std::equal(one.row(r), one.row(r) + one.row_length(), other.view().row(r))) return false;
  return true;
}

void read_frames(const Sequence& sequence, const std::function<void(int)>& progress, SequenceCheck& check) {
  Stretches repeated(check.findings, false, "the same picture, pixel by pixel, as the frame before");
  try {
    const auto frames = open_frames(sequence);
    Image<Byte> before;
    while (const auto frame = frames->next()) {
      check.size = frame->size();
      if (!before.empty() && is_same(frame->rgb, before)) repeated.take(check.frames);
      before = copy_of(frame->rgb);
      ++check.frames;
      if (progress) progress(check.frames);
    }
  } catch (const DataError& error) {
    add(check.findings, true, error.what(), check.frames, check.frames);
  }
}

double size_of(const Box& box) { return std::sqrt(box.w * box.h); }

void check_boxes(const Sequence& sequence, SequenceCheck& check) {
  const std::vector<TruthRow>& rows = sequence.truth.rows;
  std::vector<Finding>& findings = check.findings;
  Stretches beyond(findings, true, "truth for frames that are not there");
  Stretches outside(findings, true, "the target is present, and its box lies outside the picture");
  Stretches kept_out(findings, true,
                     "the target's middle lies in an area that is kept out of what trackers see");
  Stretches jumps(findings, false, "the box leaps or changes its size at once");
  const Box picture{0, 0, 1.0 * check.size.width, 1.0 * check.size.height};
  const TruthRow* before = nullptr;
  int known = 0;
  for (const TruthRow& row : rows) {
    if (row.frame >= check.frames) {
      beyond.take(row.frame);
      continue;
    }
    ++known;
    if (!row.present) continue;
    const Box box = upright_around(row.box);
    if (overlap(box, picture) <= 0) outside.take(row.frame);
    if (std::ranges::any_of(sequence.keep_out,
                            [&](const Polygon& area) { return contains(area, centre(box)); }))
      kept_out.take(row.frame);
    if (before != nullptr && before->frame + 1 == row.frame) {
      const Box last = upright_around(before->box);
      const Point moved{centre(box).x - centre(last).x, centre(box).y - centre(last).y};
      const double size = size_of(last);
      const double grown = std::max(size_of(box) / size, size / size_of(box));
      if (std::hypot(moved.x, moved.y) > kJumpSizes * size || grown > kJumpFactor) jumps.take(row.frame);
    }
    before = &row;
  }
  if (sequence.truth.first_present() == nullptr)
    add(findings, true, "the truth never has the target present");
  if (known < check.frames)
    add(findings, false,
        fmt::format("{} of {} frames have no truth, and are not scored", check.frames - known, check.frames));
}

void check_masks(const Sequence& sequence, SequenceCheck& check) {
  if (sequence.masks.empty()) return;
  std::vector<Finding>& findings = check.findings;
  Stretches other_size(findings, true, "the mask has another size than the frames");
  Stretches elsewhere(findings, true, "the mask lies elsewhere than the box");
  try {
    for (const FrameRuns& mask : read_true_masks(sequence)) {
      if (mask.runs.cols != check.size.width || mask.runs.rows != check.size.height) {
        other_size.take(mask.frame);
        continue;
      }
      const TruthRow* const row = sequence.truth.find(mask.frame);
      if (row == nullptr || !row->present || row->visible < kMaskMuchSeen) continue;
      const std::optional<Box> box = bounds(mask.runs);
      if (!box || overlap(*box, upright_around(row->box)) < kMaskBeside) elsewhere.take(mask.frame);
    }
  } catch (const DataError& error) {
    add(findings, true, error.what());
  }
}

void check_tags(const Sequence& sequence, SequenceCheck& check) {
  std::vector<Finding>& findings = check.findings;
  for (const TagSpan& span : sequence.spans)
    if (span.from < 0 || span.to >= check.frames)
      findings.push_back(
          {true, fmt::format("the span of '{}' goes beyond the frames", span.tag), span.from, span.to});
  if (!sequence.has_truth()) return;
  const std::vector<std::string> told = tags_from_truth(sequence.truth, check.size);
  const auto has = [](const std::vector<std::string>& tags, const std::string& tag) {
    return std::ranges::find(tags, tag) != tags.end();
  };
  std::vector<std::string> given = sequence.tags;
  for (const TagSpan& span : sequence.spans) given.push_back(span.tag);
  for (const std::string& tag : sequence.tags)
    if (follows_from_truth(tag) && !has(told, tag))
      add(findings, false, fmt::format("it is tagged '{}', which its truth does not show", tag));
  for (const std::string& tag : told)
    if (!has(given, tag))
      add(findings, false, fmt::format("its truth shows '{}', which it is not tagged with", tag));
}

}  // namespace

bool SequenceCheck::has_wrong() const noexcept { return std::ranges::any_of(findings, &Finding::is_wrong); }

SequenceCheck check_sequence(const Sequence& sequence, const std::function<void(int)>& progress) {
  SequenceCheck check;
  read_frames(sequence, progress, check);
  if (check.frames == 0) {
    if (check.findings.empty()) add(check.findings, true, "there are no frames");
    return check;
  }
  if (sequence.has_truth()) check_boxes(sequence, check);
  check_masks(sequence, check);
  check_tags(sequence, check);
  return check;
}

}  // namespace mnemon
