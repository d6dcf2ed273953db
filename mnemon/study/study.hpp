// SPDX-License-Identifier: MIT
#pragma once
#include <compare>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/run/protocol.hpp>
#include <mnemon/score/run_score.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/study/build_facts.hpp>
#include <mnemon/study/database.hpp>
#include <mnemon/study/folder_lock.hpp>
#include <mnemon/study/moments.hpp>
#include <mnemon/study/shard.hpp>

namespace mnemon {

/// The file name of a study in its folder.
inline constexpr const char* kStudyFile = "study.sqlite";

/// The form of the study file that this library reads and writes.
inline constexpr const char* kStudyForm = "mnemon-study/7";

/// A tracker with its full set of parameters, as a study knows it.
struct StudyTracker {
  std::string label;   ///< As tables have it.
  std::string name;    ///< `traces` for what another program did.
  std::string params;  ///< A JSON object with every parameter's value.
  std::string sweep;   ///< The label of the entry whose variation it is; empty for none.

  /// Whether its answers were read from files of another program.
  [[nodiscard]] bool is_from_elsewhere() const { return name == "traces"; }
  /// Whether it runs in another process, so that its times hold the messages too.
  [[nodiscard]] bool is_process() const { return name == "process"; }
  /// The size of its model, as a process tells; 0 where it tells none.
  [[nodiscard]] double model_bytes() const;
  /// Whether its model was made from that sequence, or from a set of that name, as a process tells.
  [[nodiscard]] bool is_trained_on(const std::string& sequence) const;
  /// Whether it shows what sequences give for nothing: it stands below the others, whatever it scores.
  [[nodiscard]] bool is_floor() const { return name == "stay"; }
};

/// A small picture of a sequence's frame, for looking at.
struct StudyPicture {
  int frame = 0;     ///< Its number in the sequence.
  std::string jpeg;  ///< The bytes of the picture.
};

/// Where a generated sequence stands among those on which a difficulty grows.
struct StressPoint {
  std::string scene;  ///< Of the renderer's.
  std::string knob;   ///< Which one was turned.
  double level = 0;   ///< How far.
  int random = 0;     ///< Random number of the scene.
  bool operator==(const StressPoint&) const = default;
};

/// A sequence as a study knows it: all that a report needs.
struct StudySequence {
  std::int64_t row = 0;                    ///< In the file that it was read from.
  std::string name;                        ///< Unique in the study.
  std::string title;                       ///< In a few words; empty for none.
  std::string path;                        ///< Where it was read from.
  std::string fingerprint;                 ///< Of all that it is.
  int frames = 0;                          ///< How many there are.
  FrameSize size;                          ///< Of each frame.
  double rate_hz = 0;                      ///< Frames a second.
  std::vector<std::string> tags;           ///< As given.
  std::vector<std::string> measured_tags;  ///< As they follow from truth.
  std::vector<TagSpan> spans;              ///< What is hard about parts of it.
  Truth truth;                             ///< What is right; Study::truth_of reads it where it is not held.
  std::vector<std::string> sets;       ///< Of the last plan, those that it belongs to, in the plan's order.
  std::vector<StudyPicture> pictures;  ///< To look at.
  std::optional<StressPoint> stress;   ///< Of generated ones.
  std::string failure;  ///< Why it could not be read, so that it holds nothing; not in the file.

  /// Whether it is among the plan's own sequences, which the tables are about.
  [[nodiscard]] bool is_ordinary() const { return !stress.has_value(); }
};

/// One run: a tracker over a sequence under a protocol, from one of its starts.
struct StudyRun {
  std::int64_t row = 0;    ///< In the file that it was read from; 0 for one that was just made.
  int tracker = 0;         ///< Place in Study::trackers.
  int sequence = 0;        ///< Place in Study::sequences.
  int protocol = 0;        ///< Place in Study::protocols.
  int start = 0;           ///< Which of the protocol's starts.
  int repeat = 0;          ///< From 0.
  int build = 0;           ///< Place in Study::builds.
  bool timed = false;      ///< Whether its times count.
  std::string failure;     ///< Why there is no whole trace; empty where there is.
  std::string source;      ///< A fingerprint of the trace's file, where it is from elsewhere.
  Figure highest_rate_hz;  ///< Under `live`: the highest rate at which it still does nearly as well.
  std::vector<RateArea> rate_areas = {};  ///< Under `live`: success area by rising rate.
  Figure told_ms;                         ///< Mean time of a step as a process tells it itself, ms.
  Figure peak_bytes;                      ///< The most memory that a process took.
  Trace trace;                            ///< What the tracker answered.
  std::shared_ptr<const RunScore>
      score;                         ///< Null where the run failed, and where its figures alone are held.
  std::vector<double> figures;       ///< packed_figures of the score that is not held.
  std::vector<TroubleRow> troubles;  ///< Of a run that nobody helps.
  std::vector<StudyCrop> crops;      ///< By rising frame; of the plan's first protocol alone.
  std::vector<StudyStage> stages;    ///< By rising frame, where the plan keeps them.
  bool has_stages = false;  ///< Whether they were to be kept, so that none means that there was no loss.
};

/// What there is to look at of a run.
struct RunMoments {
  std::vector<StudyCrop> crops;    ///< As StudyRun has them.
  std::vector<StudyStage> stages;  ///< Likewise.
};

/// A study's file, for what is too much to be held at once. Any thread may ask.
class StudyFile {
 public:
  /// \throws DataError  where there is no such file, or it is no study.
  explicit StudyFile(const std::filesystem::path& file) : database_(file, Database::Mode::read) {}

