// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include <mnemon/image/frame.hpp>
#include <mnemon/media/canvas.hpp>
#include <mnemon/report/results.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// A colour that somebody wants for a tracker.
struct FilmInk {
  std::string label;  ///< In the legend.
  Ink ink;            ///< Of the box.
};

/// A colour from `LABEL=#rrggbb`.
/// \throws CallError  where it is of another form.
[[nodiscard]] FilmInk parse_ink(const std::string& text);

/// How a film looks.
struct FilmForm {
  bool is_beside = false;   ///< A picture a tracker, side by side, instead of all on one.
  bool is_swapped = false;  ///< Left and right are swapped; words are not.
  double line_px = 2;       ///< Of boxes, from 0.5 to 20.
  int width =
      0;  ///< Of each picture, px, from 64 to 4096; 0: as the frames are, or half of that side by side.

  std::vector<FilmInk> inks;  ///< Of trackers that are not to have the report's colours.
  std::string stage;  ///< One of the only tracker's inner pictures, put beside the frame; empty for none.
  bool stage_over = false;  ///< It is laid translucent over the frame instead, where it lies there.

  /// \throws CallError  where a value is out of range.
  void check() const;
};

/// Draws the frames of one of a study's sequences with the answers that the study has: each tracker in its colour and kind of
/// line, thin and dotted where it says that it lost the target (at its last box); truth white and dashed. Below stand each
/// tracker's name, confidence and share of a frame's time, and the overlap over time with a mark at the frame.
/// Not to be shared by threads.
class FilmFrames {
 public:
  /// \param results   Of the trackers that are shown; must outlive this.
  /// \param sequence  Place in Study::sequences.
  /// \param form      How it is to look.
  /// \throws CallError  where no tracker has a run on it under the plan's first protocol, or the form is out of range.
  FilmFrames(const Results& results, int sequence, const FilmForm& form);

  /// The film's picture of a frame of the sequence. Its size is the same for every frame.
  /// \param frame  Of the sequence.
  /// \param stage  The inner picture that goes beside it, where the form asks for one: 1 or 3 channels; may be empty.
  [[nodiscard]] Image<Byte> draw(const Frame& frame, ImageView<const Byte> stage = {}) const;

  /// The trackers that are drawn, by merit.
  [[nodiscard]] std::vector<const StudyTracker*> trackers() const;

  FilmFrames(FilmFrames&&) noexcept;
  ~FilmFrames();

 private:
  struct Shown;  // a tracker and its run

  [[nodiscard]] Image<Byte> picture_of(const Frame& frame, const std::vector<const Shown*>& trackers) const;
  [[nodiscard]] OrientedBox placed(const OrientedBox& box) const;
  void draw_tracker(const Shown& shown, int frame, Canvas& canvas) const;

  const StudySequence& sequence_;
  FilmForm form_;
  double scale_ = 1;
  std::vector<Shown> shown_;
};

/// Makes a tracker as a study has it.
/// \throws CallError  where that cannot be made here.
using MakeStudyTracker = std::function<std::unique_ptr<Tracker>(const StudyTracker&)>;

/// Writes a film of a study's sequence: its frames are read from where the sequence was when the plan ran.
/// \param file      A video's name, as VideoSink knows them.
/// \param make      Makes a tracker of the study anew, for its inner pictures; may be empty where the form asks for none.
/// \param progress  Called with frames done and frames there are; what it throws ends the work, and no file is left.
/// \throws CallError  where the study has no such sequence; DataError  where its frames are not there or others.
void write_film(const Results& results, const std::string& sequence, const FilmForm& form,
                const std::filesystem::path& file, const MakeStudyTracker& make,
                const std::function<void(int, int)>& progress);

}  // namespace mnemon
