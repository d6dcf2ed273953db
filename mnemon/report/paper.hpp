// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include <mnemon/report/results.hpp>

namespace mnemon {

/// What a study's tables and figures are to be like in print.
struct PaperForm {
  double width_cm = 0;     ///< Of each figure, from 4 to 40; 0 for figures as wide as a page, with titles.
  bool has_pdf = false;    ///< Figures as PDF, too.
  bool has_latex = false;  ///< Tables as LaTeX (packages booktabs and ulem), beside Markdown and CSV.
  bool has_intervals = false;  ///< Tables show the 95 % interval of each mean over sequences.
};

/// One table in three forms: the best value of a column is bold and the second underlined; floors are not marked.
struct PaperTable {
  std::string name;      ///< Of its files.
  std::string latex;     ///< For LaTeX, with nothing to load.
  std::string markdown;  ///< For Markdown.
  std::string csv;       ///< Of full numbers, with the ends of intervals.
};

/// The tables for print: the trackers over all sequences, and by tag where there are tags.
[[nodiscard]] std::vector<PaperTable> paper_tables(const Results& results, bool has_intervals);

/// Writes `report/paper/` in a study's folder: `tables/` and `figures/`, with the script that draws them again.
/// \returns  That folder.
/// \throws CallError  where the width is out of range; DataError, Error  as write_report does.
std::filesystem::path write_paper(const Study& study, const PaperForm& form,
                                  const std::filesystem::path& study_folder);

/// Text as LaTeX and as Markdown take it for itself.
[[nodiscard]] std::string latex_text(std::string_view text);
[[nodiscard]] std::string markdown_text(std::string_view text);

}  // namespace mnemon
