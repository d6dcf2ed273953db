// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <string>

#include <mnemon/base/json.hpp>
#include <mnemon/report/results.hpp>
/// \file
/// The one object that stands between a study's values and its page. docs/report-data.md describes it.
namespace mnemon {

/// Puts a picture somewhere, and says where it is found from the page.
/// \param name  Of the picture alone, fit for a file.
using PlacePicture = std::function<std::string(const std::string& name, const std::string& jpeg)>;

/// All that the page shows, of form `mnemon-report/1`.
[[nodiscard]] Json report_data(const Results& results, const PlacePicture& place);

}  // namespace mnemon
