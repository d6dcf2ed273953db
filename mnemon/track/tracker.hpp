// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/image/frame.hpp>
#include <mnemon/track/candidates.hpp>
#include <mnemon/track/region.hpp>

namespace mnemon {

/// A tracker's answer for one frame.
struct Estimate {
  OrientedBox box;        ///< Where the target is held to be, px; angle 0 for trackers of upright boxes.
  double confidence = 0;  ///< In [0, 1].
  bool present = true;    ///< Whether the target is held to be in the picture; if not, `box` is a guess.
  /// Which pixels are the target's, 1 for each, as large as the frame; of trackers that have none, empty. It holds
  /// until the tracker's next call, and is filled in by Tracker from `do_mask`.
  ImageView<const Byte> mask = {};
  /// The shorter axis of the target's ellipse, of trackers that measure it: blur by motion leaves it as it is.
  std::optional<double> minor_px = {};
};

/// A named inner picture of a tracker's last step: one channel of numbers, or RGB from 0 to 255.
struct Stage {
  std::string_view name;           ///< The same on every frame.
  ImageView<const float> picture;  ///< Rows x columns, 1 or 3 channels.
  std::optional<OrientedBox> area =
      {};  ///< Where in the frame it lies, px; of what lies nowhere in it, nothing.
};

/// Something that a tracker worked out from its seed. Where it has the name of one of the tracker's parameters,
/// setting that to `value` keeps it.
struct SeedChoice {
  std::string name;       ///< Of the parameter, or of what else was chosen.
  ParamValue value;       ///< What was chosen.
  std::string unit = {};  ///< Of the value; empty where it has none.
};

/// Follows one target: call `seed` with a frame and a region, then `follow` with each later frame; `seed`
/// again starts afresh as if the tracker were new. A lost target is an estimate with `present` false, never
/// an exception. After seeding, `follow` allocates nothing. A tracker serves one thread at a time.
class Tracker {
 public:
  Tracker() = default;
  Tracker& operator=(const Tracker&) = delete;
  virtual ~Tracker() = default;

  /// Does what takes long and goes by the size of frames alone, such as loading a model, so that it is not part of the
  /// time that seeding takes. May be left out.
  /// \throws CallError  where the frame is empty or not RGB; Error  where that work fails.
  void prepare(const Frame& frame);

  /// Whether the tracker learns from frames before the target is marked, such as what the scene is like without it.
  [[nodiscard]] bool watches() const { return do_watches(); }

  /// Shows a tracker that watches a frame from before the target is marked; others take no notice. Seeding uses what was
  /// watched last, if that was of the same size, and a seeding after that starts without.
  /// \throws CallError  where the frame is empty or not RGB.
  void watch(const Frame& frame);

  /// Starts from a frame and a region of it.
  /// \returns  The estimate for that frame.
  /// \param frame   An RGB picture.
  /// \param region  No points: those are to be cut out first, with marked_mask.
  /// \throws CallError  where the frame is empty or not RGB, or the region has no area, lies outside it or is far too large;
  ///                    the tracker is then as it was before. After anything else that is thrown it has no target.
  Estimate seed(const Frame& frame, const Region& region);

  /// The estimate for the next frame.
  /// \throws CallError  where the tracker was not seeded or the frame has another size than the seed frame.
  Estimate follow(const Frame& frame);

  /// A tracker of its own with all this one's state: both answer the same frames alike from here on, bit for bit, and
  /// share nothing that either changes. Its first steps may allocate.
  /// \returns  Null where this kind of tracker cannot be copied, such as one that runs in a process of its own.
  [[nodiscard]] std::unique_ptr<Tracker> clone() const { return do_clone(); }

  /// The inner pictures of the last step, for looking at. They hold until the next call. Stages are worked
  /// out here where following does not need them, so this may allocate.
  [[nodiscard]] std::vector<Stage> stages() { return do_stages(); }

  /// What the last step looked at, and what became of it; of trackers that tell no such thing, nothing. It holds until the next
  /// call.
  [[nodiscard]] std::vector<Candidate> candidates() const { return do_candidates(); }

  /// What was chosen by the seed, where parameters leave that open.
  [[nodiscard]] std::vector<SeedChoice> choices() const { return do_choices(); }

  /// The mask of the last estimate, empty where the tracker has none. It holds until the next call.
  [[nodiscard]] ImageView<const Byte> mask() const noexcept {
    return seed_size_ ? do_mask() : ImageView<const Byte>{};
  }

 protected:
  Tracker(const Tracker&) = default;  // for clones

 private:
  /// \param box  The smallest upright box around `region`, checked.
  virtual Estimate do_seed(const Frame& frame, const Region& region, const Box& box) = 0;
  virtual Estimate do_follow(const Frame& frame) = 0;
  virtual void do_prepare(const Frame& /*frame*/) {}
  [[nodiscard]] virtual bool do_watches() const { return false; }
  virtual void do_watch(const Frame& /*frame*/) {}
  virtual std::vector<Stage> do_stages() { return {}; }
  [[nodiscard]] virtual std::vector<Candidate> do_candidates() const { return {}; }
  [[nodiscard]] virtual std::vector<SeedChoice> do_choices() const { return {}; }
  /// Of the last estimate.
  [[nodiscard]] virtual ImageView<const Byte> do_mask() const noexcept { return {}; }
  [[nodiscard]] virtual std::unique_ptr<Tracker> do_clone() const { return nullptr; }

  std::optional<FrameSize> seed_size_;
};

}  // namespace mnemon
