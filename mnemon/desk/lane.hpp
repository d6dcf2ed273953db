// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include <mnemon/desk/stage_film.hpp>
#include <mnemon/run/session.hpp>
#include <mnemon/study/settings.hpp>

namespace mnemon {

/// What a lane's pictures are of: the session as it is now, or as it was before the last change of a setting.
enum class Moment { now, before };

/// Makes trackers of these settings, to which areas, px, are nothing.
/// \param catalogue  Must outlive it.
/// \throws CallError  where there is no such tracker, or a value or an area is not allowed.
[[nodiscard]] MakeTracker maker_of(const Catalogue& catalogue, const TrackerSettings& settings,
                                   const std::vector<Polygon>& keep_out);

/// One tracker with its settings on the marks of a target. Not to be shared by threads.
class Lane {
 public:
  /// All but areas that are never the target must outlive it.
  Lane(const Catalogue& catalogue, FrameShelf& frames, TrackerSettings settings,
       std::vector<Polygon> keep_out);

  /// The tracker and what is set of it.
  [[nodiscard]] const TrackerSettings& settings() const noexcept { return settings_; }
  /// Its entry in the catalogue.
  [[nodiscard]] const TrackerEntry& entry() const { return catalogue_.entry(settings_.tracker); }

  /// Takes another tracker or other values: everything is worked out again, and what was stays as `before`. Where all that
  /// changes acts at the step, that of a frame is tried at once, from what the tracker knew before it.
  /// \throws CallError  where there is no such tracker, or a value is not allowed; the lane is then as it was.
  void retune(TrackerSettings settings, int frame);

  /// The row of a frame as it was tried; null where that was not, or the row itself is known.
  [[nodiscard]] const TraceRow* tried() const;

  /// Does some of what makes trying a frame quick. \returns  False where nothing is left to do.
  bool prepare(int frame);

  /// The tracker as it is after a frame, or was when that was tried; as Session::tracker_on.
  /// \throws CallError  where there was no change before.
  [[nodiscard]] Tracker& tracker_on(Moment moment, int frame);

  /// Takes other areas that are never the target: everything is worked out again.
  /// \throws CallError  where one is none; the lane is then as it was.
  void set_keep_out(std::vector<Polygon> areas);

  /// Makes the marks these; rows that do not hang on what differs stay.
  void set_marks(const std::vector<SessionMark>& marks, const std::vector<std::string>& keys);

  /// The rows, stages and masks.
  [[nodiscard]] const Session& session() const noexcept { return *session_; }
  /// What was set before the last change.
  [[nodiscard]] const std::optional<TrackerSettings>& before() const noexcept { return before_settings_; }

  /// Works out one row more, as Session::step. What fails is kept as `failure`, and nothing more is done until something changes.
  bool step(int to, int first);

  /// Why no further rows come; empty where all is well.
  [[nodiscard]] const std::string& failure() const noexcept { return failure_; }

  /// Keeps the stages of these names on every step from now on, so that they can be shown while the tracker goes on.
  void watch(std::set<std::string> stages) { watched_ = std::move(stages); }

  /// One stage on a frame: as it was kept while the tracker went on, or worked out again. Nothing where it has none of that name.
  [[nodiscard]] std::optional<ShownStage> stage(Moment moment, int frame, const std::string& name);

  /// Learns afresh from the last mark up to a frame.
  void again(int frame);

  /// Changes whenever rows that were known are so no longer.
  [[nodiscard]] int generation() const noexcept { return generation_ + session_->generation(); }

 private:
  static constexpr std::size_t kMostFilm = std::size_t{32} << 20;  // bytes

  [[nodiscard]] std::unique_ptr<Session> made(const TrackerSettings& settings,
                                              const std::vector<Polygon>& keep_out) const;
  std::unique_ptr<Session> take(std::unique_ptr<Session> session);  // gives back what was there
  // A tracker on a frame: as it is before it, or what became of it.
  struct On {
    int frame = -1;
    std::unique_ptr<Tracker> tracker = {};
    TraceRow row = {};
    int generation = -1;  // in which that was so
  };
  [[nodiscard]] On tried_with(const TrackerSettings& settings, int frame);
  [[nodiscard]] bool is_trial_of(int frame) const;
  void forget_trial();

  const Catalogue& catalogue_;
  FrameShelf& frames_;
  TrackerSettings settings_;
  std::vector<Polygon> keep_out_;
  std::vector<SessionMark> marks_;
  std::vector<std::string> keys_;  // tells marks apart
  std::unique_ptr<Session> session_;
  std::unique_ptr<Session> before_;
  std::optional<TrackerSettings> before_settings_;
  On before_frame_;  // where the tracker has answered the frame before
  On tried_;
  std::string failure_;
  std::set<std::string> watched_;
  StageFilm film_{kMostFilm};  // of the steps that were watched
  int generation_ = 0;
};

}  // namespace mnemon
