// SPDX-License-Identifier: MIT
#include <mnemon/report/strip.hpp>

#include <algorithm>
#include <map>
#include <utility>

#include <fmt/format.h>

#include <mnemon/media/canvas.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/report/palette.hpp>

namespace mnemon {
namespace {

constexpr int kAcross = 4;
constexpr std::size_t kMostPictures = 8;
constexpr int kStripGap = 6;
constexpr int kCaption = 24;
constexpr Ink kStripPaper{0.97, 0.96, 0.94};

OrientedBox shrunk(const OrientedBox& full, double factor) {
  const Box& box = full.box;
  return {{box.x * factor, box.y * factor, box.w * factor, box.h * factor}, full.angle_deg};
}

// Draws the boxes. \returns  The trackers that have none.
std::vector<LegendEntry> draw_trackers(const Results& results, const std::map<int, Trace>& traces, int frame,
                                       double factor, Canvas& canvas) {
  std::vector<LegendEntry> lost;
  for (const auto& [tracker, trace] : traces) {
    const TraceRow* row = trace.find(frame);
    if (row == nullptr) continue;
    if (row->present)
      // Not dashed, as truth is.
      canvas.outline(shrunk(row->box, factor), tracker_ink(tracker),
                     is_tracker_dashed(tracker) ? Stroke::dotted : Stroke::solid);
    else
      lost.push_back({results.study().trackers[tracker].label, tracker_ink(tracker)});
  }
  if (!lost.empty()) lost.insert(lost.begin(), {"lost by", kTruthInk});
  return lost;
}

// Of the first run of each tracker that has one.
std::map<int, Trace> first_traces(const Results& results, int protocol, int sequence) {
  std::map<int, Trace> traces;
  for (const int tracker : results.trackers()) {
    const auto& runs = results.runs(tracker, sequence, protocol);
    if (!runs.empty() && runs.front()->failure.empty())
      traces[tracker] = results.study().trace_of(*runs.front());
  }
  return traces;
}

}  // namespace

std::vector<StripPicture> film_strip(const Results& results, int protocol, int sequence) {
  const StudySequence& shown = results.study().sequences[sequence];
  std::vector<StripPicture> pictures;
  const std::vector<StudyPicture> kept_pictures = results.study().pictures_of(shown);
  const std::size_t count = kept_pictures.size();
  if (count == 0) return {};
  const Truth truth = results.study().truth_of(shown);
  const std::map<int, Trace> traces = first_traces(results, protocol, sequence);
  for (std::size_t i = 0; i < count; ++i) {
    // More pictures than these are for the viewer, which shows one at a time.
    if (i > 0 && i * kMostPictures / count == (i - 1) * kMostPictures / count) continue;
    const StudyPicture& kept = kept_pictures[i];
    const Image<Byte> rgb =
        parse_picture(kept.jpeg, fmt::format("the picture of frame {} in the study", kept.frame));
    const double factor = static_cast<double>(rgb.cols()) / shown.size.width;
    Canvas canvas(rgb.view());
    const TruthRow* row = truth.find(kept.frame);
    auto lost = draw_trackers(results, traces, kept.frame, factor, canvas);
    if (row != nullptr && row->present)
      canvas.outline(shrunk(row->box, factor), kTruthInk, Stroke::dashed, 1.5);
    const bool absent = row != nullptr && !row->present;
    pictures.push_back({kept.frame, canvas.picture(),
                        fmt::format("frame {}{}", kept.frame, absent ? ", absent" : ""), std::move(lost)});
  }
  return pictures;
}

Image<Byte> contact_sheet(const std::vector<StripPicture>& pictures) {
  const int count = static_cast<int>(pictures.size());
  const int across = std::min(kAcross, count);
  const int cell_w = pictures.front().rgb.cols() + kStripGap;
  const double width = pictures.front().rgb.cols();
  double legend = 0;
  for (const StripPicture& picture : pictures) legend = std::max(legend, legend_height(picture.lost, width));
  const int cell_h = pictures.front().rgb.rows() + kCaption + static_cast<int>(legend) + kStripGap;
  Canvas sheet((count + across - 1) / across * cell_h + kStripGap, across * cell_w + kStripGap, kStripPaper);
  for (int i = 0; i < count; ++i) {
    const int left = kStripGap + i % across * cell_w;
    const int top = kStripGap + i / across * cell_h;
    const Point at{double(left), double(top)};
    sheet.paste(pictures[i].rgb.view(), at);
    sheet.label(pictures[i].caption, {at.x, at.y + pictures[i].rgb.rows() + 2}, kTruthInk, 12);
    draw_legend(pictures[i].lost, {at.x, at.y + pictures[i].rgb.rows() + kCaption + 2}, width, sheet);
  }
  return sheet.picture();
}

}  // namespace mnemon
