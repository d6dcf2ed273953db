// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/base/json.hpp>
#include <mnemon/run/process/child.hpp>
#include <mnemon/run/process/frame_slots.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

class ProcessLink;

/// Processes that wait to serve another run. Threads may share it.
class ProcessHome {
 public:
  ProcessHome();
  ProcessHome(const ProcessHome&) = delete;
  ProcessHome& operator=(const ProcessHome&) = delete;
  ~ProcessHome();

  /// A process that was begun in this way and waits, or null.
  [[nodiscard]] std::unique_ptr<ProcessLink> take(const std::string& beginning);
  /// Keeps a process for the next run.
  void put(std::unique_ptr<ProcessLink> link);

 private:
  std::mutex mutex_;
  std::vector<std::unique_ptr<ProcessLink>> waiting_;
};

/// What a run's process took.
struct ProcessUse {
  double told_ms = 0;                ///< Sum over the steps that the process told a time of.
  int told_steps = 0;                ///< Steps that it has answered.
  std::optional<double> peak_bytes;  ///< The most memory it took.
};

/// A tracker in another process.
struct ProcessSpec {
  std::vector<std::string> command;        ///< The program and its arguments; nothing goes through a shell.
  std::filesystem::path folder = ".";      ///< Where it runs.
  ParamSet set = {};                       ///< Handed over when it begins.
  double rate_hz = 30;                     ///< Of the frames.
  int random_seed = 1;                     ///< Handed over, for those that draw numbers.
  double step_limit_ms = 60'000;           ///< A longer step is an error, and the end of the process.
  double start_limit_s = 600;              ///< The same for its beginning, in which a model may be loaded.
  ChildLimits limits = {};                 ///< How long it may take, and how much memory.
  std::shared_ptr<ProcessHome> home = {};  ///< Of processes that serve several runs; may be null.
  std::shared_ptr<ProcessUse> use = {};    ///< Filled in as the tracker goes; may be null.
};

/// What a process says of itself when it begins.
struct ProcessFacts {
  std::string version;  ///< As it says of itself; empty where it says none.
  std::vector<std::string>
      trained_on;          ///< Names of the sequences, or of sets of them, that its model was made from.
  double model_bytes = 0;  ///< Size of its model; 0 where it tells none.
  bool keeps = false;      ///< Whether it may be seeded again.
};

/// Starts the process for frames of that size, and says what it is.
/// \throws Error  where it cannot be started, or does not speak as it should.
[[nodiscard]] ProcessFacts facts_of_process(const ProcessSpec& spec, FrameSize size);

/// A fingerprint of what a command runs: its words, and the contents of the files that they name.
[[nodiscard]] std::string fingerprint_of_command(const std::vector<std::string>& command,
                                                 const std::filesystem::path& folder);

/// A tracker in another process, spoken to as docs/process.md says: JSON-RPC, a message a line, on its standard input
/// and output, and frames in shared memory. Whatever it does wrong is an Error with the end of its log, and ends the
/// process. It cannot be cloned.
class ProcessTracker final : public Tracker {
 public:
  /// Starts no process before it is seeded.
  explicit ProcessTracker(ProcessSpec spec);
  ~ProcessTracker() override;

 private:
  void do_prepare(const Frame& frame) override;
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  [[nodiscard]] Estimate ask(const char* method, const Json& params, double limit_ms);
  [[nodiscard]] Estimate taken(const Json& answer);
  void let_go();
  std::vector<Stage> do_stages() override;
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override;

  ProcessSpec spec_;
  std::unique_ptr<ProcessLink> link_;
  bool is_seeded_ = false;
  bool has_mask_ = false;
  Image<Byte> mask_;
  std::vector<std::string> names_;
  std::vector<Image<float>> pictures_;
};

}  // namespace mnemon
