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

/// All that the page shows, of form `mnemon-report/1`.
/// \param results  The study.
/// \param answers  Its answered_questions.
/// \param place    Takes each picture.
[[nodiscard]] Json report_data(const Results& results, const std::vector<Answered>& answers,
                               const PlacePicture& place);

}  // namespace mnemon
