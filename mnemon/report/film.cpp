// SPDX-License-Identifier: MIT
#include <mnemon/report/film.hpp>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>
#include <mnemon/image/levels.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/report/overlay.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/report/panel.hpp>
#include <mnemon/track/shown_tracker.hpp>

namespace mnemon {

struct FilmFrames::Shown {
  const StudyTracker* tracker;
  int place;
  const StudyRun* run;
  Ink ink;
  std::vector<Point> overlaps;  // frame and overlap; not finite where there is none
};

namespace {

constexpr double kFilmMargin = 6;
constexpr double kStrip = 64;  // of overlap over time
constexpr int kGap = 4;        // between pictures side by side
constexpr int kCaption = 18;   // below each of them
constexpr Ink kFilmPaper{0.97, 0.96, 0.94};
constexpr Ink kStripGround{1, 1, 1};
constexpr Ink kAbsent{0.91, 0.89, 0.84};
constexpr Ink kMark{0.15, 0.13, 0.11};

Image<Byte> swapped(ImageView<const Byte> rgb) {
  Image<Byte> out(rgb.rows, rgb.cols, 3);
  for (int r = 0; r < rgb.rows; ++r)
    for (int c = 0; c < rgb.cols; ++c)
      for (int channel = 0; channel < 3; ++channel) out(r, c, channel) = rgb(r, rgb.cols - 1 - c, channel);
  return out;
}

std::vector<Point> overlaps_of(const StudySequence& sequence, const StudyRun& run) {
  std::vector<Point> points;
  for (const FrameScore& frame : score_frames(sequence.truth, run.trace).frames)
    points.push_back(
        {double(frame.frame), frame.present ? frame.overlap : std::numeric_limits<double>::quiet_NaN()});
  return points;
}

// The box on a frame, or the last one before it that was claimed.
const TraceRow* last_claim(const Trace& trace, int frame) {
  auto at = std::ranges::upper_bound(trace.rows, frame, {}, &TraceRow::frame);
  while (at != trace.rows.begin())
    if (is_found(*--at)) return &*at;
  return nullptr;
}

std::string time_text(const TraceRow* row, double rate_hz) {
  if (row == nullptr || !row->step_ms) return "";
  const double share = *row->step_ms * rate_hz / 1000;
  return fmt::format("{:.1f} ms = {:.0f} %", *row->step_ms, 100 * share);
}

// A picture as large as a square allows, in three channels.
Image<Byte> fitted_into(ImageView<const Byte> picture, int side) {
  const double factor = static_cast<double>(side) / std::max(picture.rows, picture.cols);
  Image<Byte> rgb(picture.rows, picture.cols, 3);
  for (int r = 0; r < rgb.rows(); ++r)
    for (int c = 0; c < rgb.cols(); ++c)
      for (int channel = 0; channel < 3; ++channel)
        rgb(r, c, channel) = picture(r, c, std::min(channel, picture.channels - 1));
  return resized(std::as_const(rgb).view(), std::max(1, static_cast<int>(factor * picture.rows)),
                 std::max(1, static_cast<int>(factor * picture.cols)));
}

int even(double length) { return 2 * static_cast<int>(std::ceil(length / 2)); }

// Overlap over time of every tracker, shaded where the target is absent, with a mark at the frame.
void draw_strip(const StudySequence& sequence, const std::vector<std::vector<Point>>& lines,
                const std::vector<Ink>& inks, const std::vector<int>& places, int frame, const Box& at,
                Canvas& canvas) {
  canvas.fill(at, kStripGround);
  const double last = std::max(1, sequence.frames - 1);
  const auto x = [&](double number) { return at.x + number / last * at.w; };
  const auto y = [&](double overlap) { return at.y + 3 + (1 - overlap) * (at.h - 6); };
  for (const TruthRow& row : sequence.truth.rows)
    if (!row.present) canvas.fill({x(row.frame - 0.5), at.y, at.w / last + 0.5, at.h}, kAbsent);
  for (std::size_t i = 0; i < lines.size(); ++i) {
    std::vector<Point> points;
    for (const Point& point : lines[i]) points.push_back({x(point.x), y(point.y)});
    canvas.line(points, inks[i], 1.5, tracker_stroke(places[i]));
  }
  canvas.fill({x(frame) - 1, at.y, 2, at.h}, kMark);
}

}  // namespace

void FilmForm::check() const {
  if (!(line_px >= 0.5 && line_px <= 20))
    throw CallError(fmt::format("a line of {:g} px is out of range: 0.5 to 20 px", line_px));
  if (width != 0 && (width < 64 || width > 4096))
    throw CallError(fmt::format("a width of {} px is out of range: 64 to 4096 px", width));
}

FilmFrames::~FilmFrames() = default;
FilmFrames::FilmFrames(FilmFrames&&) noexcept = default;

FilmFrames::FilmFrames(const Results& results, int sequence, const FilmForm& form)
    : sequence_(results.study().sequences[sequence]), form_(form) {
  form_.check();
  const int protocol = results.protocols().empty() ? -1 : results.protocols().front();
  if (protocol >= 0)
    for (const int tracker : results.by_merit(protocol)) {
      const auto& runs = results.runs(tracker, sequence, protocol);
      if (runs.empty() || !runs.front()->failure.empty()) continue;
      const StudyTracker& known = results.study().trackers[tracker];
      const auto wanted = std::ranges::find(form_.inks, known.label, &FilmInk::label);
      shown_.push_back({&known, tracker, runs.front(),
                        wanted == form_.inks.end() ? tracker_ink(tracker) : wanted->ink,
                        overlaps_of(sequence_, *runs.front())});
    }
  if (shown_.empty())
    throw CallError(fmt::format("none of these trackers has a run on '{}'", sequence_.name));
  if (form_.width == 0)
    form_.width = form_.is_beside ? std::max(64, sequence_.size.width / 2) : sequence_.size.width;
  scale_ = static_cast<double>(form_.width) / sequence_.size.width;
}

OrientedBox FilmFrames::placed(const OrientedBox& box) const {
  OrientedBox out{{box.box.x * scale_, box.box.y * scale_, box.box.w * scale_, box.box.h * scale_},
                  box.angle_deg};
  if (!form_.is_swapped) return out;
  out.box.x = form_.width - out.box.x - out.box.w;
  out.angle_deg = -out.angle_deg;
  return out;
}

void FilmFrames::draw_tracker(const Shown& shown, int frame, Canvas& canvas) const {
  const TraceRow* const row = shown.run->trace.find(frame);
  if (row == nullptr) return;
  if (is_found(*row)) {
    canvas.outline(placed(row->box), shown.ink, tracker_stroke(shown.place), form_.line_px);
  } else if (const TraceRow* last = last_claim(shown.run->trace, frame); last != nullptr) {
    canvas.outline(placed(last->box), shown.ink, Stroke::dotted, std::max(0.5, form_.line_px / 2));
  }
}

Image<Byte> FilmFrames::picture_of(const Frame& frame, const std::vector<const Shown*>& trackers) const {
  Image<Byte> made;  // where it is not the frame itself
  ImageView<const Byte> rgb = frame.rgb;
  const auto take = [&](Image<Byte> picture) {
    made = std::move(picture);
    rgb = std::as_const(made).view();
  };
  if (form_.width != rgb.cols) take(resized_to_width(rgb, form_.width));
  if (form_.is_swapped) take(swapped(rgb));
  Canvas canvas(rgb);
  for (const Shown* shown : trackers) draw_tracker(*shown, frame.index, canvas);
  const TruthRow* const truth = sequence_.truth.find(frame.index);
  if (truth != nullptr && truth->present)
    canvas.outline(placed(truth->box), kTruthInk, Stroke::dashed, std::max(1.0, form_.line_px * 0.75));
  return canvas.picture();
}

std::vector<const StudyTracker*> FilmFrames::trackers() const {
  std::vector<const StudyTracker*> trackers;
  for (const Shown& shown : shown_) trackers.push_back(shown.tracker);
  return trackers;
}

Image<Byte> FilmFrames::draw(const Frame& frame, ImageView<const Byte> stage) const {
  std::vector<Image<Byte>> pictures;
  if (form_.is_beside)
    for (const Shown& shown : shown_) pictures.push_back(picture_of(frame, {&shown}));
  else {
    std::vector<const Shown*> all;
    for (const Shown& shown : shown_) all.push_back(&shown);
    pictures.push_back(picture_of(frame, all));
  }
  const int across = static_cast<int>(std::ceil(std::sqrt(static_cast<double>(pictures.size()))));
  const int down = (static_cast<int>(pictures.size()) + across - 1) / across;
  const int picture_w = pictures.front().cols();
  const int picture_h = pictures.front().rows();
  // A stage has a square as high as the picture, whatever its own shape.
  const int beside = form_.stage.empty() || form_.stage_over ? 0 : picture_h + kGap;
  const int width = even(across * (picture_w + kGap) - kGap + beside);
  const int cell_h = picture_h + kGap + (form_.is_beside ? kCaption : 0);
  const double top = down * cell_h - kGap + kFilmMargin;
  const double inner = width - 2 * kFilmMargin;
  const double panel = panel_height(shown_.size(), inner);
  Canvas canvas(even(top + 20 + panel + kStrip + 2 * kFilmMargin), width, kFilmPaper);
  for (int i = 0; i < static_cast<int>(pictures.size()); ++i) {
    const Point at{double(i % across * (picture_w + kGap)), double(i / across * cell_h)};
    canvas.paste(std::as_const(pictures[static_cast<std::size_t>(i)]).view(), at);
    if (form_.is_beside)
      canvas.write(shown_[static_cast<std::size_t>(i)].tracker->label, {at.x + 2, at.y + picture_h + 2},
                   kMark, 12);
  }
  if (!stage.empty() && beside > 0) {
    const Image<Byte> fitted = fitted_into(stage, picture_h);
    canvas.paste(fitted.view(), {double(picture_w + kGap), 0});
  }
  std::vector<PanelRow> rows;
  std::vector<std::vector<Point>> lines;
  std::vector<Ink> inks;
  std::vector<int> places;
  for (const Shown& shown : shown_) {
    const TraceRow* const row = shown.run->trace.find(frame.index);
    rows.push_back({shown.tracker->label, shown.ink, tracker_stroke(shown.place),
                    row != nullptr && is_found(*row), row == nullptr ? 0 : row->confidence,
                    shown.tracker->is_floor() ? "" : time_text(row, sequence_.rate_hz)});
    lines.push_back(shown.overlaps);
    inks.push_back(shown.ink);
    places.push_back(shown.place);
  }
  const TruthRow* const truth = sequence_.truth.find(frame.index);
  canvas.write(
      fmt::format("{}, frame {} of {}{}; below, overlap over time", sequence_.name, frame.index,
                  sequence_.frames - 1, truth != nullptr && !truth->present ? ", the target is absent" : ""),
      {kFilmMargin, top}, kMark, 12);
  draw_panel(rows, {kFilmMargin, top + 20}, inner, canvas);
  draw_strip(sequence_, lines, inks, places, frame.index,
             {kFilmMargin, top + 20 + panel + kFilmMargin, inner, kStrip}, canvas);
  return canvas.picture();
}

FilmInk parse_ink(const std::string& text) {
  const auto at = text.rfind("=#");
  const std::string digits = at == std::string::npos ? "" : text.substr(at + 2);
  const bool is_colour = digits.size() == 6 && std::ranges::all_of(digits, [](char c) {
                           return std::isxdigit(static_cast<unsigned char>(c)) != 0;
                         });
  if (at == std::string::npos || at == 0 || !is_colour)
    throw CallError(fmt::format("'{}' is no colour for a tracker; write LABEL=#rrggbb", text));
  const auto part = [&](std::size_t from) { return std::stoi(digits.substr(from, 2), nullptr, 16) / 255.0; };
  return {text.substr(0, at), {part(0), part(2), part(4)}};
}

namespace {

// Runs the film's tracker beside its frames, for its inner pictures.
class StageSource {
 public:
  StageSource(const Results& results, const StudySequence& sequence, const FilmFrames& film,
              const std::vector<Polygon>& keep_out, const FilmForm& form, const MakeStudyTracker& make)
      : name_(form.stage) {
    if (name_.empty()) return;
    const auto trackers = film.trackers();
    if (trackers.size() != 1)
      throw CallError(fmt::format(
          "--stage shows what one tracker saw, and there are {}; name one with --only", trackers.size()));
    if (trackers.front()->is_from_elsewhere() || !make)
      throw CallError(
          fmt::format("'{}' cannot be run here, so that it has no stages", trackers.front()->label));
    const Protocol& protocol = results.study().protocols[results.protocols().front()];
    start_ = starts_of(protocol, sequence.truth).at(0);
    tracker_ = shown(make(*trackers.front()), {.keep_out = keep_out});
  }

