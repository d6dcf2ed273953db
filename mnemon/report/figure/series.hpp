// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <string>
#include <vector>

#include <mnemon/report/figures.hpp>
#include <mnemon/report/results.hpp>
/// \file
/// What the figures of this folder share.
namespace mnemon {

/// A series without points in a tracker's colour, dashes and name.
[[nodiscard]] FigureSeries series_of(const Results& results, int tracker);

/// Puts a point with its interval at the end of a series; NaN stands for what is not known.
void add_point(double x, const MeanOver& y, FigureSeries& series);

/// A figure or NaN.
[[nodiscard]] double or_gap(const Figure& figure) noexcept;

/// The trackers under a protocol by merit, without floors.
[[nodiscard]] std::vector<int> ranked_trackers(const Results& results, int protocol);

/// The place of the protocol of that name among those of the tables; -1 where there is none.
[[nodiscard]] int protocol_of(const Results& results, std::string_view name);

/// The labels of trackers.
[[nodiscard]] std::vector<std::string> labels_of(const Results& results, const std::vector<int>& trackers);

/// Several figures of each run at once, as working them out means going through its frames: for each of them, in their order, a
/// value a sequence, the mean over a tracker's runs there that did not fail and know it.
/// \param results   Studies with their scores.
/// \param tracker   Its place among the trackers of `results`.
/// \param protocol  Its place among the protocols of `results`.
/// \param parts     How many figures `measure` gives at most; what it leaves out is null.
/// \param measure   Gives the figures of one run on its sequence.
[[nodiscard]] std::vector<std::vector<Figure>> over_sequences(
    const Results& results, int tracker, int protocol, std::size_t parts,
    const std::function<std::vector<Figure>(const StudySequence&, const StudyRun&)>& measure);

}  // namespace mnemon
