// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>

#include <mnemon/study/study.hpp>

namespace mnemon {

/// The report page: one HTML file that holds its charts, pictures and scripts, so that it opens anywhere with
/// no network.
[[nodiscard]] std::string page_html(const Study& study);

/// Writes `report/index.html` in a study's folder, and the figures and film strips in `report/figures/`.
/// \returns  The page's file.
/// \throws DataError  where there is no study or writing fails; Error  where the
/// figures
///           cannot be drawn, the page being there already.
std::filesystem::path write_report(const Study& study, const std::filesystem::path& study_folder);

}  // namespace mnemon
