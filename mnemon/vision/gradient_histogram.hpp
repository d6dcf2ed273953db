// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// Histograms of gradient directions over cells of 4 x 4 samples, each cell normalised by the four blocks of 2 x 2
/// cells that it lies in: 18 directions, and 4 sums that tell texture from plain ground. Each value lies in [0, 0.4],
/// those of texture in [0, 0.85]. All memory is taken when it is made; a call allocates nothing. Not to be shared by
/// threads. Source: Dalal and Triggs 2005; Felzenszwalb, Girshick, McAllester and Ramanan, TPAMI 2010, section 6. Theirs
/// has 9 directions without sign as well, which are worth nothing to filters, and drops the cells along the border; ours
/// repeats these, so that the cells cover the patch.
class GradientHistogram {
 public:
  static constexpr int kCell = 4;       ///< Samples along a cell's side.
  static constexpr int kChannels = 22;  ///< Numbers a cell.

  GradientHistogram() = default;
  /// \param cell_rows, cell_cols  Cells of a patch; it has 4 times as many samples each way.
  GradientHistogram(int cell_rows, int cell_cols);

  /// \param grey   4 cell_rows x 4 cell_cols samples from 0 to 255.
  /// \param cells  cell_rows x cell_cols, at least 22 channels, of which the first 22 are written.
  void describe_into(ImageView<const float> grey, ImageView<float> cells) noexcept;

 private:
  static constexpr int kBins = 24;  // 18 directions, padded to whole lanes

  void gather(ImageView<const float> grey) noexcept;
  void gather_row(ImageView<const float> grey, int row) noexcept;
  void measure_blocks() noexcept;

  int cell_rows_ = 0;
  int cell_cols_ = 0;
  std::vector<float> magnitude_;  // of one row of samples
  std::vector<int> bin_;          // its directions, as places in a line of bins
  Image<float> line_;             // rows of samples gathered into cells, a cell more at either end
  Image<float> later_;            // the same, the later of four rows more often
  Image<float> bins_;             // cells x kBins, a row of cells more at either end
  Image<float> energy_;           // of cells, a cell more at either end
  Image<float> scale_;            // one over the norm of the block whose first cell is there
};

}  // namespace mnemon
