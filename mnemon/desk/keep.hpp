// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include <mnemon/desk/desk_target.hpp>
#include <mnemon/desk/reel.hpp>
/// \file
/// What can be taken away from the desk: files, and the call of the program that does the same.
namespace mnemon {

/// The call of `mnemon follow` that gives a lane's rows.
/// \param reel      Its frames.
/// \param target    Its marks; one at least has the target.
/// \param lane      Its tracker.
/// \param keep_out  Areas that are never the target, beside the sequence's own.
/// \param trace     The file that the call is to write; empty for none.
[[nodiscard]] std::string follow_command(Reel& reel, const DeskTarget& target, const Lane& lane,
                                         const std::vector<Polygon>& keep_out, const std::string& trace);

/// A target's marks as `marks.csv` has them.
[[nodiscard]] std::vector<Mark> marks_of(const DeskTarget& target);

/// A plan that runs the lanes of a target on a sequence, under names of their own.
/// \param target     What is followed.
/// \param sequences  Paths from the plan's folder.
[[nodiscard]] std::string plan_text(const DeskTarget& target, const std::vector<std::string>& sequences);

/// Writes a film of lanes' rows over the frames.
/// \param file      A video's name.
/// \param reel      Has the frames.
/// \param traces    By label; from the first row of any of them to the last.
/// \param progress  Called with frames done and to do; what it throws ends the work and leaves no file.
/// \throws CallError  where there is no row.
void write_overlay(const std::filesystem::path& file, Reel& reel,
                   const std::vector<std::pair<std::string, Trace>>& traces,
                   const std::function<void(int, int)>& progress);

}  // namespace mnemon
