// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <string_view>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/track/shown_frames.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// A tracker that is shown frames at another width, or with areas painted over. Whoever calls it sees frames, regions and answers as
/// they come; stages are as the tracker has them. The time of scaling and painting is part of its steps.
class ShownTracker final : public Tracker {
 public:
  /// \throws CallError  as ShownFrames does.
  ShownTracker(std::unique_ptr<Tracker> tracker, const Showing& showing);

  /// The tracker that is shown them.
  [[nodiscard]] Tracker& behind() noexcept { return *tracker_; }

 private:
  ShownTracker(const ShownTracker& other, std::unique_ptr<Tracker> clone)
      : Tracker(other), tracker_(std::move(clone)), frames_(other.frames_) {}

  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  void do_prepare(const Frame& frame) override { tracker_->prepare(frames_.shown(frame)); }
  [[nodiscard]] bool do_watches() const override { return tracker_->watches(); }
  void do_watch(const Frame& frame) override;
  std::vector<Stage> do_stages() override;
  [[nodiscard]] std::vector<Candidate> do_candidates() const override;
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override { return tracker_->choices(); }
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override { return mask_; }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override;
  [[nodiscard]] Estimate answer(Estimate estimate);

  std::unique_ptr<Tracker> tracker_;
  ShownFrames frames_;
  ImageView<const Byte> mask_;
  bool has_watched_ = false;  // since it was seeded last
};

/// The tracker itself where it is to be shown frames as they come, or else one around it.
/// \throws CallError  as ShownFrames does.
[[nodiscard]] std::unique_ptr<Tracker> shown(std::unique_ptr<Tracker> tracker, const Showing& showing);

/// The tracker itself, behind however many such are around it.
[[nodiscard]] Tracker& behind_showing(Tracker& tracker) noexcept;

/// The parameter that every tracker has, whatever its own are: `width`, as in Showing.
[[nodiscard]] Field width_field();

/// Takes `width` out of a tracker's parameters. \returns  0 where it is not among them.
/// \param owner  What messages call the tracker.
/// \throws CallError  where it is no whole number, or out of range.
[[nodiscard]] int take_width(ParamSet& params, std::string_view owner);

}  // namespace mnemon
