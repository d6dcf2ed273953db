// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <string>
#include <vector>

#include <nlohmann/json.hpp>

#include <mnemon/desk/lane.hpp>
#include <mnemon/run/label.hpp>

namespace mnemon {

/// What a person said of a frame: where the target is, or that it is not there.
struct PersonMark {
  int frame = 0;          ///< Its number in the input.
  bool present = true;    ///< False where somebody says that the target is not there.
  Json region = {};       ///< In the form of region_json; null where the target is absent.
  SessionMark mark = {};  ///< The same, as a tracker takes it.
  OrientedBox box = {};   ///< Around the region.
  std::string file = {};  ///< Where a region that is a mask is kept as a picture; else empty.
};

/// Something that is followed: its marks, the trackers that follow it side by side, its labels, and what can be undone. Not to
/// be shared by threads.
class DeskTarget {
 public:
  static constexpr std::size_t kMostLanes = 2;  ///< Trackers that follow it side by side.

  /// Catalogue and frames must outlive it; areas to keep out are px.
  DeskTarget(std::string name, const Catalogue& catalogue, FrameShelf& frames,
             const std::vector<TrackerSettings>& settings, std::vector<Polygon> keep_out);

  /// As somebody sees it.
  [[nodiscard]] const std::string& name() const noexcept { return name_; }
  /// By rising frame.
  [[nodiscard]] const std::vector<PersonMark>& marks() const noexcept { return marks_; }
  /// How many trackers follow it.
  [[nodiscard]] std::size_t lanes() const noexcept { return lanes_.size(); }
  /// \throws CallError  where there is no such lane.
  [[nodiscard]] Lane& lane(int index);
  /// Of each lane.
  [[nodiscard]] std::vector<TrackerSettings> settings() const;

  /// Adds a mark, in place of one on the same frame.
  void mark(PersonMark mark);
  /// \throws CallError  where that frame is not marked.
  void unmark(int frame);
  /// Sets a lane's tracker and values; somebody looks at frame `at`.
  /// \throws CallError  as Lane::retune.
  void retune(int lane, TrackerSettings settings, int at);
  /// \throws CallError  where there are as many as there may be, or as Lane does.
  void add_lane(TrackerSettings settings);
  /// \throws CallError  where it is the only one.
  void drop_lane(int lane);
  /// Takes other areas that are never the target, for all lanes. That is nothing to undo.
  /// \throws CallError  where one is none.
  void set_keep_out(const std::vector<Polygon>& areas);
  /// Takes the last of the changes before that back. \returns  False where there is none.
  bool undo(int at);
  /// Whether there is a change to take back.
  [[nodiscard]] bool can_undo() const noexcept { return !undo_.empty(); }

  /// Up to which frame rows are wanted.
  [[nodiscard]] int reach() const noexcept { return reach_; }
  /// Rows up to there are wanted from now on.
  void set_reach(int frame) noexcept { reach_ = frame; }
  /// One row more of one of the lanes, which take turns. \returns  False where all are there.
  bool step(int at);
  /// Does some of what makes a change of settings quick to see on a frame. \returns  False where nothing is left to do.
  bool prepare(int at);

  std::vector<Label> labels;  ///< Of every frame, once they were made.

 private:
  struct Snapshot {
    std::vector<PersonMark> marks;
    std::vector<TrackerSettings> settings;
  };
  [[nodiscard]] Snapshot snapshot() const { return {marks_, settings()}; }
  void remember(Snapshot before);
  void apply_marks();

  std::string name_;
  const Catalogue& catalogue_;
  FrameShelf& frames_;
  std::vector<Polygon> keep_out_;
  std::vector<PersonMark> marks_;
  std::vector<std::unique_ptr<Lane>> lanes_;
  std::vector<Snapshot> undo_;
  int reach_ = -1;
  std::size_t turn_ = 0;
};

}  // namespace mnemon
