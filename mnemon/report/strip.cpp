// SPDX-License-Identifier: MIT
#include <mnemon/report/strip.hpp>

#include <algorithm>

#include <fmt/format.h>

#include <mnemon/media/canvas.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/palette.hpp>

namespace mnemon {
namespace {

constexpr int kAcross = 4;
constexpr int kGap = 6;
constexpr int kCaption = 24;
constexpr Ink kPaper{0.97, 0.96, 0.94};

constexpr double kChip = 22;  // of "lost" labels: from one to the next, and from a column to the next
constexpr double kChipColumn = 160;
constexpr double kChipMargin = 4;

OrientedBox shrunk(const OrientedBox& full, double factor) {
  const Box& box = full.box;
  return {{box.x * factor, box.y * factor, box.w * factor, box.h * factor}, full.angle_deg};
}

void draw_trackers(const Results& results, int protocol, int sequence, int frame, double factor,
                   Canvas& canvas) {
  const double bottom = factor * results.study().sequences[sequence].size.height;
  Point lost_at{kChipMargin, kChipMargin};
  for (const int tracker : results.trackers()) {
    const auto& runs = results.runs(tracker, sequence, protocol);
    const TraceRow* row = runs.empty() ? nullptr : runs.front()->trace.find(frame);
    if (row == nullptr) continue;
    if (row->present) {
      // Not dashed, as truth is.
      canvas.outline(shrunk(row->box, factor), tracker_ink(tracker),
                     is_tracker_dashed(tracker) ? Stroke::dotted : Stroke::solid);
    } else {
      canvas.label(results.study().trackers[tracker].label + ": lost", lost_at, tracker_ink(tracker), 12);
      lost_at.y += kChip;
      if (lost_at.y + kChip > bottom) lost_at = {lost_at.x + kChipColumn, kChipMargin};
    }
  }
}

}  // namespace

std::vector<StripPicture> film_strip(const Results& results, int protocol, int sequence) {
  const StudySequence& shown = results.study().sequences[sequence];
  std::vector<StripPicture> pictures;
  for (const StudyPicture& kept : shown.pictures) {
    const Image<Byte> rgb =
        parse_picture(kept.jpeg, fmt::format("the picture of frame {} in the study", kept.frame));
    const double factor = static_cast<double>(rgb.cols()) / shown.size.width;
    Canvas canvas(rgb.view());
    const TruthRow* truth = shown.truth.find(kept.frame);
    draw_trackers(results, protocol, sequence, kept.frame, factor, canvas);
    if (truth != nullptr && truth->present)
      canvas.outline(shrunk(truth->box, factor), kTruthInk, Stroke::dashed, 1.5);
    const bool absent = truth != nullptr && !truth->present;
    pictures.push_back(
        {kept.frame, canvas.picture(), fmt::format("frame {}{}", kept.frame, absent ? ", absent" : "")});
  }
  return pictures;
}

Image<Byte> contact_sheet(const std::vector<StripPicture>& pictures) {
  const int count = static_cast<int>(pictures.size());
  const int across = std::min(kAcross, count);
  const int cell_w = pictures.front().rgb.cols() + kGap;
  const int cell_h = pictures.front().rgb.rows() + kCaption + kGap;
  Canvas sheet((count + across - 1) / across * cell_h + kGap, across * cell_w + kGap, kPaper);
  for (int i = 0; i < count; ++i) {
    const int left = kGap + i % across * cell_w;
    const int top = kGap + i / across * cell_h;
    const Point at{double(left), double(top)};
    sheet.paste(pictures[i].rgb.view(), at);
    sheet.label(pictures[i].caption, {at.x, at.y + pictures[i].rgb.rows() + 2}, kTruthInk, 12);
  }
  return sheet.picture();
}

}  // namespace mnemon
