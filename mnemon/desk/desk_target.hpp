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
  int frame = 0;
  bool present = true;
  Json region = {};       ///< In the form of region_json; null where the target is absent.
  SessionMark mark = {};  ///< The same, as a tracker takes it.
  OrientedBox box = {};   ///< Around the region.
};

/// Something that is followed: its marks, the trackers that follow it side by side, its labels, and what can be undone. Not to
/// be shared by threads.
class DeskTarget {
 public:
  static constexpr std::size_t kMostLanes = 2;

  /// Catalogue and frames must outlive it; areas to keep out are px.
  DeskTarget(std::string name, const Catalogue& catalogue, FrameShelf& frames,
             const std::vector<TrackerSettings>& settings, std::vector<Polygon> keep_out);

  [[nodiscard]] const std::string& name() const noexcept { return name_; }
  /// By rising frame.
  [[nodiscard]] const std::vector<PersonMark>& marks() const noexcept { return marks_; }
  [[nodiscard]] std::size_t lanes() const noexcept { return lanes_.size(); }
  /// \throws CallError  where there is no such lane.
  [[nodiscard]] Lane& lane(int index);
  [[nodiscard]] std::vector<TrackerSettings> settings() const;

  /// Adds a mark, in place of one on the same frame.
  void mark(PersonMark mark);
  /// \throws CallError  where that frame is not marked.
  void unmark(int frame);
  /// Sets a lane's tracker and values.
  /// \throws CallError  as Lane::retune.
  void retune(int lane, TrackerSettings settings);
  /// \throws CallError  where there are as many as there may be, or as Lane does.
  void add_lane(TrackerSettings settings);
  /// \throws CallError  where it is the only one.
  void drop_lane(int lane);
  /// Takes other areas that are never the target, for all lanes. That is nothing to undo.
  /// \throws CallError  where one is none.
  void set_keep_out(const std::vector<Polygon>& areas);
  /// Takes the last of the changes before that back. \returns  False where there is none.
  bool undo();
  [[nodiscard]] bool can_undo() const noexcept { return !undo_.empty(); }

  /// Up to which frame rows are wanted.
  [[nodiscard]] int reach() const noexcept { return reach_; }
  void set_reach(int frame) noexcept { reach_ = frame; }
  /// One row more of one of the lanes, which take turns. \returns  False where all are there.
  bool step(int at);

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
