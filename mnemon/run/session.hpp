// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <optional>
#include <vector>

#include <mnemon/media/frame_shelf.hpp>
#include <mnemon/run/protocol.hpp>
#include <mnemon/run/smoothed_steps.hpp>

namespace mnemon {

/// A region that somebody gave on a frame, to seed a tracker there or to correct it.
struct SessionMark {
  int frame = 0;                                 ///< On which it was given.
  Region region;                                 ///< What is the target on it, px.
  std::shared_ptr<const Image<Byte>> mask = {};  ///< What a region that is a mask is a view of; else null.
};

/// One tracker on one input, stepped and marked anew by somebody: frames may be gone to in any order. Each mark begins a
/// stretch, in which the tracker starts afresh; what one stretch says does not hang on the others. Rows are those that following
/// the frames once with the same marks would give. Not to be shared by threads.
class Session {
 public:
  /// \param make      Makes a fresh tracker.
  /// \param frames    Must outlive the session.
  /// \param smooth_s  Answers are smoothed over that time, s.
  Session(MakeTracker make, FrameShelf& frames, double smooth_s = 0);

  /// Marks the target on a frame, in place of an earlier mark of that frame. Rows from there to the next mark are forgotten, and where
  /// the first mark changes that a tracker watches before, nothing else.
  /// \throws CallError  where the frame is below 0.
  void mark(SessionMark mark);

  /// Takes the mark of a frame back, and with it the rows that came of it. \returns  False where there is none.
  bool unmark(int frame);

  /// Forgets the rows that came of the last mark up to a frame, so that the tracker learns afresh from it.
  void again(int frame);

  /// The row of a frame, or null where it has not been worked out.
  [[nodiscard]] const TraceRow* row(int frame) const;

  /// Works out one row more.
  /// \param to     The last frame that is wanted.
  /// \param first  The stretch that this frame lies in comes first, then those after and before it.
  /// \returns      False where all rows from the first mark to `to` are there.
  /// \throws Error  as the tracker and the frames do; the row is then still missing.
  bool step(int to, int first = 0);

  /// The row of a frame, worked out with what it takes.
  /// \throws CallError  where the frame lies before the first mark; Error  as step does.
  const TraceRow& seek(int frame);

  /// The tracker as it is after a frame, for its stages and mask. It holds until the next call, and is not to be stepped.
  /// \throws Error  as seek does.
  [[nodiscard]] Tracker& tracker_on(int frame);

  /// One step of the way to the tracker as it is after a frame whose row has been worked out. \returns  That tracker once it is
  /// there, else null.
  /// \throws Error  as seek does.
  [[nodiscard]] Tracker* towards(int frame);

  /// The last frame whose row has been worked out; nothing where none has.
  [[nodiscard]] std::optional<int> last_frame() const;

  /// All rows that have been worked out, by frame.
  [[nodiscard]] Trace trace() const;

  /// The rows in the order in which they were worked out, since the last time that any were forgotten.
  [[nodiscard]] const std::vector<TraceRow>& log() const noexcept { return log_; }

  /// How often rows were forgotten: `log` began anew each time, with those that stayed.
  [[nodiscard]] int generation() const noexcept { return generation_; }

 private:
  struct Kept {
    int frame = 0;
    std::unique_ptr<Tracker> tracker;
  };
  struct Stretch {
    SessionMark mark;
    SmoothedSteps steps;
    std::unique_ptr<Tracker> live;  // after the last of the rows
    std::vector<TraceRow> rows;
    std::vector<Kept> kept = {};  // by rising frame
    int spacing = 16;             // between those
    int watched = 0;              // frames before the first mark
  };

  [[nodiscard]] std::size_t stretch_of(int frame) const;
  [[nodiscard]] int end_of(std::size_t stretch, int to) const;
  [[nodiscard]] bool is_done(std::size_t stretch, int to) const;
  void step_in(std::size_t stretch);
  void keep(Stretch& stretch, std::size_t place);
  void restart(Stretch& stretch);
  void forget();

  MakeTracker make_;
  FrameShelf& frames_;
  double smooth_s_;
  std::vector<Stretch> stretches_;  // by the frame of their mark
  Kept looked_;                     // what was looked at last, where it is no stretch's own
  std::vector<TraceRow> log_;
  int generation_ = 0;
};

}  // namespace mnemon