  /// What a run's tracker answered. As many as fit into 1 MB are kept once they were read.
  /// \param row  Of the run.
  /// \throws DataError  where it cannot be read, or is there no more.
  [[nodiscard]] Trace trace(std::int64_t row) const;
  /// What is right about a sequence. As many as fit into 1 MB are kept, likewise.
  /// \param row  Of the sequence.
  /// \throws DataError  where it cannot be read.
  [[nodiscard]] Truth truth(std::int64_t row) const;
  /// What there is to look at of it.
  /// \throws DataError  where it cannot be read.
  [[nodiscard]] RunMoments moments(std::int64_t row) const;
  /// The pictures of a sequence.
  /// \param row  Of the sequence.
  /// \throws DataError  where they cannot be read.
  [[nodiscard]] std::vector<StudyPicture> pictures(std::int64_t row) const;
  /// The bytes of all pictures of the plan's sequences and runs together, without reading them.
  /// \throws DataError  where that cannot be told.
  [[nodiscard]] std::size_t picture_bytes() const;

 private:
  mutable std::mutex mutex_;
  mutable Database database_;
  mutable std::map<std::int64_t, Trace> traces_;
  mutable std::size_t trace_bytes_ = 0;
  mutable std::map<std::int64_t, Truth> truths_;
  mutable std::size_t truth_bytes_ = 0;
};

/// What a study says about its last plan.
struct Study {
  std::string title;               ///< Above the report.
  std::vector<BuildFacts> builds;  ///< Those that its runs were made by, on the machines they were made on.
  std::vector<StudyTracker> trackers;          ///< In the plan's order.
  std::vector<StudySequence> sequences;        ///< Likewise.
  std::vector<Protocol> protocols;             ///< Likewise.
  std::vector<StudyRun> runs;                  ///< In any order.
  int missing_runs = 0;                        ///< Planned but not run yet.
  std::shared_ptr<const StudyFile> file = {};  ///< Where traces and pictures are, if they are not held.

