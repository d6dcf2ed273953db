// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/run/process/process_tracker.hpp>
#include <mnemon/run/protocol.hpp>
#include <mnemon/sequence/box_list.hpp>
#include <mnemon/track/catalogue.hpp>

namespace mnemon {

/// The parameter by which a tracker with chance in it is seeded, so that it can be run again.
inline constexpr const char* kRandomSeed = "random_seed";

/// What a tracker in another process is called where trackers have names.
inline constexpr const char* kProcessName = "process";

/// A tracker of a plan, one in another process, or the traces of a program from elsewhere.
struct PlannedTracker {
  std::string name;   ///< Of the tracker, as in the catalogue.
  std::string label;  ///< How reports name it; the name where none is given.
  ParamSet set;       ///< Parameters that differ from the defaults.
  int repeats = 1;    ///< How often each run is made, with random_seed counting up.
  std::string sweep;  ///< The label of the entry that it is a variation of; empty for no sweep.
  std::vector<std::string> protocols;       ///< Those of the plan that it is run under; empty for all.
  std::optional<ProcessSpec> process = {};  ///< How it runs in another process; nothing where it does not.
  std::optional<BoxListForm> form =
      {};  ///< How its traces are plain lists of boxes; nothing where they are traces.
  /// Where the traces are that stand in for a tracker: one folder with all repeats, or a folder for each; empty for a tracker.
  std::vector<std::filesystem::path> traces;
};

/// Generated sequences on which one difficulty grows.
struct PlannedStress {
  std::string scene;           ///< Of the renderer's.
  std::string knob;            ///< A parameter of scenes.
  std::vector<double> levels;  ///< Rising values of the knob.
  int random = 10;             ///< How many sequences a level, of random numbers from 1 on.
  std::optional<int> frames;   ///< Of each; left out: as many as the scene has.
};

/// Sequences that tables show together, beside all of them.
struct PlannedSet {
  std::string name;                    ///< As sequences name it.
  std::vector<std::string> sequences;  ///< Names of those of the plan.
};

/// What to run.
struct Plan {
  std::string title;                             ///< Above the report.
  std::vector<std::filesystem::path> sequences;  ///< Folders.
  std::vector<Protocol> protocols;               ///< In the plan's order.
  std::vector<PlannedTracker> trackers;          ///< Likewise.
  std::vector<PlannedStress> stress;             ///< Scenes whose knob is turned.
  std::vector<PlannedSet> sets;                  ///< Of sequences.
  std::optional<double> step_limit_ms;           ///< A run with a longer step fails.
  bool keep_stages = false;  ///< Whether losing runs are made once more for what the trackers saw inside.
  double crops_mb =
      20;  ///< The room that crops and stages take in the study where a third of the runs loses the target.
};

/// Reads a plan; the folders it names are found from its file, `*` and `?` standing for any text and letter. The
/// variations of a sweep follow the entry that they vary.
/// \throws DataError  naming file, line and column: what is not known, out of range, or not there.
/// \param own_program  The program that serves trackers of the catalogue as processes when it is called with `process NAME`;
///                     empty where there is none, so that no tracker can be `isolated`.
[[nodiscard]] Plan read_plan(const std::filesystem::path& file, const Catalogue& catalogue,
                             const std::filesystem::path& own_program = {});

/// The plug-ins that a plan names, found from its file: they are to be in the catalogue before the plan is read.
/// \throws DataError  where the plan is none.
[[nodiscard]] std::vector<std::filesystem::path> plugins_of_plan(const std::filesystem::path& file);

/// Keeps only these protocols of a plan.
/// \throws CallError  where the plan has none of that name.
void limit_protocols(Plan& plan, const std::vector<std::string>& names);

}  // namespace mnemon
