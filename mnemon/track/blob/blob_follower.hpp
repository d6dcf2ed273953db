// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/track/blob/piece_picker.hpp>
#include <mnemon/track/tracker.hpp>
#include <mnemon/vision/box_sums.hpp>
#include <mnemon/vision/ellipse_sums.hpp>

namespace mnemon {

/// How much each cell of a window speaks for the target.
struct BlobEvidence {
  ImageView<const float> weights;  ///< In [0, 1].
  float level = 0.5f;              ///< Weights above it match.
  int left = 0, top = 0;           ///< The first pixel.
  int block = 1;                   ///< Pixels along a cell's side.
};

/// Where such evidence comes from.
class EvidenceSource {
 public:
  EvidenceSource() = default;
  EvidenceSource(const EvidenceSource&) = delete;
  EvidenceSource& operator=(const EvidenceSource&) = delete;
  virtual ~EvidenceSource() = default;

  static constexpr int kMostSide = 192;  ///< Cells of a window along a side.

  /// A window of the frame, cut down to kMostSide cells. It holds until the next call.
  /// `block`: Pixels along a cell's side.
  virtual BlobEvidence look(const Frame& frame, const Box& window, int block) = 0;

  /// Takes what is in the window of the last look into what is known.
  /// \param target  Its cells that are the target.
  /// \param box     The target's box, px; what lies outside it is not the target.
  virtual void learn(const BitMask& target, const Box& box) = 0;

  /// The most promising place of the whole picture for a lost target, of a source that can tell.
  virtual std::optional<Point> search(const Frame& frame, const Box& box, bool first) = 0;
};

/// What the trackers by blobs go by.
struct BlobRules {
  PickRules pick;
  double reach = 0.6;    ///< How far from the forecast the target is looked for, in target sizes,
  double reach_px = 14;  ///< and added to it, px.
  double gate = 1.2;     ///< Size of the box that a piece's middle must lie in, in target sizes.
  double smooth = 0.06;  ///< Width of what weights are averaged over, of the target's shorter side.
  double size_rate = 0.3;
  double most_growth = 1.08;
  double confidence_half = 0.5;
  double confidence_steepness = 5;
  double present_from = 0.3;
  double learn_from = 0.6;
  double refind_from = 0.7;
  bool turned_box = false;
};

/// The round that the trackers by blobs go: weigh a window around the forecast, find the place of the box there, keep
/// what matches, clean it, pick its piece, and read off place and size. With too few matching cells the target is
/// reported as not present, and nothing is learnt. A piece that runs into something like it is cut off at the box.
class BlobFollower {
 public:
  Estimate start(const Frame& frame, const Region& region, const Box& box, const BlobRules& rules,
                 EvidenceSource& source);
  Estimate follow(const Frame& frame);

  /// The inner pictures of the last step: `weights`, `matches` as they were, `piece` as it was picked.
  [[nodiscard]] std::vector<Stage> stages();

 private:
  struct Sighting {
    Box box;
    Ellipse ellipse = {};
    double circle_px = 0;
    double confidence = 0;
    double contrast = 0;
    double area = 0;  // px²
  };
  void weigh(const Frame& frame, Point middle) noexcept;
  void smooth() noexcept;
  [[nodiscard]] Box find_box(Point forecast) noexcept;
  [[nodiscard]] double gain_of(const Box& box) const noexcept;
  [[nodiscard]] Box fitted(const Box& from, double most_growth) const noexcept;
  [[nodiscard]] Box shifted(Box box) const noexcept;
  [[nodiscard]] double contrast_of(const Box& box) const noexcept;
  [[nodiscard]] const Piece* match(const Box& expected) noexcept;
  [[nodiscard]] Sighting look(const Frame& frame, Point forecast);
  [[nodiscard]] Sighting sighting(const Piece& piece, const Box& expected) noexcept;
  void learn(const Sighting& seen);
  [[nodiscard]] Box in_cells(const Box& box) const noexcept;
  [[nodiscard]] Box in_pixels(const Box& box) const noexcept;
  [[nodiscard]] int block_for(const Box& box) const noexcept;
  [[nodiscard]] Estimate estimate(double confidence, bool present);
  void draw_mask(bool present);

  BlobRules rules_;
  EvidenceSource* source_ = nullptr;
  PiecePicker picker_;
  BoxSums sums_;
  EllipseSums ellipses_;
  BlobEvidence evidence_;
  Image<float> smoothed_;
  Image<float> line_;
  BitMask matches_;
  BitMask piece_bits_;
  FrameSize size_;
  Box box_;
  Ellipse ellipse_;
  double circle_px_ = 0;
  Point velocity_;
  double ellipse_over_ = 1;  // the seeded box's shorter side over the piece's shorter axis
  Box over_fit_;             // the seeded box against the one fitted to it, in sizes of that
  double fill_ = 0.5;        // the seed's piece over its box
  double seed_contrast_ = 0;
  double usual_contrast_ = 0;
  double usual_around_ = 0;
  int frames_lost_ = 0;
  Image<Byte> frame_mask_;
  Box drawn_;
  std::vector<Image<float>> pictures_;
};

}  // namespace mnemon
