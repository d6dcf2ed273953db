// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/media/frame_source.hpp>
#include <mnemon/run/timed_step.hpp>
#include <mnemon/score/run_score.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>
#include <mnemon/track/tracker.hpp>
/// \file
/// How a tracker is run over a sequence. docs/scores.md says what each protocol is for. Each stands in a file of its own
/// in run/protocol, and is known by protocol_entries alone.
namespace mnemon {

/// Where a run begins.
struct Start {
  int frame = 0;    ///< Its number in the sequence.
  OrientedBox box;  ///< Where the target is there, px.

  /// What the tracker is given: the box, with its turn where it has one.
  [[nodiscard]] Region region() const { return region_of(box); }
  bool operator==(const Start&) const = default;
};

/// Makes a fresh tracker.
using MakeTracker = std::function<std::unique_ptr<Tracker>()>;

/// What a run finds on its sequence.
struct ProtocolGround {
  MakeTracker make;      ///< The tracker.
  OpenFrames open;       ///< The frames, from any of them on.
  const Truth& truth;    ///< What is right.
  double rate_hz = 30;   ///< Of the sequence.
  Start start;           ///< Where it begins.
  StepLimit limit = {};  ///< How long a step may take.
};

/// How well a tracker does at a camera's rate.
struct RateArea {
  double rate_hz = 0;   ///< At which frames come.
  Figure success_area;  ///< With the frames in between skipped.
  bool operator==(const RateArea&) const = default;
};

/// What a run leaves behind.
struct ProtocolRun {
  Trace trace;                  ///< What the tracker answered, and what was done to it.
  Figure highest_rate_hz = {};  ///< Under `live`: the highest rate at which it still does nearly as well.
  std::vector<RateArea> rate_areas = {};  ///< Under `live`: by rising rate.
};

/// All there is to know of a protocol.
struct ProtocolEntry {
  std::string name;     ///< As plans have it.
  std::string summary;  ///< One sentence.
  Schema schema;        ///< Of its parameters.
  /// Whether its runs are timed, one at a time.
  std::function<bool(const ParamSet&)> is_timed;
  /// Where its runs begin, given a truth with the target in it somewhere.
  std::function<std::vector<Start>(const ParamSet&, const Truth&)> starts;
  bool has_several_starts = false;  ///< So that the number of the start is part of a run's name.
  /// Makes one run. Throws Error as the tracker and the frames do, where an estimate is not finite, and where a step
  /// takes longer than it may.
  std::function<ProtocolRun(const ParamSet&, const ProtocolGround&)> run;
  /// How its traces are scored.
  std::function<ScoreOptions(const ParamSet&)> score_options;
  std::vector<std::string> columns;  ///< Of its table, by the names of the report's columns.
  std::vector<std::string> figures;  ///< Beyond those that every study has, by the report's names.
};

/// All protocols: `single`, `starts`, `nudges`, `restart`, `live`.
[[nodiscard]] const std::vector<ProtocolEntry>& protocol_entries();

/// Their names, in that order.
[[nodiscard]] std::vector<std::string> protocol_names();

/// A protocol with its parameters, all of them.
struct Protocol {
  std::string name;  ///< As plans have it.
  ParamSet params;   ///< Those that are given; the rest have their defaults.

  /// What there is to know of it.
  [[nodiscard]] const ProtocolEntry& entry() const;
  /// Whether its runs are timed, one at a time.
  [[nodiscard]] bool is_timed() const { return entry().is_timed(params); }
  /// How its traces are scored.
  [[nodiscard]] ScoreOptions score_options() const { return entry().score_options(params); }
};

/// The protocol of that name with all its parameters, the rest at their defaults.
/// \throws CallError  where there is none of that name, or a parameter is not allowed.
[[nodiscard]] Protocol make_protocol(std::string_view name, const ParamSet& set = {});

/// The runs that a protocol makes on a sequence with that truth: where each begins. Turned truth is given as it is, and trackers
/// that take no turn are given the upright box around it. Empty where the truth has no frame to start from.
[[nodiscard]] std::vector<Start> starts_of(const Protocol& protocol, const Truth& truth);

}  // namespace mnemon
