// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <string>

#include <mnemon/base/json.hpp>
#include <mnemon/report/figure/figure_list.hpp>
/// \file
/// The one object that stands between a study's values and its page. docs/report-data.md describes it.
namespace mnemon {

/// Puts a picture somewhere, and says where it is found from the page.
/// \param name  Of the picture alone, fit for a file.
using PlacePicture = std::function<std::string(const std::string& name, const std::string& jpeg)>;

/// All that the page shows, of form `mnemon-report/1`, but for its protocols, sequences and runs, which are too much to be held.
/// \param results  The study.
/// \param answers  Its answered_questions.
[[nodiscard]] Json report_data(const Results& results, const std::vector<Answered>& answers);

/// Shows the rows of a table one after the other, and returns the table without them.
using VisitRowData = std::function<Json(const std::function<void(const Json& row)>&)>;

/// What the page shows of each protocol, one after the other.
/// \param results  The study.
/// \param use      Is given each without its table by sequence, and that.
void visit_protocol_data(const Results& results,
                         const std::function<void(const Json& protocol, const VisitRowData& rows)>& use);

/// What the page shows of each sequence, one after the other.
/// \param results  The study.
/// \param place    Takes each picture.
/// \param use      Is given each with its place in the study.
/// \throws DataError  where pictures cannot be read.
void visit_sequence_data(const Results& results, const PlacePicture& place,
                         const std::function<void(int sequence, const Json& data)>& use);

/// The same of each run.
/// \throws DataError  where traces or pictures cannot be read.
void visit_run_data(const Results& results, const PlacePicture& place,
                    const std::function<void(const Json& data)>& use);

}  // namespace mnemon
