// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/score/run_score.hpp>
#include <mnemon/sequence/truth.hpp>
/// \file
/// How a tracker is run over a sequence. docs/scores.md says what each protocol is for.
namespace mnemon {

/// Once, from the first truth box to the end.
struct SingleParams {
  bool timed = true;
  static void describe(auto& schema) {
    schema.field(
        "timed", &SingleParams::timed,
        "Whether runs are timed: one at a time on one core. Without, they run on all cores, and there are "
        "no speeds.");
  }
};

/// From several frames on, each time to the end. Source: Wu, Lim and Yang, CVPR 2013.
struct StartsParams {
  int count = 10;
  double min_visible = 0.5;
  static void describe(auto& schema) {
    using P = StartsParams;
    schema.field("count", &P::count, {1, 1000}, "starts", "How many frames it starts from, evenly spread.");
    schema.field("min_visible", &P::min_visible, {0, 1}, "of the target",
                 "How much of the target must be seen on a frame to start from.");
  }
};

/// From twelve boxes that are a little off. Source: Wu, Lim and Yang, CVPR 2013.
struct NudgesParams {
  double shift = 0.1;
  double scale_step = 0.1;
  static void describe(auto& schema) {
    using P = NudgesParams;
    schema.field("shift", &P::shift, {0, 1}, "target sizes",
                 "How far the box is moved, in eight directions.");
    schema.field("scale_step", &P::scale_step, {0, 0.45}, "",
                 "By how much it is scaled: by once and twice this, down and up.");
  }
};

/// Started afresh from truth after each loss. Source: Kristan and others, TPAMI 2016.
struct RestartParams {
  double loss_overlap = kLossOverlap;
  int loss_patience = kLossPatience;
  int restart_gap = 5;
  int restart_settle = kRestartSettle;
  double min_visible = 0.5;
  static void describe(auto& schema) {
    using P = RestartParams;
    schema.field("loss_overlap", &P::loss_overlap, {0, 1}, "", "A present frame with less overlap is off.");
    schema.field("loss_patience", &P::loss_patience, {1, 1000}, "frames",
                 "So many off frames in a row are a loss.");
    schema.field("restart_gap", &P::restart_gap, {1, 1000}, "frames",
                 "From so many frames after a loss on it may be started again.");
    schema.field("restart_settle", &P::restart_settle, {0, 1000}, "frames",
                 "So many frames after a fresh start are not scored.");
    schema.field("min_visible", &P::min_visible, {0, 1}, "of the target",
                 "How much of the target must be seen on a frame to start from.");
  }
};

/// On the frames that a camera would have delivered by the time the tracker is free. Source: Li, Wang and Ramanan,
/// ECCV 2020.
struct LiveParams {
  double rate_hz = 0;
  static void describe(auto& schema) {
    schema.field("rate_hz", &LiveParams::rate_hz, {0, 100000}, "Hz",
                 "Frames a second that the camera delivers; 0: as many as the sequence says.");
  }
};

/// What there is to know of a protocol before it runs.
struct ProtocolEntry {
  std::string name;
  std::string summary;
  Schema schema;  ///< Of its parameters.
};

/// All protocols: `single`, `starts`, `nudges`, `restart`, `live`.
[[nodiscard]] const std::vector<ProtocolEntry>& protocol_entries();

/// Their names, in that order.
[[nodiscard]] std::vector<std::string> protocol_names();

/// Whether a protocol begins several times on a sequence, so that the number of the start is part of a run's name.
[[nodiscard]] bool has_several_starts(std::string_view protocol);

/// A protocol with its parameters, all of them.
struct Protocol {
  std::string name;
  ParamSet params;

  /// Whether its runs are timed, one at a time.
  [[nodiscard]] bool is_timed() const;
  /// How its traces are scored.
  [[nodiscard]] ScoreOptions score_options() const;
};

/// The protocol of that name with all its parameters, the rest at their defaults.
/// \throws CallError  where there is none of that name, or a parameter is not allowed.
[[nodiscard]] Protocol make_protocol(std::string_view name, const ParamSet& set = {});

/// Where a run begins.
struct Start {
  int frame = 0;
  Box box;
  bool operator==(const Start&) const = default;
};

/// The runs that a protocol makes on a sequence with that truth: where each begins. Turned truth gives the upright
/// box around it. Empty where the truth has no frame to start from.
[[nodiscard]] std::vector<Start> starts_of(const Protocol& protocol, const Truth& truth);

}  // namespace mnemon