  // The stage on a frame; empty before the first, and where a tracker does not show it on every frame.
  struct Seen {
    Image<Byte> picture;
    std::optional<OrientedBox> area;
  };
  Seen on(const Frame& frame) {
    if (!tracker_ || frame.index < start_.frame) return {};
    if (frame.index == start_.frame)
      static_cast<void>(tracker_->seed(frame, start_.region()));
    else
      static_cast<void>(tracker_->follow(frame));
    std::vector<std::string> known;
    for (const Stage& stage : tracker_->stages()) {
      known.emplace_back(stage.name);
      if (stage.name == name_ && !stage.picture.empty()) {
        seen_ = true;
        return {bytes_between(stage.picture, levels_of(stage.picture)), stage.area};
      }
    }
    // A tracker that follows shows all its stages: one that is not among them does not exist.
    if (!seen_ && frame.index > start_.frame + 1)
      throw CallError(fmt::format("the tracker has no stage '{}'{}", name_, name_hint(name_, known)));
    return {};
  }

 private:
  std::string name_;
  Start start_;
  std::unique_ptr<Tracker> tracker_;
  bool seen_ = false;
};

}  // namespace

void write_film(const Results& results, const std::string& name, const FilmForm& form,
                const std::filesystem::path& file, const MakeStudyTracker& make,
                const std::function<void(int, int)>& progress) {
  const Study& study = results.study();
  std::vector<std::string> known;
  int place = -1;
  for (const int sequence : results.sequences()) {
    known.push_back(study.sequences[sequence].name);
    if (known.back() == name) place = sequence;
  }
  if (place < 0)
    throw CallError(fmt::format("the study has no sequence '{}'{}", name, name_hint(name, known)));
  const StudySequence& sequence = study.sequences[place];
  const FilmFrames film(results, place, form);
  std::error_code code;
  if (!std::filesystem::exists(sequence.path, code))
    throw DataError(
        {sequence.path},
        fmt::format("the frames of '{}' are no longer here; put the sequence back, or run the plan "
                    "again where it is",
                    name));
  const Sequence source = read_sequence(sequence.path);
  const auto frames = open_frames(source);
  StageSource stages(results, sequence, film, source.keep_out, form, make);
  VideoSink sink(file, sequence.rate_hz);
  while (const auto frame = frames->next()) {
    if (frame->size().width != sequence.size.width || frame->size().height != sequence.size.height)
      throw DataError({sequence.path}, "holds frames of another size than when the plan ran");
    const auto [stage, area] = stages.on(*frame);
    if (form.stage_over && !stage.empty() && !area)
      throw CallError(
          fmt::format("the stage '{}' lies nowhere in the frame: it can only stand beside it", form.stage));
    Frame shown = *frame;
    Image<Byte> mixed;
    if (form.stage_over && area) {
      mixed = with_stage_over(frame->rgb, stage.view(), *area);
      shown.rgb = std::as_const(mixed).view();
    }
    const Image<Byte> drawn = film.draw(shown, form.stage_over ? ImageView<const Byte>() : stage.view());
    sink.add(drawn.view(), frame->index / sequence.rate_hz);
    if (progress) progress(frame->index + 1, sequence.frames);
  }
  sink.finish();
}

}  // namespace mnemon