  /// What a run's tracker answered: held, or read from the file.
  /// \throws DataError  where it cannot be read.
  [[nodiscard]] Trace trace_of(const StudyRun& run) const { return file ? file->trace(run.row) : run.trace; }
  /// What is right about a sequence, likewise.
  [[nodiscard]] Truth truth_of(const StudySequence& sequence) const {
    return file ? file->truth(sequence.row) : sequence.truth;
  }
  /// The whole score of a run that did not fail: held, or worked out again.
  /// \throws DataError  where its trace cannot be read.
  [[nodiscard]] RunScore score_of(const StudyRun& run) const;
  /// The losses and absences of a run that nobody helps, likewise; none where it failed.
  [[nodiscard]] std::vector<TroubleRow> troubles_of(const StudyRun& run) const;
  /// What there is to look at of a run, likewise.
  [[nodiscard]] RunMoments moments_of(const StudyRun& run) const {
    return file ? file->moments(run.row) : RunMoments{run.crops, run.stages};
  }
  /// The pictures of a sequence, likewise.
  [[nodiscard]] std::vector<StudyPicture> pictures_of(const StudySequence& sequence) const {
    return file ? file->pictures(sequence.row) : sequence.pictures;
  }
  /// The bytes of all pictures together.
  [[nodiscard]] std::size_t picture_bytes() const;
};

/// What is held of each run.
enum class RunParts : std::uint8_t {
  all,      ///< As it is.
  figures,  ///< Its figures. All else stays in the file, and so does truth: Study::trace_of and its like read it.
  none,  ///< None is held: each is shown once.
};

/// Which parts of a study are read, as a large one takes much memory.
struct StudyParts {
  std::vector<std::string> labels = {};  ///< Only runs of these trackers; empty for all.
  /// Whether what is only to be looked at (pictures, crops, stages) is held, where all of a run is.
  bool pictures = true;
  RunParts runs = RunParts::all;  ///< What is held of each run.
};

/// Reads the study in a folder.
/// \throws DataError  where there is none or it is damaged.
[[nodiscard]] Study read_study(const std::filesystem::path& folder, const StudyParts& parts = {});

/// Shows each run of a study once, whole but for what is only to be looked at (pictures, crops, stages), and holds none.
/// \param use  Is given the study without its runs, and the run.
/// \throws DataError  as read_study does; and what `use` throws.
void visit_study(const std::filesystem::path& folder,
                 const std::function<void(const Study&, const StudyRun&)>& use);

/// \throws DataError  where the file says that it is of another form.
void check_study_form(Database& database);

/// Which run, by the numbers that the file gives to what it belongs to.
struct RunKey {
  std::int64_t tracker = 0;   ///< Its row in the study.
  std::int64_t sequence = 0;  ///< Likewise.
  std::int64_t protocol = 0;  ///< Likewise.
  int start = 0;              ///< Which of the protocol's starts.
  int repeat = 0;             ///< From 0.
  // NOLINTNEXTLINE(modernize-use-nullptr): the check means the 0 of the comparison that the compiler makes of it.
  auto operator<=>(const RunKey&) const = default;  ///< By tracker, then sequence and so on.
};

/// A run that a plan asks for, and how it calls its tracker: what a run is does not depend on that.
struct PlannedRun {
  RunKey key;              ///< What run it is.
  std::string label;       ///< Of its tracker.
  std::string sweep = {};  ///< The label of the entry whose variation the tracker is; empty for none.
  int tracker_place = 0;   ///< In the plan: by these shards are put in order.
  int sequence_place = 0;  ///< Of the sequence in the plan.
};

/// A sequence of one of a plan's sets.
struct PlannedMember {
  std::string set;            ///< The set's name.
  std::int64_t sequence = 0;  ///< Its row in the study.
};

/// Writes a study run by run: a run is in the file whole or not at all. Not to be shared by threads.
class StudyWriter {
 public:
  /// Opens the study of a folder, or starts one, and keeps other writers out.
  /// \param folder Of the study; made where it is not there.
  /// \param shard  Left out: the study itself. A shard has a file of its own, which nobody else writes to; it stands on any file
  ///               system, as it needs neither a lock nor memory that processes share.
  /// \throws DataError  where the file is something else; Error  where somebody else is writing to it.
  explicit StudyWriter(const std::filesystem::path& folder, std::optional<Shard> shard = {});
  StudyWriter(const StudyWriter&) = delete;
  StudyWriter& operator=(const StudyWriter&) = delete;
  /// Leaves one file that can be read where nothing may be written.
  ~StudyWriter();

  /// Whether other writers are kept out: not every file system can.
  [[nodiscard]] bool keeps_others_out() const noexcept { return !lock_ || lock_->is_held(); }

  /// For merging, which works on whole tables.
  [[nodiscard]] Database& database() noexcept { return database_; }

  /// Puts in a tracker of that name; `params` is a JSON object with every parameter's value.
  std::int64_t add_tracker(const std::string& name, const std::string& params);
  /// Adds it, unless it is there. \returns  Its row.
  std::int64_t add_protocol(const Protocol& protocol);
  /// Likewise.
  std::int64_t add_sequence(const StudySequence& sequence);
  /// Likewise.
  std::int64_t add_build(const BuildFacts& build);
  /// Whether that very sequence is there.
  [[nodiscard]] bool has_sequence(const std::string& name, const std::string& fingerprint);

  /// Puts in a sequence's true masks, where they are not there yet: only runs with masks have a use for them.
  void put_true_masks(std::int64_t sequence, const std::vector<FrameRuns>& masks);

  /// Sets what stands above the report.
  void set_title(const std::string& title);

  /// Takes note of which plan a shard belongs to: shards of different plans are not to be merged.
  void set_plan(const std::string& fingerprint);

  /// Takes note of who brought a shard's work to its end, whatever failed; empty while it has not come there.
  void set_finished_by(const std::string& who);

  /// Takes note of what is planned now, all or nothing; what earlier plans left stays in the file but out of reports.
  void plan(const std::string& title, const std::vector<PlannedRun>& runs,
            const std::vector<PlannedMember>& sets = {});

  /// Whether the run is there, did not fail, and was made by this build from that source, with stages kept where these
  /// are asked for. A timed run must be of this processor too, another of one that makes the same bits.
  [[nodiscard]] bool has_run(const RunKey& key, const BuildFacts& build, const std::string& source,
                             bool needs_stages = false);

  /// Puts a run in, made by a build that add_build has put in, in place of an earlier one of the same key.
  void put_run(const RunKey& key, const StudyRun& run, std::int64_t build);

 private:
  std::optional<FolderLock> lock_;  // of the study itself
  Database database_;
};

}  // namespace mnemon
