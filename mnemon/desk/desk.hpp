// SPDX-License-Identifier: MIT
#pragma once
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <filesystem>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <utility>
#include <vector>

#include <mnemon/desk/bell.hpp>
#include <mnemon/desk/desk_job.hpp>
#include <mnemon/desk/desk_target.hpp>
#include <mnemon/desk/reel.hpp>
/// \file
/// What one user does at the desk: marks, trackers, settings, labels and what is kept of them. Nothing here knows of HTTP;
/// docs/desk.md has the messages.
namespace mnemon {

/// What a desk begins with.
struct DeskSetup {
  std::string input;  ///< As open_input takes it, but for standard input; or a folder of sequences.
  std::filesystem::path folder;  ///< What is kept goes there, and nothing anywhere else.
  TrackerSettings first;         ///< The first tracker.
};

/// How far somebody has been told what happened, so that the next news go on from there.
struct NewsCursor {
  int revision = -1;  ///< Of the state that was told; -1 before any.
  std::vector<std::pair<int, std::size_t>> lanes =
      {};           ///< Of each: its generation, and how many rows were told.
  int labels = -1;  ///< Which labels were told.
  int frames = -1;  ///< Small pictures that were there, or frames of a live picture.
};

/// One user's desk. Any thread may call; trackers run on a thread of the desk's own.
class Desk {
 public:
  /// \param catalogue  Must outlive it.
  /// \param setup      What it begins with.
  /// \throws CallError, DataError  where the input cannot be opened.
  Desk(const Catalogue& catalogue, DeskSetup setup);
  Desk(const Desk&) = delete;
  Desk& operator=(const Desk&) = delete;
  ~Desk();

  /// Does what a message says. docs/desk.md lists them.
  /// \returns  What the message asks for; for most an empty object.
  /// \throws CallError  where it cannot be done as it is, and why: nothing has changed then. DataError  where files or frames cannot be
  ///                    read or written.
  Json act(const Json& message);

  /// What has changed since the cursor, which moves on: `state` where anything but rows did, and new rows. Waits for up to so long
  /// until there is something; empty where there is nothing.
  Json news(NewsCursor& cursor, std::chrono::milliseconds patience);

  /// All that there is to know but rows.
  [[nodiscard]] Json state();

  /// A frame as JPEG.
  /// \param frame  Its number.
  /// \param width  How wide at most, px; 0: as it is.
  /// \param half   Half as wide, which is quick: for frames that pass.
  /// \throws CallError  where there is no such frame.
  [[nodiscard]] std::string frame_jpeg(int frame, int width, bool half = false);
  /// A small picture of a frame or one near it; nothing where there is none yet.
  [[nodiscard]] std::optional<std::string> small_jpeg(int frame);
  /// A stage as PNG.
  /// \param moment  `now`, `before`, or `preview`: what a tracker would make of a region that is not marked yet.
  /// \param lane    Which tracker.
  /// \param frame   After which frame.
  /// \param name    Of the stage.
  /// \throws CallError  where there is none.
  [[nodiscard]] std::string stage_png(const std::string& moment, int lane, int frame,
                                      const std::string& name);
  /// The mask of a tracker as PNG, white on black.
  /// \throws CallError  where it has none.
  [[nodiscard]] std::string mask_png(const std::string& moment, int lane, int frame);

  /// Nobody looks any more: the trackers stop where they are.
  void rest();

 private:
  class Entry;

  void open(const std::string& input);
  void run();
  void run_job(std::unique_lock<std::mutex>& lock);
  void report(int done, int total);
  [[nodiscard]] std::shared_ptr<Reel> reel_now();
  void changed();

  [[nodiscard]] DeskTarget& target() { return *targets_[target_]; }
  [[nodiscard]] std::vector<Polygon> areas_kept_out() const;
  [[nodiscard]] PersonMark parsed_mark(const Json& message);
  [[nodiscard]] int frame_of(const Json& message, const char* key = "frame");
  [[nodiscard]] Tracker& tracker_on(const std::string& moment, int lane, int frame);
  Json do_open(const Json& message);
  Json do_target(const Json& message);
  Json do_set(const Json& message);
  Json do_mark(const Json& message);
  Json do_keep_out(const Json& message);
  Json do_preview(const Json& message);
  Json do_go(const Json& message);
  Json do_stages(const Json& message);
  Json do_value(const Json& message);
  Json do_vary(const Json& message);
  Json do_label(const Json& message);
  Json do_accept(const Json& message);
  Json do_keep(const Json& message);
  Json do_trackers(const Json& message);
  void keep_file(const std::string& name, const std::string& text);
  [[nodiscard]] Json state_now(bool with_labels);
  [[nodiscard]] Json lane_json(Lane& lane, int number);
  [[nodiscard]] std::vector<std::pair<int, std::size_t>> lanes_now();
  [[nodiscard]] int frames_now() const;
  [[nodiscard]] bool has_news(const NewsCursor& cursor);
  [[nodiscard]] Json news_since(NewsCursor& cursor);
  [[nodiscard]] Json row_json(const TraceRow& row) const;
  [[nodiscard]] Json rows_json(const Lane& lane, std::size_t from) const;

  const Catalogue& catalogue_;
  DeskSetup setup_;
  std::vector<std::string> choices_;  // sequences to choose among
  std::shared_ptr<Reel> reel_;
  std::mutex reel_mutex_;  // pictures of frames are asked for while trackers work
  std::vector<std::unique_ptr<DeskTarget>> targets_;
  std::size_t target_ = 0;
  std::vector<Polygon> keep_out_;                          // beside the sequence's own
  int at_ = 0;                                             // the frame somebody looks at
  std::chrono::steady_clock::time_point steps_from_ = {};  // before that no rows are worked out
  std::chrono::steady_clock::time_point came_ = {};        // when they came to it
  std::unique_ptr<Session> preview_;
  DeskJob job_;
  std::vector<std::string> kept_;
  int masks_ = 0;  // that were marked
  int revision_ = 0;
  int labels_ = 0;  // changes with what is labelled
  bool is_over_ = false;
  std::atomic<int> waiting_ = 0;  // for the mutex, but for the desk's own thread
  std::condition_variable none_waits_;
  std::mutex mutex_;
  Bell changed_;
  std::thread thread_;
};

}  // namespace mnemon
