// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/run/protocol.hpp>

namespace mnemon {

/// From a start to the end, with nobody's help.
[[nodiscard]] Trace follow_unaided(Tracker& tracker, FrameSource& frames, const Start& start,
                                   StepLimit limit = {});

/// What such a run leaves on its ground.
[[nodiscard]] ProtocolRun run_unaided(const ProtocolGround& ground);

/// From the first truth box alone.
[[nodiscard]] std::vector<Start> first_start(const Truth& truth);

/// The options that score a run which nobody helps.
[[nodiscard]] ScoreOptions unaided_scores();

/// Puts the tracker's mask, where it has one, into a trace beside the row.
void keep_mask(const Tracker& tracker, const TraceRow& row, Trace& trace);

/// Where the runs of a protocol begin, with its parameters and a truth.
using StartsOf = std::function<std::vector<Start>(const ParamSet&, const Truth&)>;

/// A protocol that begins several times, nobody helping, so that one tracker's runs on a sequence vary.
[[nodiscard]] ProtocolEntry of_several_runs(std::string name, std::string summary, Schema schema,
                                            StartsOf starts);

}  // namespace mnemon
